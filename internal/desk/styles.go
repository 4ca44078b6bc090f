package desk

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/store"
)

// sheetOf reads the style sheets of a page: those of its own site and those in the page. What cannot be read is left
// out, as a visitor's browser would.
func (d *Desk) sheetOf(ctx context.Context, site store.Site, address string, p *page.Page) *style.Sheet {
	s := &style.Sheet{}
	for _, n := range p.Doc.Nodes {
		switch {
		case n.Is("style"):
			if k := n.HTML.FirstChild; k != nil {
				s.Read([]byte(k.Data))
			}
		case n.Is("link") && slices.Contains(strings.Fields(strings.ToLower(p.Doc.Value(n, "rel"))), "stylesheet"):
			if media := strings.ToLower(p.Doc.Value(n, "media")); media != "" && media != "all" && media != "screen" {
				continue
			}
			kind, to, _ := link.Of(site.PublicURL, address, p.Doc.Value(n, "href"))
			if kind != link.Inside {
				continue
			}
			if c, err := d.otherFile(ctx, store.Preview{SiteID: site.ID, View: "live"}, link.FileOf(to)); err == nil {
				s.Read(c.Bytes)
			}
		}
	}
	return s
}

// Styles lists the site's own styles that a part may be given.
func (d *Desk) Styles(ctx context.Context, number, pageID int64, id string) ([]api.PartStyle, error) {
	out := []api.PartStyle{}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return out, err
	}
	p := dr.Page()
	part, ok := p.Part(id)
	if !ok {
		return out, stale("The part is no longer on the draft. It was loaded again.")
	}
	if !dressed(p, part) {
		return out, nil
	}
	s := d.sheetOf(ctx, site, dr.row.Address, p)
	carried := map[string]int{}
	for _, q := range p.All {
		if q != part && q.Kind == part.Kind && q.Run == nil {
			for _, class := range strings.Fields(q.Attributes.Get("class")) {
				carried[class]++
			}
		}
	}
	own := strings.Fields(part.Attributes.Get("class"))
	for _, st := range s.Styles(part.Node.Tag(), carried) {
		v := api.PartStyle{Class: st.Class, Say: st.Say, Like: st.Like, Carried: slices.Contains(own, st.Class)}
		if words, behind, ok := s.Words(wearing(part.Node.HTML, append(slices.Clone(own), st.Class))); ok {
			v.Contrast = style.Contrast(words, behind)
		}
		out = append(out, v)
	}
	return out, nil
}

// dressed reports whether a part can carry a style of its own.
func dressed(p *page.Page, part *page.Part) bool {
	return part.Locked == "" && part.Run == nil && part.Placed() && part.Kind.HasWords() && p.Doc.Format != source.Markdown
}

// wearing is a node as it would be with other classes; it stands where n stands, and nothing is changed.
func wearing(n *html.Node, classes []string) *html.Node {
	c := *n
	c.Attr = slices.DeleteFunc(slices.Clone(n.Attr), func(a html.Attribute) bool { return a.Key == "class" })
	c.Attr = append(c.Attr, html.Attribute{Key: "class", Val: strings.Join(classes, " ")})
	return &c
}

var className = regexp.MustCompile(`^-?[A-Za-z_][\w-]*$`)

// styleEdit puts a style of the site on a part, or takes it off. part is of base, now is the part as the draft has it.
func (d *Desk) styleEdit(ctx context.Context, dr *draft, e edit, part, now *page.Part, class string) (edit, error) {
	if !className.MatchString(class) || !dressed(dr.Page(), now) {
		return e, refused("“%s” can carry no such style.", part.Name)
	}
	styles, err := d.Styles(ctx, dr.request, dr.row.ID, now.ID)
	if err != nil {
		return e, err
	}
	i := slices.IndexFunc(styles, func(s api.PartStyle) bool { return s.Class == class })
	if i < 0 {
		return e, refused("The site’s style sheets have no style “%s” for words.", class)
	}
	have := strings.Fields(now.Attributes.Get("class"))
	say := "gets the style “%s” (%s)"
	if at := slices.Index(have, class); at >= 0 {
		have = slices.Delete(have, at, at+1)
		say = "loses the style “%s” (%s)"
	} else {
		have = append(have, class)
	}
	op := change.Op{Op: change.SetAttribute, Part: part.ID, Name: "class"}
	if value := strings.Join(have, " "); value != "" {
		op.Value = &value
	}
	e.kind, e.before, e.after = "section", part.Text, part.Text
	e.say = fmt.Sprintf("%s "+say, page.Quoted(part.Name), class, styles[i].Say)
	e.ops = []change.Op{op}
	return e, nil
}

// stylesFor are the style sheets by which a draft is looked at; nil where the host makes the page of it.
func (d *Desk) stylesFor(ctx context.Context, site store.Site, dr *draft) *style.Sheet {
	if dr.Page().Doc.Format == source.Markdown {
		return nil
	}
	return d.sheetOf(ctx, site, dr.row.Address, dr.Page())
}
