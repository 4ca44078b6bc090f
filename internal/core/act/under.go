package act

import (
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Under puts an entry of a menu below another one, as the last, or on the first level behind the one that it is below.
type Under struct {
	Part  string `json:"part"`
	Entry string `json:"entry"` // empty: the first level
}

var _ = register("under", func() Act { return &Under{} })

func (a *Under) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	p := w.draft.Page()
	own, all := entryOf(p, part)
	if own == nil {
		return refuse("%s is no entry of a menu that has entries below others.", page.Quoted(part.Name))
	}
	to := own.Above
	if a.Entry != "" {
		i := slices.IndexFunc(all, func(e *page.Entry) bool { return e.Part != nil && e.Part.ID == a.Entry })
		if i < 0 {
			return errGone()
		}
		to = all[i]
	}
	m := levelMove{p, own, all}
	ops, err := m.ops(to, a.Entry == "")
	if err != nil {
		return err
	}
	say := fmt.Sprintf("%s stands below %s in the menu", page.Quoted(part.Name), page.Quoted(EntryName(p, to)))
	if a.Entry == "" {
		say = fmt.Sprintf("%s stands on the first level of the menu", page.Quoted(part.Name))
	}
	defer w.takeUp()
	return w.settle(-1, p, edit{kind: OfSection, part: part, name: part.Name, before: part.Text, after: part.Text, say: say, ops: ops})
}

// Unders are the entries below which an entry of a menu may be put; the first has no part where it may go to the first
// level.
func Unders(p *page.Page, part *page.Part) (to []*page.Entry) {
	own, all := entryOf(p, part)
	if own == nil {
		return nil
	}
	m := levelMove{p, own, all}
	if own.Above != nil {
		if _, err := m.ops(own.Above, true); err == nil {
			to = append(to, &page.Entry{})
		}
	}
	for _, e := range all {
		if e.Part == nil || e.Above != nil || e == own {
			continue
		}
		if _, err := m.ops(e, false); err == nil {
			to = append(to, e)
		}
	}
	return to
}

func entryOf(p *page.Page, part *page.Part) (own *page.Entry, all []*page.Entry) {
	all = p.Entries(part)
	if i := slices.IndexFunc(all, func(e *page.Entry) bool { return e.Part == part }); i >= 0 {
		own = all[i]
	}
	return own, all
}

// EntryName is what an entry of a menu says.
func EntryName(p *page.Page, e *page.Entry) string {
	if e.Link != nil {
		if words := strings.TrimSpace(p.TextOf(e.Link)); words != "" {
			return words
		}
	}
	return e.Part.Name
}

// levelMove moves an entry of a menu to another level, or below another entry.
type levelMove struct {
	p   *page.Page
	own *page.Entry
	all []*page.Entry
}

// ops are the operations that put the entry below another one, or on the first level behind it.
func (m levelMove) ops(to *page.Entry, first bool) ([]change.Op, error) {
	switch {
	case len(m.own.Below) > 0 && !first:
		return nil, refuse("“%s” has entries of its own below it.", EntryName(m.p, m.own))
	case to == nil || to.Part == nil:
		return nil, refuse("It stands on the first level.")
	case first && m.own.Above != to, !first && (to == m.own || m.own.Above == to || to.Above != nil):
		return nil, refuse("It cannot stand there.")
	case first:
		return m.beside(to.Part, to)
	case len(to.Below) > 0:
		last := to.Below[len(to.Below)-1]
		if last.Part == nil {
			return nil, refuse("The list below “%s” cannot be changed.", EntryName(m.p, to))
		}
		return m.beside(last.Part, last)
	}
	return m.begin(to)
}

// beside puts the entry behind another one of the level that it goes to.
func (m levelMove) beside(anchor *page.Part, like *page.Entry) ([]change.Op, error) {
	if like.List != nil { // one that has none below it is more like it
		for _, e := range m.all {
			if e.Above == like.Above && e.List == nil {
				like = e
			}
		}
	}
	again, same, err := m.again(like)
	if err != nil {
		return nil, err
	}
	if same {
		return []change.Op{{Op: change.Move, Part: m.own.Part.ID, Anchor: anchor.ID, Where: change.After}}, nil
	}
	return []change.Op{
		{Op: change.Insert, Anchor: anchor.ID, Where: change.After, HTML: again}, {Op: change.Remove, Part: m.own.Part.ID},
	}, nil
}

// begin puts the entry below one that has none yet, in a list like those of the others.
func (m levelMove) begin(to *page.Entry) ([]change.Op, error) {
	var like, without *page.Entry
	for _, e := range m.all {
		switch {
		case e.Above != nil || e == m.own:
		case len(e.Below) > 0 && like == nil:
			like = e
		case e.List == nil && without == nil:
			without = e
		}
	}
	if like == nil || without == nil {
		return nil, refuse("No other entry has some below it after which this one could be made.")
	}
	dress, alike := m.becomes(to.Node, like.Node)
	if !alike || m.marks(to.Link) != m.marks(like.Link) {
		return nil, refuse("Entries that have others below them are written otherwise in this menu. Change that in its markup first.")
	}
	again, _, err := m.again(like.Below[0])
	if err != nil {
		return nil, err
	}
	tag := m.p.Doc.Bytes[like.List.Start():like.List.InnerStart()]
	if len(identifiersIn(tag)) > 0 {
		return nil, refuse("The lists of this menu are known by their identifiers. Change that in its markup.")
	}
	html := m.p.Doc.Markup(tag) + again + "</" + like.List.Tag() + ">"
	ops := []change.Op{
		{Op: change.Insert, Anchor: to.Part.ID, Where: change.Last, HTML: html}, {Op: change.Remove, Part: m.own.Part.ID},
	}
	if dress != "" {
		ops = append(ops, change.Op{Op: change.Dress, Part: to.Part.ID, Name: "class", Value: &dress})
	}
	return ops, nil
}

// becomes is the class that an element lacks to be written like another one, "" for none; false where they differ in
// more.
func (m levelMove) becomes(n, like *source.Node) (lacks string, ok bool) {
	own, others := plain(m.p.Doc.Value(n, "class")), plain(m.p.Doc.Value(like, "class"))
	for _, c := range others {
		if !slices.Contains(own, c) {
			if lacks != "" {
				return "", false
			}
			lacks = c
		}
	}
	with := own
	if lacks != "" {
		with = append(slices.Clone(own), lacks)
	}
	slices.Sort(with)
	slices.Sort(others)
	return lacks, slices.Equal(with, others) && m.marksBut(n, "class") == m.marksBut(like, "class")
}

// marks are the attributes of an element by which a menu may tell its levels, without state and what is its own.
func (m levelMove) marks(n *source.Node) string { return m.marksBut(n, "") }

func (m levelMove) marksBut(n *source.Node, but string) string {
	var all []string
	for _, a := range m.p.Doc.Attributes(n) {
		switch a.Name {
		case but:
		case "href", "id", "title", "target", "rel", "aria-current", "accesskey":
		case "class":
			all = append(all, "class="+strings.Join(plain(a.Value), " "))
		default:
			all = append(all, a.Name)
		}
	}
	slices.Sort(all)
	return strings.Join(all, ",")
}

// plain are classes without state.
func plain(class string) []string {
	return slices.DeleteFunc(strings.Fields(class), page.IsState)
}

// again is the entry as it is written on the level of another one; same says that it is written alike there.
func (m levelMove) again(like *page.Entry) (html string, same bool, err error) {
	d, own := m.p.Doc, m.own
	if m.marks(own.Node) == m.marks(like.Node) && m.marks(own.Link) == m.marks(like.Link) {
		return d.Markup(d.Bytes[own.Node.Start():own.Node.End()]), true, nil
	}
	var edits []source.Edit
	for _, pair := range [][2]*source.Node{{own.Node, like.Node}, {own.Link, like.Link}} {
		e, err := m.dressed(pair[0], pair[1])
		if err != nil {
			return "", false, err
		}
		edits = append(edits, e...)
	}
	at := own.Node.Start()
	for i := range edits {
		edits[i].Span.Start -= at
		edits[i].Span.End -= at
	}
	raw, _, err := source.Splice(d.Bytes[at:own.Node.End()], edits)
	return d.Markup(raw), false, err
}

// dressed gives an element the classes of another one, and keeps its states.
func (m levelMove) dressed(n, like *source.Node) ([]source.Edit, error) {
	d := m.p.Doc
	own, has := d.Attribute(n, "class")
	classes := plain(d.Value(like, "class"))
	for _, c := range strings.Fields(own.Value) {
		if page.IsState(c) {
			classes = append(classes, c)
		}
	}
	for _, pair := range [][2]*source.Node{{n, like}, {like, n}} {
		for _, a := range d.Attributes(pair[0]) {
			if _, both := d.Attribute(pair[1], a.Name); !both && !slices.Contains([]string{"class", "href", "id", "title", "target", "rel", "aria-current"}, a.Name) {
				return nil, refuse("The entries of both levels are written otherwise (%s). Change that in the markup of the menu.", a.Name)
			}
		}
	}
	value := strings.Join(classes, " ")
	switch {
	case value == own.Value:
		return nil, nil
	case has && value == "":
		return []source.Edit{{Span: own.Whole}}, nil
	case has && own.Bare:
		return []source.Edit{{Span: own.Raw, New: append([]byte("="), change.Quoted(value, 0)...)}}, nil
	case has:
		return []source.Edit{{Span: own.Raw, New: change.Quoted(value, own.Quote)}}, nil
	}
	at := n.Start() + 1 + len(n.Tag())
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: append([]byte(" class="), change.Quoted(value, 0)...)}}, nil
}

// identifiersIn are the identifiers that a start tag gives or names.
func identifiersIn(tag []byte) (all []string) {
	for _, a := range source.TagAttributes(tag) {
		if a.Name == "id" || page.RefersTo(a.Name) {
			all = append(all, a.Value)
		}
	}
	return all
}
