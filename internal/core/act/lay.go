package act

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
)

// LayPicture lays a picture that is on the page at a side, and gives it a share of the width of the words: by the
// site's own class for that, or by a style of its own.
type LayPicture struct {
	Part    string  `json:"part"`
	Side    string  `json:"side"`              // left, centre, right; empty: between the blocks
	Percent float64 `json:"percent,omitempty"` // of the width of the words; 0: as it is by the site's style
}

var _ = register("lay-picture", func() Act { return &LayPicture{} })

func (a *LayPicture) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	w.made = part.ID // attributes give no part another name, and one goes on with the picture
	return w.keep(a, laid(w.draft.Page(), part).ID)
}

// laid is the part that is laid when a picture is: its figure, where that is a part.
func laid(p *page.Page, part *page.Part) *page.Part {
	if whole := p.Whole(part); whole.Run == nil && whole.Node.Is("figure") {
		return whole
	}
	return part
}

func (a *LayPicture) goesOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.SetAttribute && (op.Name == "class" || op.Name == "style") // no other act sets those of a picture
}

func (a *LayPicture) edit(w *work, at place) (edit, error) {
	part := at.part
	switch {
	case at.base.Doc.Format != source.HTML:
		return edit{}, refuse("A page in Markdown has no side or size for a picture.")
	case !part.ShowsPicture() && !part.Node.Is("figure") || part.Background:
		return edit{}, refuse("“%s” is no picture that lies among words.", part.Name)
	case !slices.Contains([]string{"", "left", "centre", "right"}, a.Side):
		return edit{}, refuse("A picture lies at the left, in the centre or at the right.")
	case a.Percent < 0 || a.Percent > 100 || a.Percent > 0 && a.Percent < smallest:
		return edit{}, refuse("A picture takes from %d to 100 %% of the width of the words.", smallest)
	}
	sides := w.rest.Sides(at.base)
	_, classes := sideClasses(part, sides)
	own := without(part.Attributes.Get("style"), laying...)
	if class := sides[a.Side]; class != "" {
		classes = append(classes, class)
	} else if a.Side != "" {
		own = append(own, inline[a.Side])
		if a.Side == "centre" && part.Kind == page.Picture {
			own = append(own, "display:block")
		}
	}
	share := "all"
	if a.Percent > 0 {
		share = strconv.FormatFloat(a.Percent, 'f', -1, 64) + " %"
		own = append(own, "width:"+strings.ReplaceAll(share, " ", ""))
		if part.Kind == page.Picture {
			own = append(own, "height:auto")
		}
	}
	name := part.Name
	for _, q := range at.base.OfKind(page.Picture) { // a figure is called by its caption
		if q.ShowsPicture() && q.Start >= part.Start && q.End <= part.End {
			name = q.Name
			break
		}
	}
	e := edit{kind: OfSection, part: part, name: name, say: fmt.Sprintf("%s lies %s, %s of the width of the words", name, sideSays[a.Side], share)}
	if e.ops = dressed(part, classes, own); len(e.ops) == 0 {
		e.ops = []change.Op{asItIs(part, "class")}
	}
	return e, nil
}

// laying are the properties of a style by which a picture is laid among words and sized (CSS 2, 8 to 10).
var laying = []string{"float", "margin", "margin-left", "margin-right", "min-width", "width", "text-align", "display"}

// sideClasses tells the site's classes that lay a part at a side from its other ones.
func sideClasses(part *page.Part, sides map[string]string) (laid, others []string) {
	for _, c := range strings.Fields(part.Attributes.Get("class")) {
		if c == sides["left"] || c == sides["centre"] || c == sides["right"] {
			laid = append(laid, c)
		} else {
			others = append(others, c)
		}
	}
	return laid, others
}

// dressed gives a part classes and a style in the place of those that it has; none where they are the same.
func dressed(part *page.Part, classes, declarations []string) (ops []change.Op) {
	for _, a := range [][2]string{{"class", strings.Join(classes, " ")}, {"style", strings.Join(declarations, ";")}} {
		name, value := a[0], a[1]
		had, has := part.Attributes.Lookup(name)
		switch {
		case value == had && has, value == "" && !has:
		case value == "":
			ops = append(ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name})
		default:
			ops = append(ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: &value})
		}
	}
	return ops
}

// LaidAs tells how a picture on a page lies: the side by its own style or by what its class is called, and the share
// of the width that its own style gives it, in percent; 0 where it gives none.
func LaidAs(p *page.Page, part *page.Part) (side string, percent float64) {
	part = laid(p, part)
	for _, class := range strings.Fields(part.Attributes.Get("class")) {
		side = cmp.Or(style.Side(class), side)
	}
	margin := ""
	for _, d := range style.Declarations(part.Attributes.Get("style")) {
		switch d.Property {
		case "float":
			if value := strings.ToLower(d.Value); value == "left" || value == "right" {
				side = value
			}
		case "margin":
			margin = d.Value
		case "width":
			percent, _ = strconv.ParseFloat(strings.TrimSuffix(d.Value, "%"), 64)
			if !strings.HasSuffix(d.Value, "%") {
				percent = 0
			}
		}
	}
	if side == "" && strings.HasSuffix(margin, "auto") {
		side = "centre"
	}
	return side, percent
}

var sideSays = map[string]string{"": "between the blocks", "left": "at the left", "centre": "in the centre", "right": "at the right"}

// without are the declarations of a style attribute but for some.
func without(attribute string, properties ...string) (kept []string) {
	for _, d := range style.Declarations(attribute) {
		if !slices.Contains(properties, d.Property) {
			kept = append(kept, d.Raw)
		}
	}
	return kept
}
