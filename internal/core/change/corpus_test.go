package change_test

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"sort"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
	"mendry/internal/foreign"
)

// tally counts what became of the headings and paragraphs of a source.
type tally struct {
	pages, unread, texts, changed int
	refused                       map[string]int
}

func (a *tally) refuse(reason string, n int) {
	if a.refused == nil {
		a.refused = map[string]int{}
	}
	a.refused[reason] += n
}

// Every heading and every paragraph of every page, or the runs of text in it, is changed; the bytes outside and the
// tree outside have to stay, and undoing has to give back the very bytes. What is refused has to say why.
func TestEveryHeadingAndParagraphOfPagesNobodyHereWrote(t *testing.T) {
	all := &tally{}
	var names []string
	sources := foreign.Pages(t)
	for name := range sources {
		names = append(names, name)
	}
	sort.Strings(names)
	for _, name := range names {
		one := &tally{}
		for _, f := range sources[name] {
			b, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			tryPage(t, f, b, one)
		}
		t.Logf("%-32s %4d pages, %6d headings and paragraphs, %6.2f %% can be changed", name, one.pages, one.texts, 100*float64(one.changed)/float64(max(one.texts, 1)))
		for reason, n := range one.refused {
			t.Logf("%40d: %s", n, reason)
			if reason == "" {
				t.Errorf("%s: refused without a reason", name)
			}
		}
		all.pages, all.texts, all.changed, all.unread = all.pages+one.pages, all.texts+one.texts, all.changed+one.changed, all.unread+one.unread
	}
	t.Logf("all: %d pages from %d sources (%d not readable), %d headings and paragraphs, %.3f %% can be changed", all.pages, len(names), all.unread, all.texts, 100*float64(all.changed)/float64(all.texts))
	if 100*all.changed < 99*all.texts {
		t.Errorf("%d of %d can be changed, wanted 99 %%", all.changed, all.texts)
	}
}

const trials = 5 // parts of a page that are changed alone; all of them are changed together as well

func tryPage(t *testing.T, file string, b []byte, a *tally) {
	t.Helper()
	a.pages++
	p, err := page.Parse(b, "")
	if err != nil {
		var r *refusal.Refusal
		if !errors.As(err, &r) || r.Say == "" {
			t.Errorf("%s: %v", file, err)
		}
		a.unread++
		return
	}
	texts := textsOf(p)
	a.texts += len(texts)
	var ops []change.Op
	var parts []*page.Part
	seen := map[*page.Part]bool{}
	reasons := make([]string, len(texts)) // why a text cannot be changed; empty where it can
	for i, covers := range texts {
		if len(covers) == 0 {
			reasons[i] = "no part"
		}
		for _, part := range covers {
			if part.Locked != "" {
				reasons[i] = part.Locked
				continue
			}
			if seen[part] {
				continue
			}
			seen[part] = true
			markup, err := change.Retext(p, part, "Changed · "+part.Text+" & more")
			if err != nil {
				reasons[i] = err.Error()
				continue
			}
			ops, parts = append(ops, change.Op{Op: change.SetWords, Part: part.ID, HTML: markup}), append(parts, part)
		}
	}
	bad := map[*page.Part]string{}
	r, err := change.Apply(p, ops)
	if err != nil { // one of them cannot be changed: find out which
		for i, op := range ops {
			if _, err := change.Apply(p, []change.Op{op}); err != nil {
				bad[parts[i]] = err.Error()
			}
		}
	} else {
		check(t, file, p, parts, r)
	}
	step := max(len(ops)/trials, 1)
	for i := 0; i < len(ops); i += step {
		if bad[parts[i]] != "" {
			continue
		}
		r, err := change.Apply(p, ops[i:i+1])
		if err != nil {
			bad[parts[i]] = err.Error()
			continue
		}
		check(t, file, p, parts[i:i+1], r)
	}
	for i, covers := range texts {
		for _, part := range covers {
			if bad[part] != "" {
				reasons[i] = bad[part]
			}
		}
		if reasons[i] == "" {
			a.changed++
		} else {
			a.refuse(reasons[i], 1)
		}
	}
}

// textsOf finds, for each heading and paragraph with something to read, the parts by which all of it can be changed.
// It goes by the library's tree alone.
func textsOf(p *page.Page) (all [][]*page.Part) {
	owner := map[*source.Node]*page.Part{}
	for _, part := range p.All {
		if !part.Kind.HasWords() || part.Kind == page.Cell && part.Locked != "" {
			continue
		}
		for _, n := range part.Nodes() {
			n.Walk(func(k *source.Node) bool {
				if k.IsText() && owner[k] == nil {
					owner[k] = part
				}
				return true
			})
		}
	}
	for _, n := range p.Doc.Nodes {
		if !n.Is("h1", "h2", "h3", "h4", "h5", "h6", "p") || n.HTML.Namespace != "" {
			continue
		}
		var covers []*page.Part
		whole, any := true, false
		n.Walk(func(k *source.Node) bool {
			if k.Is("script", "style", "template", "noscript", "svg", "math", "select", "iframe", "textarea") {
				return false
			}
			if k.IsText() && strings.TrimSpace(k.HTML.Data) != "" {
				any = true
				if o := owner[k]; o == nil {
					whole = false
				} else if len(covers) == 0 || covers[len(covers)-1] != o {
					covers = append(covers, o)
				}
			}
			return true
		})
		if !any {
			continue
		}
		if !whole {
			covers = nil
		}
		all = append(all, covers)
	}
	return all
}

// check holds an applied change against the bytes and, with the library alone, against the trees.
func check(t *testing.T, file string, p *page.Page, parts []*page.Part, r *change.Result) {
	t.Helper()
	old, now := p.Doc.Bytes, r.Bytes
	// Bytes: what lies between the parts stands in the new page unchanged and in order.
	at := 0
	spans := make([]source.Span, len(parts))
	for i, part := range parts {
		spans[i] = source.Span{Start: part.InnerStart, End: part.InnerEnd}
	}
	sort.Slice(spans, func(i, j int) bool { return spans[i].Start < spans[j].Start })
	rest := now
	for _, s := range append(spans, source.Span{Start: len(old), End: len(old)}) {
		if s.Start < at {
			continue
		}
		i := bytes.Index(rest, old[at:s.Start])
		if i < 0 || at == 0 && i != 0 || s.Start == len(old) && !bytes.HasSuffix(rest, old[at:]) {
			t.Errorf("%s: bytes %d to %d are not as they were", file, at, s.Start)
			return
		}
		rest = rest[i+s.Start-at:]
		at = s.End
	}
	// Trees: both less the parts' content are the same.
	if len(parts) == 1 {
		a, errA := html.Parse(bytes.NewReader(old))
		b, errB := html.Parse(bytes.NewReader(now))
		if errA != nil || errB != nil {
			t.Errorf("%s: %v %v", file, errA, errB)
			return
		}
		if x, y := without(a, parts[0]), without(b, parts[0]); x != y {
			t.Errorf("%s: the tree outside %s %q differs", file, parts[0].ID, parts[0].Name)
		}
	}
	back, err := change.Apply(r.Page, r.Undo)
	if err != nil || !bytes.Equal(back.Bytes, old) {
		t.Errorf("%s: not undone: %v", file, err)
	}
}

// without writes a tree less what stands in a part, which is found by counting elements in document order; the text
// of a run of words is left out with its parent's other text.
func without(tree *html.Node, part *page.Part) string {
	var b strings.Builder
	i := -1
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		i++
		if n.Type == html.ElementNode {
			fmt.Fprintf(&b, "<%s %v>", n.Data, n.Attr)
		} else {
			b.WriteString(n.Data)
		}
		if i == int(part.Node.Index) {
			if part.Run != nil {
				for c := n.FirstChild; c != nil; c = c.NextSibling {
					if c.Type == html.ElementNode && c.FirstChild != nil && c.FirstChild.Type == html.ElementNode {
						fmt.Fprintf(&b, "<%s>", c.Data)
					}
				}
			}
			i = 1 << 30 // what follows has other numbers: the part's content may have grown
			b.WriteString("…")
		} else {
			for c := n.FirstChild; c != nil; c = c.NextSibling {
				walk(c)
			}
		}
		if n.Type == html.ElementNode {
			fmt.Fprintf(&b, "</%s>", n.Data)
		}
	}
	walk(tree)
	return b.String()
}
