package act_test

import (
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Whatever a film comes from, its markup makes a browser fetch nothing but the cover of the site before a visitor
// asks: no element of it has an address that HTML fetches by itself (the table of "fetch" in HTML, 4.8, from memory),
// and the frame holds its document itself.
func TestAFilmLoadsNothingUnasked(t *testing.T) {
	cover := act.Pick{Attachment: 7}
	for name, tt := range map[string]struct {
		a    act.PutVideo
		want []string
		not  []string
	}{
		"one's own, with captions": {
			act.PutVideo{Attachment: 8, Captions: 9, Cover: cover, Title: "The <open> roof"},
			[]string{
				`<video controls preload="none" title="The &lt;open&gt; roof" poster="/img/new-16x9.png" width="1200" height="1200"`,
				`<source src="/files/open.mp4" type="video/mp4">`,
				`<track kind="captions" src="/files/open.vtt" srclang="en" label="EN" default>`, `<figcaption>The &lt;open&gt; roof</figcaption>`,
			}, []string{"autoplay", "<iframe"},
		},
		"a sound": {
			act.PutVideo{Attachment: 10, Title: "The talk"},
			[]string{`<audio controls preload="none" title="The talk" style="width:100%"><source src="/files/talk.mp3" type="audio/mpeg">`},
			[]string{"poster"},
		},
		"a sound of another site": {
			act.PutVideo{Address: "https://films.example/talk.mp3", Title: "The talk"},
			[]string{`<audio controls preload="none"`, `<source src="https://films.example/talk.mp3"`}, []string{"<iframe"},
		},
		"a player": {
			act.PutVideo{Address: "https://films.example/watch/1", Cover: cover, Title: `"A" film`},
			[]string{`<iframe srcdoc="`, `title="&#34;A&#34; film"`, "aspect-ratio:640/360", `loading="lazy"`}, []string{`<iframe src=`, "<script"},
		},
		"a page": {
			act.PutVideo{Address: "https://films.example/page", Cover: cover, Title: "A film"},
			[]string{`<a href="https://films.example/page" target="_blank" rel="noopener"><img src="/img/new-16x9.png" alt="▶ A film"`},
			[]string{"<iframe", "<video"},
		},
	} {
		d := draft(t, fares)
		tt.a.Part, tt.a.Where = id(t, d, "A single is £6.90."), change.After
		done, err := act.Do(d, &tt.a, studio{})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		got := string(done.Draft.Page().Doc.Bytes)
		for _, w := range tt.want {
			if !strings.Contains(got, w) {
				t.Errorf("%s lacks %s: %s", name, w, got)
			}
		}
		for _, w := range tt.not {
			if strings.Contains(got, w) {
				t.Errorf("%s has %s: %s", name, w, got)
			}
		}
		for _, p := range done.Draft.Page().All {
			if p.Kind == page.Embed {
				if _, err := html.Parse(strings.NewReader(p.Attributes.Get("srcdoc"))); err != nil ||
					p.Attributes.Get("src") != "" {
					t.Errorf("%s: %s", name, p.HTML)
				}
			}
		}
		// Made otherwise it takes its own place, and taken out nothing is left.
		tt.a.Part, tt.a.Where, tt.a.Title = done.Made, "", "Another title"
		again, err := act.Do(done.Draft, &tt.a, studio{})
		if err != nil || len(again.Draft.Kept) != 1 ||
			!strings.Contains(string(again.Draft.Page().Doc.Bytes), "Another title") {
			t.Errorf("%s again: %v", name, err)
			continue
		}
		out, err := act.Do(again.Draft, &act.Remove{Part: again.Made}, studio{})
		if err != nil || string(out.Draft.Page().Doc.Bytes) != fares {
			t.Errorf("%s taken out: %v", name, err)
		}
	}
}

func TestAFilmIsRefusedInWords(t *testing.T) {
	cover := act.Pick{Attachment: 7}
	for want, a := range map[string]act.PutVideo{
		"Choose a cover":          {Attachment: 8, Title: "A film"},
		"Say what it shows":       {Attachment: 8, Cover: cover},
		"No film and no sound":    {Title: "A film", Cover: cover},
		"not both":                {Attachment: 8, Address: "https://films.example/", Title: "A film", Cover: cover},
		"neither a film nor":      {Attachment: 1, Title: "A film", Cover: cover},
		"holds no captions":       {Attachment: 8, Captions: 1, Title: "A film", Cover: cover},
		"no address of another":   {Address: "javascript:alert(1)", Title: "A film", Cover: cover},
		"is no address of anothe": {Address: "/films/a.mp4", Title: "A film", Cover: cover},
	} {
		d := draft(t, fares)
		a.Part, a.Where = id(t, d, "A single is £6.90."), change.After
		if _, err := act.Do(d, &a, studio{}); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
}
