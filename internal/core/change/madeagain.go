package change

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// prompts stand in what was made to be filled, until it is. A check stops what is published with one of them.
var prompts = []string{NewWords, NewHeading, NewQuestion, NewName, newDay, newLink, NewButton}

// Prompts: what stands for words of their kind until those are typed.
const (
	NewHeading  = "New heading"
	NewQuestion = "New question?"
	NewName     = "New name"
	newDay      = "New day"
	newLink     = "New link"
	NewButton   = "New button"
)

// promptPicture begins the address of the picture that stands where a new one is to come: a grey drawing of its shape.
const promptPicture = "data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' data-new='' "

// PromptPicture is the address of the drawing that stands where a picture of a shape is to come.
func PromptPicture(width, height string) string {
	return fmt.Sprintf(
		"%sviewBox='0 0 %s %s'%%3E%%3Crect width='100%%25' height='100%%25' fill='%%23d5d9da'/%%3E%%3C/svg%%3E",
		promptPicture,
		width,
		height,
	)
}

// Prompt is the prompt that words are, less the quotes and the like around it; empty where they are none.
func Prompt(words string) string {
	if inner := strings.TrimFunc(words, notSpoken); slices.Contains(prompts, inner) {
		return inner
	}
	return ""
}

// MakeAgain gives the markup of parts that belong together, such as a tab and its panel, made again to stand beside
// them: with identifiers of their own that point at each other as before, without the state that only one of several
// likes is in, and with the next number where likes are numbered. likes are the likes of each part, in order. emptied
// says that words and pictures become prompts. The error is a *refusal.Refusal.
func MakeAgain(p *page.Page, parts []*page.Part, likes [][]*page.Part, emptied bool) ([]string, error) {
	w := &work{p: p}
	ids := w.newIdentifiers(parts...)
	var all []string
	for i, part := range parts {
		m := &making{p: p, part: part, likes: likes[i], ids: ids.begin(), at: WholeSpan(part).Start}
		if emptied && !Numbered(p, likes[i]) {
			m.empty(part)
		}
		for j, top := range tops(part) {
			m.attributes(top, m.model(part, j))
		}
		m.number()
		if m.err != nil {
			return nil, m.err
		}
		at := WholeSpan(part)
		raw, _, err := source.Splice(p.Doc.Bytes[at.Start:at.End], m.edits)
		if err != nil {
			return nil, refuse("“%s” cannot be made again: %v.", part.Name, err)
		}
		all = append(all, p.Doc.Markup(raw))
	}
	return all, nil
}

// making is a part that is made again.
type making struct {
	p     *page.Page
	part  *page.Part
	likes []*page.Part
	ids   *renaming
	at    int // where the part begins: edits count from there
	edits []source.Edit
	err   error
}

func (m *making) put(at source.Span, markup string) {
	raw, err := m.p.Doc.Encode(markup)
	if err != nil {
		m.err = refuse("This cannot be written in %s, the encoding of the page.", m.p.Doc.Encoding.Name)
		return
	}
	m.edits = append(m.edits, source.Edit{Span: source.Span{Start: at.Start - m.at, End: at.End - m.at}, New: raw})
}

// model is a like of the jth element of a part that is in another state: what it does not say of itself is state.
func (m *making) model(part *page.Part, j int) *source.Node {
	own := tops(part)
	for _, like := range m.likes {
		if ns := tops(like); like != part && len(ns) == len(own) && !inState(ns[j]) {
			return ns[j]
		}
	}
	return nil
}

// stateAttributes are attributes that say in which state an element is (WAI-ARIA 1.2; HTML, 4.11.1 and 4.10.5).
var stateAttributes = []string{
	"aria-selected",
	"aria-current",
	"aria-expanded",
	"aria-hidden",
	"open",
	"checked",
	"hidden",
	"tabindex",
}

// inState reports whether an element, or one in it, says that it is the one of its likes that is shown.
func inState(n *source.Node) (is bool) {
	n.Walk(func(k *source.Node) bool {
		for _, a := range k.HTML.Attr {
			switch a.Key {
			case "class":
				is = is || slices.ContainsFunc(strings.Fields(a.Val), page.IsShown)
			case "aria-selected", "aria-expanded":
				is = is || a.Val == "true"
			case "aria-current":
				is = is || a.Val != "false"
			}
		}
		return !is
	})
	return is
}

// InState reports whether a part says of itself that it is the one of its likes that is shown, while one of them does
// not.
func InState(part *page.Part, likes []*page.Part) bool {
	is := func(p *page.Part) bool { return slices.ContainsFunc(tops(p), inState) }
	return is(part) && slices.ContainsFunc(likes, func(p *page.Part) bool { return !is(p) })
}

// HandOver are the operations that give a part the state that a like of it is in, as far as it stands on parts.
func HandOver(p *page.Page, from, to *page.Part) (ops []Op) {
	a, b := tops(from), tops(to)
	if len(a) != len(b) {
		return nil
	}
	for i := range a {
		ops = append(ops, handOver(p, a[i], b[i])...)
	}
	return ops
}

func handOver(p *page.Page, from, to *source.Node) (ops []Op) {
	if from.HTML.Data != to.HTML.Data || from.Tag() == "" {
		return nil
	}
	if part, ok := p.At(to); ok && part.Locked == "" {
		class := p.Doc.Value(to, "class")
		more := class
		for _, c := range strings.Fields(p.Doc.Value(from, "class")) {
			if page.IsState(c) && !slices.Contains(strings.Fields(class), c) {
				more = strings.TrimSpace(more + " " + c)
			}
		}
		if more != class {
			ops = append(ops, Op{Op: SetAttribute, Part: part.ID, Name: "class", Value: &more})
		}
		for _, name := range stateAttributes {
			had, one := p.Doc.Attribute(from, name)
			has, other := p.Doc.Attribute(to, name)
			switch {
			case one && (!other || has.Value != had.Value):
				ops = append(ops, Op{Op: SetAttribute, Part: part.ID, Name: name, Value: &had.Value})
			case !one && other:
				ops = append(ops, Op{Op: SetAttribute, Part: part.ID, Name: name})
			}
		}
	}
	for i, k := range from.Kids {
		if i < len(to.Kids) {
			ops = append(ops, handOver(p, k, to.Kids[i])...)
		}
	}
	return ops
}

// attributes brings the attributes of an element and of those in it into the form that they have in one made again.
func (m *making) attributes(n, model *source.Node) {
	if n.Tag() == "" {
		return
	}
	for _, a := range m.p.Doc.Attributes(n) {
		to, ok := m.ids.value(a.Name, a.Value)
		switch {
		case a.Name == "class" && model != nil:
			to = stateless(a.Value, m.p.Doc.Value(model, "class"))
			ok = to != a.Value
		case slices.Contains(stateAttributes, a.Name) && model != nil:
			if had, there := m.p.Doc.Attribute(model, a.Name); !there {
				m.put(a.Whole, "")
				continue
			} else if had.Value != a.Value {
				to, ok = had.Value, true
			}
		}
		if ok && !a.Bare {
			m.put(a.Raw, string(Quoted(to, a.Quote)))
		}
	}
	for i, k := range n.Kids {
		var like *source.Node
		if model != nil && i < len(model.Kids) && model.Kids[i].HTML.Data == k.HTML.Data && k.Tag() != "" {
			like = model.Kids[i]
		}
		m.attributes(k, like)
	}
}

// stateless are classes with the states that a like has, and no others.
func stateless(class, like string) string {
	own, has := strings.Fields(class), strings.Fields(like)
	var kept []string
	for _, c := range own {
		if !page.IsState(c) || slices.Contains(has, c) {
			kept = append(kept, c)
		}
	}
	same := len(kept) == len(own)
	for _, c := range has {
		if page.IsState(c) && !slices.Contains(own, c) { // such as "collapsed", which the one that is open has not
			kept, same = append(kept, c), false
		}
	}
	if same {
		return class
	}
	return strings.Join(kept, " ")
}

// number gives what is numbered among its likes the next number: what turns to a slide by its number.
func (m *making) number() {
	next, ok := nextNumber(m.p, m.likes)
	if !ok {
		return
	}
	for _, top := range tops(m.part) {
		top.Walk(func(n *source.Node) bool {
			for _, a := range m.p.Doc.Attributes(n) {
				switch {
				case page.IsSlideTo(a.Name) && aNumber.MatchString(a.Value):
					m.put(a.Raw, strconv.Itoa(next.at))
				case a.Name == "aria-label" || a.Name == "title":
					if now, ok := renumbered(a.Value, next.said); ok {
						m.put(a.Raw, string(Quoted(now, a.Quote)))
					}
				}
			}
			if n.IsText() && n.Placed && !n.Blank {
				if now, ok := renumbered(m.p.Doc.Text(n), next.said); ok {
					m.put(source.Span{Start: n.Start(), End: n.End()}, EscapeText(now))
				}
			}
			return true
		})
	}
}

// Numbered reports whether parts say to which slide they turn by its number.
func Numbered(p *page.Page, likes []*page.Part) bool {
	_, ok := nextNumber(p, likes)
	return ok
}

type numbers struct {
	at   int // as scripts count
	said int // as people do
}

// nextNumber is the number behind those of likes that are numbered in their order.
func nextNumber(p *page.Page, likes []*page.Part) (next numbers, ok bool) {
	for i, like := range likes {
		at := -1
		for _, top := range tops(like) {
			top.Walk(func(n *source.Node) bool {
				for _, a := range n.HTML.Attr {
					if page.IsSlideTo(a.Key) && aNumber.MatchString(a.Val) {
						at, _ = strconv.Atoi(a.Val)
					}
				}
				return at < 0
			})
		}
		if at < 0 || i > 0 && at != next.at {
			return numbers{}, false
		}
		next = numbers{at: at + 1, said: i + 2}
	}
	return next, len(likes) > 0
}

var (
	aNumber    = regexp.MustCompile(`^\d{1,4}$`)
	lastNumber = regexp.MustCompile(`^(\D*)(\d{1,4})(\D*)$`)
)

// renumbered are words with another number in the place of the only one in them.
func renumbered(s string, n int) (string, bool) {
	at := lastNumber.FindStringSubmatch(s)
	if at == nil {
		return s, false
	}
	return at[1] + strconv.Itoa(n) + at[3], true
}

// empty makes prompts of the words and pictures in a part.
func (m *making) empty(part *page.Part) {
	switch {
	case part.Locked != "" && !part.Kind.Whole():
	case part.Kind == page.Picture:
		m.emptyPicture(part)
	case part.Kind.HasWords():
		if part.IsLink() {
			m.emptyLink(part.Node)
		}
		pictures := false
		for _, k := range part.Parts {
			switch {
			case k.Kind == page.Picture:
				pictures = true
				m.emptyPicture(k)
			case k.IsLink():
				m.emptyLink(k.Node)
			}
		}
		if part.Text == "" || pictures && part.IsLink() {
			return
		}
		prompt := NewWords
		switch {
		case page.Asks(part.Text): // one that does not ask is no question of its set
			prompt = NewQuestion
		case part.Kind == page.Heading:
			prompt = NewHeading
		case part.Kind == page.Button:
			prompt = NewButton
		case part.Kind == page.Link:
			prompt = newLink
		}
		said := false
		for _, n := range part.Content() {
			said = m.emptyText(n, prompt, said)
		}
	default:
		if part.Node.Is("a") && part.Run == nil {
			m.emptyLink(part.Node)
		}
		for _, k := range part.Parts {
			m.empty(k)
		}
		if len(part.Parts) == 0 && part.Text != "" && part.Run == nil { // an item that is no more than words
			said := false
			for _, n := range part.Node.Kids {
				said = m.emptyText(n, NewWords, said)
			}
		}
	}
}

func (m *making) emptyLink(n *source.Node) {
	if a, ok := m.p.Doc.Attribute(n, "href"); ok && !a.Bare {
		if !m.ids.of.refers(a.Value) { // what opens something in the item still does
			m.put(a.Raw, "#")
		}
	}
}

// emptyText makes a prompt of the first text in a node, and takes the rest away. An element that is more than form
// gets a prompt of its own. said says that the prompt stands already.
func (m *making) emptyText(n *source.Node, prompt string, said bool) bool {
	switch {
	case n.IsText():
		if n.Blank || !n.Placed && n.Runs() == nil {
			return said
		}
		for _, run := range n.Runs() {
			words := string(m.p.Doc.Bytes[run.Start:run.End])
			inner := strings.Trim(words, " \t\r\n")
			markup := ""
			if !said {
				markup, said = prompt, true
				inner = strings.TrimFunc(inner, notSpoken) // quotes and commas around stay
			}
			if from := strings.Index(words, inner); inner != "" {
				m.put(source.Span{Start: run.Start + from, End: run.Start + from + len(inner)}, markup)
			}
		}
		return said
	case n.Is("a"):
		m.emptyKids(n, newLink)
		return said
	case n.Is("time"):
		if day, ok := m.p.Doc.Attribute(n, "datetime"); ok { // of the one that it is made like; its own is what it will say
			m.put(day.Whole, "")
		}
		m.emptyKids(n, newDay)
		return said
	case n.Is("cite", "small", "figcaption", "footer"):
		m.emptyKids(n, NewName)
		return said
	}
	for _, k := range n.Kids {
		said = m.emptyText(k, prompt, said)
	}
	return said
}

// notSpoken reports whether a sign stands around words rather than in them: quotes, brackets, dashes, commas and
// blanks.
func notSpoken(r rune) bool {
	return unicode.In(r, unicode.Pi, unicode.Pf, unicode.Ps, unicode.Pe, unicode.Pd, unicode.Z) ||
		strings.ContainsRune("\"',:|\t\r\n", r)
}

func (m *making) emptyKids(n *source.Node, prompt string) {
	said := false
	for _, k := range n.Kids {
		said = m.emptyText(k, prompt, said)
	}
}

// emptyPicture puts the drawing of a picture to come in the place of a picture.
func (m *making) emptyPicture(part *page.Part) {
	width, height := part.Attributes.Get("width"), part.Attributes.Get("height")
	if !aNumber.MatchString(width) || !aNumber.MatchString(height) {
		width, height = "400", "300"
	}
	drawing := PromptPicture(width, height)
	if part.Background {
		m.put(
			source.Span{Start: part.Start, End: part.End},
			escapeAttribute(strings.NewReplacer("'", "%27", "(", "%28", ")", "%29", " ", "%20").Replace(drawing)),
		)
		return
	}
	for _, a := range m.p.Doc.Attributes(part.Node) {
		switch {
		case a.Bare:
		case slices.Contains(page.PictureAddresses, a.Name):
			m.put(a.Raw, string(Quoted(drawing, a.Quote)))
		case slices.Contains(page.Srcsets, a.Name):
			if part.Node.Is("source") {
				m.put(a.Raw, string(Quoted(strings.ReplaceAll(drawing, " ", "%20"), a.Quote)))
			} else {
				m.put(a.Whole, "")
			}
		case a.Name == "alt" || a.Name == "title":
			m.put(a.Raw, string(Quoted("", a.Quote)))
		}
	}
}
