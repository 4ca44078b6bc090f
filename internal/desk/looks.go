package desk

import (
	"bytes"
	"context"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/check"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/store"
)

// mostWordsForLooks are places in a part whose contrast is reckoned.
const mostWordsForLooks = 12

var headings = []string{"h1", "h2", "h3", "h4", "h5", "h6"}

// Looks shows how the site makes parts like one look, and which of it the part carries.
func (d *Desk) Looks(ctx context.Context, number, pageID int64, id string) ([]api.PartLook, error) {
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return nil, err
	}
	p := dr.Page()
	part, err := dr.part(id)
	if err != nil {
		return nil, err
	}
	out := []api.PartLook{}
	choices, sheet := d.looksOf(ctx, site, dr.row.Address, p, part)
	words := wordsIn(part.Node.HTML)
	for _, c := range choices {
		n := c.With(part.Node.HTML, part.Node.HTML, choices)
		v := api.PartLook{
			Aspect: api.LookAspect(c.Aspect), Key: c.Key(), Called: c.Called(), Say: sheet.Tell(c, n), On: c.On, Like: c.Like,
		}
		if c.Aspect == style.Ground || c.Aspect == style.Ink {
			if color, ok := sheet.Color(c, n); ok && color.A > 0 {
				v.Color = color.String()
			}
			v.Contrast, v.Hard = contrastWith(sheet, c, part.Node.HTML, words, choices)
		}
		if c.Aspect == style.Shadow {
			v.BoxShadow, v.TextShadow = sheet.Shown(n, "box-shadow"), sheet.Shown(n, "text-shadow")
		}
		out = append(out, v)
	}
	return out, nil
}

// contrastWith is the least contrast of words within an element that carries a choice, and whether they are hard to
// read then.
func contrastWith(s *style.Sheet, c style.Choice, n *html.Node, words []*html.Node, all []style.Choice) (least float64, hard bool) {
	for _, w := range words {
		ink, behind, ok := s.Words(c.With(n, w, all))
		if !ok {
			continue
		}
		contrast := style.Contrast(ink, behind)
		if least == 0 || contrast < least {
			least = contrast
		}
		hard = hard || contrast < check.LeastContrast(slices.Contains(headings, w.Data))
	}
	return least, hard
}

// wordsIn are elements in a node that hold words themselves, one of each kind.
func wordsIn(n *html.Node) (all []*html.Node) {
	seen := map[string]bool{}
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		says := false
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			says = says || k.Type == html.TextNode && strings.TrimSpace(k.Data) != ""
		}
		if says && n.Data != "script" && n.Data != "style" {
			kind := n.Data
			for _, a := range n.Attr {
				if a.Key == "class" || a.Key == "style" {
					kind += " " + a.Val
				}
			}
			if !seen[kind] && len(all) < mostWordsForLooks {
				seen[kind] = true
				all = append(all, n)
			}
		}
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			if k.Type == html.ElementNode {
				walk(k)
			}
		}
	}
	walk(n)
	return all
}

// Looks implements act.Rest.
func (r *rest) Looks(p *page.Page, part *page.Part) ([]style.Choice, error) {
	all, _ := r.d.looksOf(r.ctx, r.site, r.dr.row.Address, p, part)
	return all, nil
}

// looksOf are the looks that a site has for a part, by its style sheets and by what parts like it carry on its pages.
func (d *Desk) looksOf(ctx context.Context, site store.Site, address string, p *page.Page, part *page.Part) ([]style.Choice, *style.Sheet) {
	s := d.sheetOf(ctx, site, address, p)
	if !act.Dressed(p, part) {
		return nil, s
	}
	var worn style.Worn
	wornBy(&worn, p, part)
	for row, other := range d.pagesToLearn(ctx, site.ID) {
		if other.Doc.Format == source.HTML && row.Address != address {
			wornBy(&worn, other, part)
		}
	}
	all := s.Choices(part.Node.HTML, worn, part.Kind.HasWords() && part.Kind != page.Button)
	var scripts [][]byte
	read := false
	return slices.DeleteFunc(all, func(c style.Choice) bool {
		if !c.Hides || c.On {
			return false
		}
		if !read {
			scripts, read = d.scriptsOf(ctx, site, address, p), true
		}
		return !slices.ContainsFunc(scripts, func(code []byte) bool { return shows(code, c) })
	}), s
}

// shows reports whether a script of the page may show what a choice keeps unseen: one that names it.
func shows(code []byte, c style.Choice) bool {
	name := c.Value
	if c.By == style.ByAttribute {
		name = c.Name
	}
	return bytes.Contains(code, []byte("Observer")) && bytes.Contains(code, []byte(name)) || bytes.Contains(code, []byte("'."+name)) ||
		bytes.Contains(code, []byte(`".`+name)) || bytes.Contains(code, []byte(`[`+name))
}

// wornBy adds what parts of a page carry that are like one: of the same kind, and of its tag where that says what it
// is, or with one of its classes; and what all else on the page carries.
func wornBy(worn *style.Worn, p *page.Page, like *page.Part) {
	own := strings.Fields(like.Attributes.Get("class"))
	alike := map[*source.Node]bool{like.Node: true}
	for _, q := range p.All {
		if q == like || q.Kind != like.Kind || q.Run != nil || q.Background {
			continue
		}
		shares := slices.ContainsFunc(strings.Fields(q.Attributes.Get("class")), func(c string) bool { return slices.Contains(own, c) })
		if shares || q.Node.Tag() == like.Node.Tag() && q.Node.Tag() != "div" {
			worn.Add(q.Node.HTML)
			alike[q.Node] = true
		}
	}
	for _, n := range p.Doc.Nodes {
		if n.Tag() != "" && !alike[n] {
			worn.AddOther(n.HTML)
		}
	}
}
