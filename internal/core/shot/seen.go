package shot

import (
	"image"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
)

// Sight is a page at one width, before and after changes, as a browser draws it. The page before is drawn twice, so
// that what moves by itself is known.
type Sight struct {
	Was, Now             *page.Page
	Before, Again, After image.Image
	PartsBefore          map[string]image.Rectangle // where parts stand, by their IDs
	PartsAfter           map[string]image.Rectangle
	Touched              []*page.Part // of Now, that look otherwise though their bytes are the same: another file stands behind them
}

// Seen is a place that looks different.
type Seen struct {
	Before   image.Rectangle `json:"before"`
	After    image.Rectangle `json:"after"`
	Intended bool            `json:"intended"` // something was changed there
	Name     string          `json:"name"`     // of the part where it is
}

// nearby is how far from a changed part, in points, a difference still belongs to it: its margin, its shadow.
const nearby = 24

// Look finds what looks different, and how many spots move by themselves, which are left out. A part that was not
// changed is compared with itself, wherever it stands now; what is in no part is a difference where nothing near it
// was changed.
func (s Sight) Look() (all []Seen, moving int) {
	s.Before, s.Again, s.After = points(s.Before), points(s.Again), points(s.After) // once
	moves := Compare(s.Before, s.Again)
	still := func(r Region) bool {
		return !slices.ContainsFunc(moves, func(by Region) bool { return mostlyIn(r, by) })
	}
	was, now := s.changed()
	for _, pair := range s.unchanged(was, now) {
		r := Region{s.PartsBefore[pair[0].ID], s.PartsAfter[pair[1].ID]}
		if still(r) && !same(s.Before, s.After, r.Before, r.After) {
			all = append(all, Seen{r.Before, r.After, false, pair[1].Name})
		}
	}
	for _, r := range Compare(s.Before, s.After) {
		if !still(r) {
			continue
		}
		one := Seen{Before: r.Before, After: r.After}
		one.Intended = meets(r.After, s.PartsAfter, now) || meets(r.Before, s.PartsBefore, was)
		if !one.Intended &&
			slices.ContainsFunc(
				all,
				func(o Seen) bool { return o.After.Overlaps(r.After) || o.Before.Overlaps(r.Before) },
			) {
			continue // told by its part
		}
		if one.Name = nameAt(s.Now, s.PartsAfter, r.After); one.Name == "" {
			one.Name = nameAt(s.Was, s.PartsBefore, r.Before)
		}
		all = append(all, one)
	}
	return all, len(moves)
}

// changed are the parts before and after that changes are about, by their IDs.
func (s Sight) changed() (was, now map[string]bool) {
	was, now = map[string]bool{}, map[string]bool{}
	for _, d := range change.Compare(s.Was, s.Now).Changes {
		for _, p := range d.Was {
			was[p.ID] = true
		}
		for _, p := range d.Now {
			now[p.ID] = true
		}
	}
	for _, p := range s.Touched {
		now[p.ID] = true
		for _, q := range s.Was.OfKind(p.Kind) {
			if q.HTML == p.HTML {
				was[q.ID] = true
			}
		}
	}
	return was, now
}

// unchanged are the parts that hold no other ones and were not changed, before and after side by side.
func (s Sight) unchanged(was, now map[string]bool) (pairs [][2]*page.Part) {
	a, b := leaves(s.Was, s.PartsBefore, was), leaves(s.Now, s.PartsAfter, now)
	i, j := 0, 0
	for _, op := range diff.Script(keys(a), keys(b)) {
		switch op.Is {
		case diff.Same:
			for n := range op.N {
				pairs = append(pairs, [2]*page.Part{a[i+n], b[j+n]})
			}
			i, j = i+op.N, j+op.N
		case diff.Gone:
			i += op.N
		case diff.New:
			j += op.N
		}
	}
	return pairs
}

// leaves are the parts of a page that are seen and hold no other ones, but for those that were changed, or stand in
// one that was.
func leaves(p *page.Page, at map[string]image.Rectangle, changed map[string]bool) (all []*page.Part) {
	for _, part := range p.All {
		in := false
		for up := part; up != nil; up = up.Parent {
			in = in || changed[up.ID]
		}
		if r := at[part.ID]; !in && len(part.Parts) == 0 && !r.Empty() {
			all = append(all, part)
		}
	}
	return all
}

func keys(parts []*page.Part) (ks []string) {
	for _, p := range parts {
		ks = append(ks, string(p.Kind)+" "+p.HTML)
	}
	return ks
}

// fewPoints is the share of a part's points that may differ and pass: what a cursor that blinks or a shadow of a
// neighbour takes.
const fewPoints = 0.01

// same reports whether a part looks as it did, at most a point off its place: browsers set parts between points.
func same(before, after image.Image, a, b image.Rectangle) bool {
	if d := a.Dx() - b.Dx(); d > 1 || d < -1 {
		return false
	}
	if d := a.Dy() - b.Dy(); d > 1 || d < -1 {
		return false
	}
	p, q := points(before), points(after)
	for _, dy := range []int{0, -1, 1} {
		for _, dx := range []int{0, -1, 1} {
			if off(p, q, a, b.Min.Add(image.Pt(dx, dy)).Sub(a.Min)) {
				return true
			}
		}
	}
	return false
}

// off reports whether few points of a rectangle differ from those that stand by so much elsewhere in the other
// picture.
func off(p, q *image.RGBA, a image.Rectangle, by image.Point) bool {
	inner := a.Inset(1).Intersect(p.Rect).Intersect(q.Rect.Sub(by))
	may := int(fewPoints * float64(inner.Dx()*inner.Dy()))
	for y := inner.Min.Y; y < inner.Max.Y; y++ {
		for x := inner.Min.X; x < inner.Max.X; x++ {
			if near(p.Pix[p.PixOffset(x, y):], q.Pix[q.PixOffset(x+by.X, y+by.Y):]) {
				continue
			}
			if may--; may < 0 {
				return false
			}
		}
	}
	return true
}

// mostlyIn reports whether a difference is one of what moves by itself: most of it lies there.
func mostlyIn(r, moving Region) bool {
	at := moving.Before.Union(moving.After).Inset(-nearby)
	area := func(r image.Rectangle) int { return r.Dx() * r.Dy() }
	return 2*area(r.Before.Intersect(at)) > area(r.Before) || 2*area(r.After.Intersect(at)) > area(r.After)
}

func meets(r image.Rectangle, parts map[string]image.Rectangle, ids map[string]bool) bool {
	for id := range ids {
		if at := parts[id]; !at.Empty() && at.Inset(-nearby).Overlaps(r) {
			return true
		}
	}
	return false
}

// nameAt is the name of the part where a difference is: the smallest that holds most of it.
func nameAt(p *page.Page, parts map[string]image.Rectangle, r image.Rectangle) string {
	name, size := "", 0
	for _, part := range p.All {
		at := parts[part.ID]
		in := at.Intersect(r)
		if area := at.Dx() * at.Dy(); 2*in.Dx()*in.Dy() > r.Dx()*r.Dy() && (name == "" || area < size) {
			name, size = part.Name, area
		}
	}
	return name
}
