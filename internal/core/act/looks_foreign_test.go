package act_test

import (
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// dresser has the looks of a template by its own style sheets.
type dresser struct {
	studio
	sheet *style.Sheet
}

func (d dresser) Looks(p *page.Page, part *page.Part) ([]style.Choice, error) {
	var worn style.Worn
	for _, q := range p.All {
		switch {
		case q == part || q.Run != nil:
		case q.Kind == part.Kind && q.Node.Tag() == part.Node.Tag():
			worn.Add(q.Node.HTML)
		default:
			worn.AddOther(q.Node.HTML)
		}
	}
	return d.sheet.Choices(part.Node.HTML, worn, part.Kind.HasWords() && part.Kind != page.Button), nil
}

// sheetOf reads the style sheets that lie beside a template, and those in it.
func sheetOf(t *testing.T, file string, p *page.Page) *style.Sheet {
	s := &style.Sheet{}
	for _, n := range p.Doc.Nodes {
		switch href := p.Doc.Value(n, "href"); {
		case n.Is("style") && n.HTML.FirstChild != nil:
			s.Read([]byte(n.HTML.FirstChild.Data))
		case p.IsSheet(n) && !strings.Contains(href, "//"):
			if b, err := os.ReadFile(filepath.Join(filepath.Dir(file), filepath.FromSlash(href))); err == nil {
				s.Read(b)
			}
		}
	}
	return s
}

// Every look that a site has for a section, a heading or a button of pages that nobody here wrote is put on: only the
// start tag differs, the element is then what the choice says (as cascadia matches it), and it is undone to the very
// bytes.
func TestLooksOfPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	const mostOfAPart, mostParts = 4, 8 // of a template; a look at them by eye takes all
	names, files := foreign.Templates(t)
	tried, refused, parts, dressed := 0, 0, 0, 0
	aspects := map[style.Aspect]int{}
	for i, name := range names {
		if !tries.Some(i, 4) {
			continue
		}
		p, d := template(t, files[name])
		rest := dresser{sheet: sheetOf(t, files[name], p)}
		of := 0
		for _, part := range p.All {
			if part.Kind != page.Section && part.Kind != page.Heading && part.Kind != page.Button || !act.Dressed(p, part) || of == mostParts {
				continue
			}
			of++
			parts++
			choices, _ := rest.Looks(p, part)
			if len(choices) > 0 {
				dressed++
			}
			if os.Getenv("MENDRY_SHOW") != "" && len(choices) > 0 {
				var says []string
				for _, c := range choices {
					says = append(says, fmt.Sprintf("%s:%s%s", c.Aspect, c.Value, map[bool]string{true: "*"}[c.On]))
				}
				t.Logf("%s: %s %q <%s class=%q>: %s", name, part.Kind, part.Name, part.Node.Tag(), part.Attributes.Get("class"), page.Short(strings.Join(says, " "), 900))
			}
			for _, c := range choices[:min(len(choices), mostOfAPart)] {
				tried++
				aspects[c.Aspect]++
				say := fmt.Sprintf("%s: %s %q: %s", name, part.Kind, part.Name, c.Key())
				done, err := act.Do(d, &act.Look{Part: part.ID, Choice: c.Key(), Off: c.On}, rest)
				if err != nil {
					refused++
					if no := refusal.Of(err); no == nil || no.Say == "" {
						t.Errorf("%s: %v", say, err)
					}
					continue
				}
				now := done.Draft.Page()
				old, b := string(p.Doc.Bytes), string(now.Doc.Bytes)
				if !strings.HasPrefix(b, old[:part.Start+1]) || !strings.HasSuffix(b, old[part.InnerStart:]) {
					t.Errorf("%s: bytes outside changed", say)
				}
				i := slices.IndexFunc(now.Doc.Nodes, func(n *source.Node) bool { return n.Start() == part.Start && n.Is(part.Node.Tag()) })
				if i < 0 || carries(now.Doc.Nodes[i].HTML, c) == c.On {
					t.Errorf("%s: it does not look so now: %q", say, b[part.Start:min(part.Start+200, len(b))])
				}
				if back, err := done.Draft.Without(done.Effects[0].Change.ID); err != nil || string(back.Page().Doc.Bytes) != old {
					t.Errorf("%s: not undone: %v", say, err)
				}
			}
		}
	}
	t.Logf("%d templates, %d parts, %d of them with looks; %d put on or off, %d refused: %v", len(names), parts, dressed, tried, refused, aspects)
	if 100*refused >= 3*tried {
		t.Error("3 % or more refused")
	}
}

func carries(n *html.Node, c style.Choice) bool {
	for _, a := range n.Attr {
		switch {
		case a.Key == "class" && c.By == style.ByClass && slices.Contains(strings.Fields(a.Val), c.Value),
			a.Key == c.Name && c.By == style.ByAttribute && a.Val == c.Value,
			a.Key == "style" && c.By == style.ByStyle && strings.Contains(a.Val, c.Name+":"+c.Value):
			return true
		}
	}
	return false
}

// What acts did to pages that nobody here wrote is brought back from the version before: the whole page to the very
// bytes, and row by row, each of which is undone to the very bytes.
func TestVersionsOfPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	names, files := foreign.Templates(t)
	tried, nearer, whole := 0, 0, 0
	refused := map[string]int{}
	for i, name := range names {
		if !tries.Some(i, 5) {
			continue
		}
		p, d := template(t, files[name])
		changed := 0
		for _, a := range layoutActs(name, p) { // three of them, and two headings said otherwise
			if changed == 3 {
				break
			}
			if a.do == "add" || a.part.Kind != page.Section && changed == 0 {
				continue
			}
			if done, err := act.Do(d, a.act, nil); err == nil && len(done.Effects) > 0 {
				d, changed = done.Draft, changed+1
			}
		}
		for _, part := range d.Page().OfKind(page.Heading)[:min(2, len(d.Page().OfKind(page.Heading)))] {
			if done, err := act.Do(d, &act.Words{Part: part.ID, Words: part.Text + " anew"}, nil); err == nil {
				d = done.Draft
			}
		}
		now := d.Page()
		fresh, err := thread.Of(now, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		if ops, err := change.Restore(now, p); err != nil {
			t.Errorf("%s: %v", name, err)
		} else if r, err := change.Apply(now, ops); err != nil || string(r.Bytes) != string(p.Doc.Bytes) {
			t.Errorf("%s: the whole page is not what it was: %v", name, err)
		} else {
			whole++
		}
		rows := change.Compare(p, now).Changes
		for _, row := range rows[:min(len(rows), 12)] {
			tried++
			done, err := act.Do(fresh, &act.Restore{Row: act.RowKey(row)}, then{studio{}, p})
			if err != nil {
				no := refusal.Of(err)
				if no == nil || no.Say == "" {
					t.Errorf("%s: %s: %v", name, act.RowKey(row), err)
					continue
				}
				refused[generally(no.Say)]++
				continue
			}
			if len(change.Compare(p, done.Draft.Page()).Changes) < len(rows) {
				nearer++
			} else if os.Getenv("MENDRY_SHOW") != "" {
				t.Logf("%s: %s: no row less", name, act.RowKey(row))
			}
			if back, err := done.Draft.Without(done.Effects[0].Change.ID); err != nil || string(back.Page().Doc.Bytes) != string(now.Doc.Bytes) {
				t.Errorf("%s: %s: not undone: %v", name, act.RowKey(row), err)
			}
		}
	}
	no := 0
	for _, why := range slices.Sorted(maps.Keys(refused)) {
		no += refused[why]
		t.Logf("refused %4d: %s", refused[why], why)
	}
	t.Logf("%d templates: %d whole pages brought back; %d rows, %d refused, after %d there is a row less", len(names), whole, tried, no, nearer)
}

// then knows one version of a page.
type then struct {
	studio
	p *page.Page
}

func (v then) Version(int64) (*page.Page, string, error) { return v.p, "then", nil }
