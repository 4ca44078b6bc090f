package act

import (
	"fmt"
	"html"
	"path"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
)

// PutPicture puts a new picture between blocks, or makes one that was put in by the same request otherwise.
type PutPicture struct {
	Part       string       `json:"part"`            // beside or in which; or the picture itself, where Where is empty
	Where      change.Where `json:"where,omitempty"` // before or after; first or last in it, as in a column
	Attachment int64        `json:"attachment_id,omitempty"`
	Path       string       `json:"path,omitempty"`
	Work       picture.Work `json:"work,omitzero"`
	Alt        string       `json:"alt"`               // empty: an ornament
	Side       string       `json:"side,omitempty"`    // left, centre, right; empty: it lies between the blocks
	Percent    float64      `json:"percent,omitempty"` // of the width of the words; 0 for its own size
	Caption    string       `json:"caption,omitempty"`
	Title      string       `json:"title,omitempty"`
	Link       string       `json:"link,omitempty"` // where a click on it leads
}

var _ = register("put-picture", func() Act { return &PutPicture{} })

func (a *PutPicture) pick() Pick { return Pick{a.Attachment, a.Path, a.Work} }

func (a *PutPicture) do(w *work) error {
	if a.pick().none() {
		return refuse("No picture is chosen.")
	}
	if a.Percent < 0 || a.Percent > 100 || a.Percent > 0 && a.Percent < smallest {
		return refuse("A picture takes from %d to 100 %% of the width of the words.", smallest)
	}
	if !slices.Contains([]string{"", "left", "centre", "right"}, a.Side) {
		return refuse("A picture lies at the left, in the centre or at the right.")
	}
	if err := followable(a.Link); a.Link != "" && err != nil {
		return err
	}
	at, err := w.spot(a.Part, a.Where)
	if err != nil {
		return err
	}
	return a.settle(w, at)
}

// smallest is how much of the width a picture takes at least, in percent.
const smallest = 10

// spot is where something is put in.
type spot struct {
	k       int   // the step whose other wording it is; -1 for a new one
	instead int64 // its change; 0 for a new one
	base    *page.Page
	beside  *page.Part // on base
	where   change.Where
}

// spot is beside a part of the draft; where where is empty, it is where the part itself was put in, to be made
// otherwise.
func (w *work) spot(id string, where change.Where) (spot, error) {
	part, err := w.pointed(id)
	if err != nil {
		return spot{}, err
	}
	d := w.draft
	if where == change.First || where == change.Last {
		if part.Kind != page.Section && part.Kind != page.Item || d.Page().Doc.Format != source.HTML {
			return spot{}, refuse("“%s” holds no blocks. Put it before or after.", part.Name)
		}
		within := map[change.Where]change.Where{change.First: change.FirstWithin, change.Last: change.LastWithin}
		return spot{-1, 0, d.Page(), part, within[where]}, nil
	}
	if where != "" {
		return spot{-1, 0, d.Page(), d.Page().Whole(part), where}, nil
	}
	for k := len(d.Kept) - 1; k >= 0; k-- {
		id := d.Parts()[k]
		if d.Kept[k].Fixed || d.Kept[k].Step[0].Op.Op != change.Insert || d.CopiedSince(k) {
			continue
		}
		if id != part.ID && id != d.Page().Whole(part).ID && (part.Parent == nil || id != part.Parent.ID) {
			continue
		}
		op, _, err := d.Kept[k].Step[0].Find(d.Before(k))
		if err != nil {
			return spot{}, err
		}
		beside, ok := d.Before(k).Part(op.Anchor)
		if !ok {
			return spot{}, errGone()
		}
		return spot{k, d.Kept[k].ID, d.Before(k), beside, op.Where}, nil
	}
	return spot{}, refuse("“%s” was not put in by this request, or is out already.", part.Name)
}

func (a *PutPicture) settle(w *work, at spot) error {
	fs := files{rest: w.rest, instead: at.instead}
	like := picturesLike(at.base)
	lead, err := fs.make(a.pick(), like.src)
	if err != nil {
		return err
	}
	markup, err := a.markup(at.base, lead, like, w.rest.Sides(at.base))
	if err != nil {
		return err
	}
	name := "New picture"
	if a.Alt != "" {
		name = page.Quoted(page.Short(a.Alt, 36))
	}
	e := edit{
		kind: OfPicture, name: name, pictures: fs.all, put: a, after: lead.Src,
		say: fmt.Sprintf(
			"New picture %s %s: %s, %d × %d, %s",
			whereSays[at.where],
			page.Quoted(at.beside.Name),
			path.Base(lead.Path),
			lead.Width,
			lead.Height,
			picture.Weight(int(lead.Size)),
		),
		ops: []change.Op{at.insert(markup)},
	}
	if err := w.settle(at.k, at.base, e); err != nil {
		return err
	}
	w.takeFirst((*page.Part).ShowsPicture)
	return nil
}

var whereSays = map[change.Where]string{change.Before: "before", change.After: "after", change.FirstWithin: "at the top of", change.LastWithin: "at the end of"}

// insert puts markup there.
func (at spot) insert(markup string) change.Op {
	return change.Op{Op: change.Insert, Anchor: at.beside.ID, Where: at.where, HTML: change.AsWritten(at.base, markup)}
}

// takeFirst makes the first part of a kind in what the last step put in the part to go on in.
func (w *work) takeFirst(is func(*page.Part) bool) {
	if w.last < 0 {
		return
	}
	now, ok := w.draft.Page().Part(w.draft.Parts()[w.last])
	for _, q := range w.draft.Page().All {
		if ok && q.Start >= now.Start && q.End <= now.End && is(q) {
			w.made = q.ID
			return
		}
	}
}

// like is how a page has its pictures.
type like struct {
	src    string // of one of them, beside which new files go
	class  string // of the figures that they stand in
	lazily bool   // they are loaded when they come into view
}

func picturesLike(p *page.Page) (l like) {
	for _, q := range p.OfKind(page.Picture) {
		if !q.ShowsPicture() {
			continue
		}
		if l.src == "" || q.Shared == "" {
			if src := page.PictureAddress(q); isOfSite(src) {
				l.src = src
			}
		}
		l.lazily = l.lazily || strings.EqualFold(q.Attributes.Get("loading"), "lazy")
		if up := q.Node.Parent; up != nil && up.Is("figure") && l.class == "" {
			l.class = p.Doc.Value(up, "class")
		}
	}
	return l
}

// isOfSite reports whether an address is a file of the page's own site: not of another one, no place on the page, no data.
func isOfSite(src string) bool {
	kind, _, _ := link.Of("http://site.example/", "/", src)
	return src != "" && kind == link.Inside
}

// The ways in which a picture lies among words where the site has none of its own: beside them it stays wide enough to
// be seen on a phone (CSS 2, 9.5; CSS Values 4, 10.1).
var inline = map[string]string{
	"":       "margin:1.4em 0",
	"left":   "float:left;margin:.3em 1.4em .8em 0;min-width:min(100%,200px)",
	"right":  "float:right;margin:.3em 0 .8em 1.4em;min-width:min(100%,200px)",
	"centre": "margin:1.4em auto;text-align:center",
}

// markup is the picture as it is put in.
func (a *PutPicture) markup(p *page.Page, f File, l like, sides map[string]string) (string, error) {
	attribute := func(name, value string) string { return " " + name + `="` + html.EscapeString(value) + `"` }
	img := "<img" + attribute("src", f.Src) + attribute("alt", strings.TrimSpace(a.Alt))
	if a.Title != "" {
		img += attribute("title", a.Title)
	}
	linked := func(img string) string {
		if a.Link == "" {
			return img
		}
		return "<a" + attribute("href", a.Link) + ">" + img + "</a>"
	}
	if p.Doc.Format == source.Markdown {
		if a.Side != "" || a.Percent != 0 || a.Caption != "" {
			return "", refuse(
				"A page in Markdown has no side, size or caption for a picture; its title is shown where it is pointed at.",
			)
		}
		return "<p>" + linked(img+">") + "</p>", nil
	}
	if f.Width > 0 {
		img += attribute("width", strconv.Itoa(f.Width)) + attribute("height", strconv.Itoa(f.Height))
	}
	if l.lazily {
		img += ` loading="lazy"`
	}
	class, css := l.class, ""
	if own := sides[a.Side]; own != "" {
		class = strings.TrimSpace(class + " " + own)
	} else if a.Side != "" || class == "" {
		css = inline[a.Side]
	}
	own := "max-width:100%;height:auto"
	if a.Percent > 0 {
		css = strings.TrimPrefix(css+";width:"+strconv.FormatFloat(a.Percent, 'f', -1, 64)+"%", ";")
		own = "display:block;width:100%;height:auto"
	}
	img += attribute("style", own) + ">"
	open := "<figure"
	if class != "" {
		open += attribute("class", class)
	}
	if css != "" {
		open += attribute("style", css)
	}
	caption := strings.TrimSpace(a.Caption)
	if caption != "" {
		caption = "<figcaption>" + change.EscapeText(caption) + "</figcaption>"
	}
	return open + ">" + linked(img) + caption + "</figure>", nil
}
