package check

import (
	"strings"
	"testing"
	"time"

	"mendry/internal/core/page"
	"mendry/internal/core/style"
)

// words knows some words and what is meant by one slip.
type words struct{ known string }

func (w words) Right(s string) bool { return strings.Contains(" "+w.known+" ", " "+s+" ") }

func (w words) Suggest(s string) []string {
	if s == "Seperate" {
		return []string{"Separate"}
	}
	return nil
}

// brought runs the rules on a page of which one part was changed.
func brought(t *testing.T, before, after string) map[string][]Finding {
	t.Helper()
	parse := func(body string) *page.Page {
		p, err := page.Parse([]byte("<!doctype html><html lang=en><head><title>t</title></head><body>"+body+"</body></html>"), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	b, a := parse(before), parse(after)
	var changed []*page.Part
	old := map[string]bool{}
	for _, p := range b.All {
		old[p.HTML] = true
	}
	for _, p := range a.All {
		if p.Kind.HasWords() && !old[p.HTML] {
			changed = append(changed, p)
		}
	}
	sheet := &style.Sheet{}
	sheet.Read([]byte("p { color: #333 } .pale { color: #bbb } .low { color: #888 }"))
	got := map[string][]Finding{}
	for _, f := range Run(&Subject{
		Before: b, After: a, Changed: changed, Address: "/fares.html", Site: site{}, Public: "http://ferry.example", On: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC),
		Spelling: words{"Call us Write to The single is now Tides tickets See Adult Child"}, Styles: sheet,
	}) {
		got[f.Rule] = append(got[f.Rule], f)
	}
	return got
}

func TestWhatAChangeBringsIsLookedAt(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ rule, before, after, want string }{
		{"spelling", "<p>Call us</p>", "<p>Seperate tickets</p>", "look Seperate"},
		{"spelling", "<p>Call us</p>", "<p>Call tickets</p>", "fine "},
		{"spelling", "<p>Call Zzyzx</p><p>x</p>", "<p>Call Zzyzx</p><p>Write to Zzyzx</p>", "fine "}, // it stood there before
		{"values-agree", "<p>Call 0191 496 0123</p><p>x</p>", "<p>Call 0191 496 0123</p><p>Call us: +44 191 496 0128</p>", "look +44 191 496 0128"},
		{"values-agree", "<p>Call 0191 496 0123</p><p>x</p>", "<p>Call 0191 496 0123</p><p>Call us: +44 191 496 0123</p>", ""},
		{"values-agree", "<p>Call 0191 496 0123</p><p>x</p>", "<p>Call 0191 496 0123</p><p>Call us: 0131 577 8899</p>", "fine "},
		{"values-agree", "<p>Adult £6.90</p><p>x</p>", "<p>Adult £6.90</p><p>Child €3.45</p>", "look €3.45"},
		{"values-agree", "<p>Adult £6.90</p><p>x</p>", "<p>Adult £6.90</p><p>Child £3.45</p>", "fine "},
		{"contrast", "<p>Call us</p>", "<p class=pale>Call us</p>", "look Call us"},
		{"contrast", "<p>Call us</p>", "<p>Call</p>", "fine "},
		{"contrast", "<p class=pale>See</p><p>Call us</p>", "<p class=pale>See</p><p class=pale>Call us</p>", "fine "}, // the page has it so
		{"contrast", "<h2>Call us</h2>", "<h2 class=low>Call us</h2>", "fine "},                                        // large
		{"contrast", "<p>Call us</p>", "<p class=low>Call us</p>", "look Call us"},
		{"link-out", "<p>Tides</p>", `<p>See <a href="http://tide.example/">Tides</a></p>`, "look Tides"},
		{"link-out", "<p>Tides</p>", `<p>See <a href="https://tide.example/">Tides</a></p>`, "look Tides"},
		{"link-out", "<p>Tides</p>", `<p>See <a href="https://tide.example/" target="_blank">Tides</a></p>`, ""},
		{"link-out", "<p>Tides</p>", `<p>See <a href="/tides.html">Tides</a></p>`, ""},
		{"link-out", `<p>See <a href="https://tide.example/">Tides</a></p>`, `<p>See now <a href="https://tide.example/">Tides</a></p>`, ""},
	} {
		got := ""
		if fs := brought(t, c.before, c.after)[c.rule]; len(fs) > 0 {
			got = string(fs[0].Level) + " " + fs[0].Words
		}
		if got != c.want {
			t.Errorf("%s: %s becomes %s: %q, want %q", c.rule, c.before, c.after, got, c.want)
		}
	}
}

func TestWhatCanBeMendedIsOfferedWhole(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ rule, after, mend string }{
		{"spelling", "<p>Call us. Seperate tickets</p>", "Call us. Separate tickets"},
		{"signs-whole", "<p>The cafÃ© is â€œopenâ€\u009d</p>", "The café is “open”"},
		{"slips", "<p>See the the fares</p>", "See the fares"},
	} {
		fs := brought(t, "<p>x</p>", c.after)[c.rule]
		if len(fs) == 0 || fs[0].Mend != c.mend {
			t.Errorf("%s: %+v", c.rule, fs)
		}
	}
}
