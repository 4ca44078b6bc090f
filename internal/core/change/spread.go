package change

import (
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
)

// Shared is a shared part on one of the pages that it stands on.
type Shared struct {
	At
	Part *page.Part
}

func (s Shared) placed() page.Placed { return page.Placed{Address: s.Address, Page: s.Page} }

// Spread gives the operations that do on another page what a step does to a shared part: each finds what stands there
// for its part, addresses lead where they lead from the first page, and links keep the marks that they have there. The
// error is a *Conflict or a *refusal.Refusal.
func (s Step) Spread(from, to Shared) ([]Op, error) {
	var err error
	if from, err = from.based(); err != nil {
		return nil, err
	}
	if to, err = to.based(); err != nil {
		return nil, err
	}
	var ops []Op
	for _, t := range s {
		op, _, err := t.Find(from.Page)
		if err != nil {
			return nil, err
		}
		for _, id := range []*string{&op.Part, &op.Anchor} {
			if *id == "" {
				continue
			}
			part, _ := from.Page.Part(*id)
			there := page.Counterpart(from.placed(), from.Part, part, to.placed(), to.Part)
			if there == nil {
				return nil, refuse("“%s” does not stand there as it does here.", part.Name)
			}
			*id = there.ID
		}
		if op.HTML, err = spreading(from, to, op.HTML); err != nil {
			return nil, err
		}
		if op.Value != nil {
			value, _ := addressed(op.Name, *op.Value, from.Address, to.Address)
			op.Value = &value
		}
		ops = append(ops, op)
	}
	return ops, nil
}

// based is the shared part with the address that its page's references are resolved against.
func (s Shared) based() (Shared, error) {
	base, ok := s.base()
	if !ok {
		return s, refuse("The page says that all its addresses are another site's (base).")
	}
	s.Address = base
	return s, nil
}

// spreading is markup of one page as it is written on another.
func spreading(from, to Shared, markup string) (string, error) {
	if markup == "" {
		return "", nil
	}
	was, is := marks(from), marks(to)
	var out strings.Builder
	z := html.NewTokenizer(strings.NewReader(markup))
	for z.Next() != html.ErrorToken {
		raw := slices.Clone(z.Raw())
		if raw[0] != '<' || len(raw) < 2 || raw[1]|0x20 < 'a' || raw[1]|0x20 > 'z' {
			out.Write(raw)
			continue
		}
		tag, err := spreadTag(raw, from, to, was, is)
		if err != nil {
			return "", err
		}
		out.Write(tag)
	}
	return out.String(), nil
}

// spreadTag is a start tag of one page as it is written on another.
func spreadTag(raw []byte, from, to Shared, was, is map[string][]mark) ([]byte, error) {
	all := source.TagAttributes(raw)
	href, own := "", mark{}
	for _, a := range all {
		switch a.Name {
		case "href":
			href = resolved(from.Address, a.Value)
		case "class":
			own.class = a.Value
		case "aria-current":
			own.current = a.Value
		}
	}
	there, marked := own.there(was[href], is[href])
	var edits []source.Edit
	for _, a := range all {
		if a.Bare {
			continue
		}
		now, changed := addressed(a.Name, a.Value, from.Address, to.Address)
		switch {
		case marked && a.Name == "class":
			now, changed = there.class, there.class != own.class
		case marked && a.Name == "aria-current":
			now, changed = there.current, there.current != own.current
		}
		if changed && now == "" && a.Name != "href" {
			edits = append(edits, source.Edit{Span: a.Whole})
			continue
		}
		if changed {
			edits = append(edits, source.Edit{Span: a.Raw, New: Quoted(now, a.Quote)})
		}
	}
	for _, mark := range []struct{ name, own, there string }{
		{"class", own.class, there.class}, {"aria-current", own.current, there.current},
	} {
		if marked && mark.own == "" && mark.there != "" {
			at := len(raw) - len(">")
			edits = append(edits, source.Edit{Span: source.Span{Start: at, End: at}, New: append([]byte(" "+mark.name+"="), Quoted(mark.there, 0)...)})
		}
	}
	if len(edits) == 0 {
		return raw, nil
	}
	out, _, err := source.Splice(raw, edits)
	return out, err
}

// addressed is the value of an attribute of one page as it is written on another; false where it is the same.
func addressed(name, value, from, to string) (string, bool) {
	switch {
	case slices.Contains(page.Srcsets, name) || name == "imagesrcset":
		all, changed := picture.ReadSrcset(value), false
		for i, c := range all {
			if now, ok := link.Moved(c.URL, from, to); ok {
				all[i].URL, changed = now, true
			}
		}
		if changed {
			return picture.WriteSrcset(all), true
		}
	case name == "style":
		now := page.WithAddresses(value, func(address string) string {
			moved, _ := link.Moved(address, from, to)
			return moved
		})
		return now, now != value
	case leads(name) && !strings.HasPrefix(value, "#"): // a place on the same page stays one, as in a shared part's print
		return link.Moved(value, from, to)
	}
	return value, false
}

// mark is how a link is written on one page: its classes, some of which say where a visitor is, and aria-current.
type mark struct{ class, current string }

// there is how a link that is written like m is marked on the other page; was and is are all that lead where it leads,
// in the order of both. It is false where that cannot be told.
func (m mark) there(was, is []mark) (mark, bool) {
	if len(was) != len(is) {
		return mark{}, false
	}
	i := slices.Index(was, m)
	switch {
	case i >= 0:
		return is[i], true
	case len(was) != 1:
		return mark{}, false
	}
	// The change gives the only link that leads there other classes: those stay that say where a visitor is.
	there := mark{current: m.current}
	if m.current == was[0].current {
		there.current = is[0].current
	}
	here, now, then := strings.Fields(m.class), strings.Fields(was[0].class), strings.Fields(is[0].class)
	here = slices.DeleteFunc(here, func(c string) bool { return slices.Contains(now, c) && !slices.Contains(then, c) })
	for _, c := range then {
		if !slices.Contains(now, c) && !slices.Contains(here, c) {
			here = append(here, c)
		}
	}
	there.class = strings.Join(here, " ")
	return there, true
}

// marks are those of the links in a shared part, by where they lead.
func marks(s Shared) map[string][]mark {
	all := map[string][]mark{}
	s.Part.Node.Walk(func(n *source.Node) bool {
		if href := s.Doc.Value(n, "href"); n.Is("a") && href != "" {
			to := resolved(s.Address, href)
			all[to] = append(all[to], mark{s.Doc.Value(n, "class"), s.Doc.Value(n, "aria-current")})
		}
		return true
	})
	return all
}

func resolved(from, ref string) string {
	to, err := link.Resolve("http://site.example"+from, ref)
	if err != nil {
		return ""
	}
	return to
}
