package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

const lists = `<html><head><title>Fares</title></head><body>
<h1>Fares</h1>
<p>See <a class="paper" href="/files/fares.pdf">all fares (PDF, 84 kB)</a> or <a href="/crew.html">ask</a>.</p>
<ul><li><a href="/files/map.pdf">Map – PDF, 12 kB</a></li><li><a href="/files/rules.pdf"><b>Rules</b></a></li></ul>
</body></html>`

func linkSaying(t *testing.T, p *page.Page, words string) string {
	t.Helper()
	for _, q := range p.All {
		if q.IsLink() && strings.Contains(q.Text, words) {
			return q.ID
		}
	}
	t.Fatalf("no link says %q", words)
	return ""
}

func TestDownload(t *testing.T) {
	for name, tt := range map[string]struct {
		on    string
		a     act.Download
		was   string
		now   string
		files bool
	}{
		"the address stays, the weight is made right": {
			"all fares", act.Download{Keep: true}, "all fares (PDF, 84 kB)", "all fares (PDF, 96 kB)", true,
		},
		"words that tell nothing stay": {"Rules", act.Download{Keep: true}, "", "", true},
		"it leads to a new file": {
			"Map", act.Download{}, `"/files/map.pdf">Map – PDF, 12 kB`, `"/files/new.pdf">Map – PDF, 96 kB`, true,
		},
		"a new line below a link among words": {
			"all fares", act.Download{Where: change.After, Words: "The <rules>"}, "(PDF, 84 kB)</a>",
			`(PDF, 84 kB)</a><br><a href="/files/new.pdf" class="paper">The &lt;rules&gt; (PDF, 96 kB)</a>`, true,
		},
		"a new item below an item": {
			"Map", act.Download{Where: change.After, Words: "Rules"}, "12 kB</a></li>",
			`12 kB</a></li><li><a href="/files/new.pdf" class="paper">Rules (PDF, 96 kB)</a></li>`, true,
		},
	} {
		d := draft(t, lists)
		tt.a.Part, tt.a.Attachment = linkSaying(t, d.Page(), tt.on), 1
		done, err := act.Do(d, &tt.a, studio{})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if got, want := string(done.Draft.Page().Doc.Bytes), strings.Replace(lists, tt.was, tt.now, 1); got != want {
			t.Errorf("%s: %s", name, got)
		}
		if c := done.Effects[0].Change; c.Kind != act.OfFile || len(c.Files) != 1 ||
			(c.Files[0].WasHash != "") != tt.a.Keep {
			t.Errorf("%s: %+v", name, c)
		}
	}
}

// Another file for the same link takes the place of the one before; where the link leads is another change then.
func TestADownloadIsNotLostUnderATarget(t *testing.T) {
	d := draft(t, lists)
	on := linkSaying(t, d.Page(), "Rules")
	for _, a := range []act.Act{
		&act.Download{Part: on, Attachment: 1, Keep: true}, &act.Download{Part: on, Attachment: 2, Keep: true},
		&act.Attribute{Part: on, Name: "href", Words: "/crew.html"},
	} {
		done, err := act.Do(d, a, studio{})
		if err != nil {
			t.Fatal(err)
		}
		d = done.Draft
	}
	if len(d.Kept) != 2 || !strings.Contains(string(d.Page().Doc.Bytes), `<a href="/crew.html"><b>Rules</b></a>`) {
		t.Errorf("%d changes: %s", len(d.Kept), d.Page().Doc.Bytes)
	}
}
