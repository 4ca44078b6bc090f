package act

import (
	"html"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// Caption gives a picture that is on the page a caption, or another one, or none.
type Caption struct {
	Part  string `json:"part"`
	Words string `json:"words"` // empty: none
}

var _ = register("caption", func() Act { return &Caption{} })

func (a *Caption) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	if was := CaptionOf(w.draft.Page(), part); was != nil &&
		(w.goingOn(a, a.Part) < 0 || slices.Contains(w.draft.Parts(), was.ID)) {
		defer func() { w.made = part.ID }() // words give no picture another name
		if strings.TrimSpace(a.Words) == "" {
			return (&Remove{Part: was.ID}).do(w)
		}
		return (&Words{Part: was.ID, Words: a.Words}).do(w)
	}
	if err := w.keep(a, a.Part); err != nil {
		return err
	}
	w.goOnWithPicture(part)
	return nil
}

// goOnWithPicture makes the picture that the last step put into something the part to go on in.
func (w *work) goOnWithPicture(part *page.Part) {
	w.made = part.ID
	if w.last < 0 {
		return
	}
	if now, ok := w.draft.Page().Part(w.draft.Parts()[w.last]); ok {
		w.made = now.ID
	}
}

func (a *Caption) goesOn(d *thread.Draft, k int) bool { return encloses(d, k, "<figure") }

// encloses reports whether step k puts a picture into an element.
func encloses(d *thread.Draft, k int, tag string) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.Enclose && strings.HasPrefix(op.HTML, tag)
}

// CaptionOf is the caption of the figure in which a picture stands; nil where it has none that is a part.
func CaptionOf(p *page.Page, part *page.Part) *page.Part {
	if n := captionOf(part); n != nil {
		if caption, ok := p.At(n); ok {
			return caption
		}
	}
	return nil
}

func captionOf(part *page.Part) *source.Node {
	n := part.Node.Parent
	for n != nil && n.Is("picture", "a", "span", "p", "div") {
		n = n.Parent
	}
	if part.Background || n == nil || !n.Is("figure") {
		return nil
	}
	for _, k := range n.Kids {
		if k.Is("figcaption") {
			return k
		}
	}
	return nil
}

func (a *Caption) edit(w *work, at place) (edit, error) {
	part, words := at.part, strings.TrimSpace(a.Words)
	switch {
	case at.base.Doc.Format != source.HTML:
		return edit{}, refuse(
			"A page in Markdown has no caption for a picture; its title is shown where it is pointed at.",
		)
	case !part.ShowsPicture() || part.Background:
		return edit{}, refuse("“%s” is no picture that lies among words.", part.Name)
	case captionOf(part) != nil:
		return edit{}, refuse("The caption of “%s” cannot be changed safely.", part.Name)
	}
	e := edit{
		kind:  OfWords,
		part:  part,
		name:  part.Name + ", caption",
		after: words,
		say:   "Caption of " + part.Name + ": " + page.Quoted(page.Short(words, 60)),
	}
	if words == "" {
		e.ops = []change.Op{asItIs(part, "alt")}
		return e, nil
	}
	class, css := picturesLike(at.base).class, ""
	if class == "" {
		css = "margin:0"
	}
	own := asLaid(part, w.rest.Sides(at.base))
	if own.moves {
		class, css = strings.TrimSpace(class+" "+own.class), own.css
	}
	figure := "<figure"
	for _, v := range [][2]string{{"class", class}, {"style", css}} {
		if v[1] != "" {
			figure += " " + v[0] + `="` + html.EscapeString(v[1]) + `"`
		}
	}
	op := change.Op{
		Op:   change.Enclose,
		Part: part.ID,
		HTML: figure + "><figcaption>" + change.EscapeText(words) + "</figcaption></figure>",
	}
	e.ops = []change.Op{op}
	if own.moves {
		e.ops = append(e.ops, own.left...)
	}
	return e, nil
}

// moved is what says where a picture lies, which goes with its figure when it gets one.
type moved struct {
	moves      bool
	class, css string      // of the figure
	left       []change.Op // what is left at the picture itself
}

func asLaid(part *page.Part, sides map[string]string) (m moved) {
	laid, stays := sideClasses(part, sides)
	style := part.Attributes.Get("style")
	left := without(style, append(slices.Clip(laying), "margin-top", "margin-bottom")...)
	var goes []string
	for _, d := range without(style) {
		if !slices.Contains(left, d) && !strings.HasPrefix(d, "display") {
			goes = append(goes, d)
		}
	}
	if m.moves = len(laid) > 0 || len(goes) > 0; !m.moves {
		return m
	}
	m.class, m.css = strings.Join(laid, " "), strings.Join(goes, ";")
	if slices.ContainsFunc(goes, func(d string) bool { return strings.HasPrefix(d, "width") }) {
		left = append(left, "width:100%")
	}
	m.left = dressed(part, stays, left)
	return m
}

// LinkPicture lets a click on a picture that is on the page lead somewhere, or nowhere.
type LinkPicture struct {
	Part string `json:"part"`
	Href string `json:"href"` // empty: nowhere
}

var _ = register("link-picture", func() Act { return &LinkPicture{} })

func (a *LinkPicture) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	if err := followable(a.Href); a.Href != "" && err != nil {
		return err
	}
	was, linked := LinkOf(w.draft.Page(), part)
	if !linked || w.goingOn(a, a.Part) >= 0 {
		err := w.keep(a, a.Part)
		w.goOnWithPicture(part)
		return err
	}
	w.made = part.ID // the link has no words by which it is called
	if a.Href != "" {
		return (&Attribute{Part: was.ID, Name: "href", Words: a.Href}).do(w)
	}
	if slices.Contains(w.draft.Parts(), was.ID) {
		return refuse("The link around “%s” was changed by this request. Take that change out first.", part.Name)
	}
	return w.settle(-1, w.draft.Page(), edit{
		kind: OfSection, part: was, name: part.Name + ", link", before: was.Attributes.Get("href"),
		say: "The link around " + part.Name + " is taken out", ops: []change.Op{{Op: change.Open, Part: was.ID}},
	})
}

func (a *LinkPicture) goesOn(d *thread.Draft, k int) bool { return encloses(d, k, "<a") }

func (a *LinkPicture) edit(_ *work, at place) (edit, error) {
	part := at.part
	if !part.ShowsPicture() || part.Background {
		return edit{}, refuse("“%s” is no picture that lies among words.", part.Name)
	}
	e := edit{
		kind:  OfWords,
		part:  part,
		name:  part.Name + ", link",
		after: a.Href,
		say:   "A click on " + part.Name + " leads to " + a.Href,
	}
	e.ops = []change.Op{{Op: change.Enclose, Part: part.ID, HTML: `<a href="` + html.EscapeString(a.Href) + `"></a>`}}
	if a.Href == "" {
		e.ops = []change.Op{asItIs(part, "alt")}
	}
	return e, nil
}
