// Package shot finds what differs between two pictures of a page, as a browser draws it before and after a change. A
// line more in a paragraph pushes all below it down: rows of points are brought into line first, so that only what
// looks different is told, and not what merely moved.
package shot

import (
	"cmp"
	"hash/maphash"
	"image"
	"image/draw"
	"slices"

	"mendry/internal/core/diff"
)

// Region is a part of the pages that looks different.
type Region struct {
	Before image.Rectangle // in the picture before; empty where nothing was there
	After  image.Rectangle // in the picture after; empty where nothing is there any more
}

// cell is the side of the squares in which points are compared, in points: words that differ in a letter are one
// region then, and neighbours a line apart are two. gap is how many cells without a difference lie between two regions
// at least.
const (
	cell = 8
	gap  = 2
)

// few is by how much a point's colours may differ, of 255 each, and count as the same: a browser draws the edges of
// letters and pictures not twice alike where they stand a fraction of a point apart.
const few = 12

// Compare lists what differs between two pictures of a page at one width, from the top down. Where their widths
// differ, all does.
func Compare(before, after image.Image) []Region {
	a, b := points(before), points(after)
	if a.Rect.Dx() != b.Rect.Dx() {
		return []Region{{a.Rect, b.Rect}}
	}
	var all []Region
	ya, yb := 0, 0
	ops := diff.Script(rows(a), rows(b))
	for i := 0; i < len(ops); {
		if ops[i].Is == diff.Same {
			ya, yb, i = ya+ops[i].N, yb+ops[i].N, i+1
			continue
		}
		ha, hb := 0, 0
		// A few rows that are the same by chance, as between two lines of words, part nothing.
		for ; i < len(ops) && (ops[i].Is != diff.Same || ops[i].N < cell && i+1 < len(ops)); i++ {
			if ops[i].Is != diff.New {
				ha += ops[i].N
			}
			if ops[i].Is != diff.Gone {
				hb += ops[i].N
			}
		}
		all = append(all, band(a, b, ya, ha, yb, hb)...)
		ya, yb = ya+ha, yb+hb
	}
	return all
}

// points are an image's points, from 0,0.
func points(m image.Image) *image.RGBA {
	if r, ok := m.(*image.RGBA); ok && r.Rect.Min == (image.Point{}) {
		return r
	}
	r := image.NewRGBA(image.Rectangle{Max: m.Bounds().Size()})
	draw.Draw(r, r.Rect, m, m.Bounds().Min, draw.Src)
	return r
}

var seed = maphash.MakeSeed()

// rows are numbers for an image's rows, the same for rows of the same points.
func rows(m *image.RGBA) []uint64 {
	all := make([]uint64, m.Rect.Dy())
	var h maphash.Hash
	h.SetSeed(seed)
	for y := range all {
		h.Reset()
		_, _ = h.Write(m.Pix[y*m.Stride : y*m.Stride+4*m.Rect.Dx()])
		all[y] = h.Sum64()
	}
	return all
}

// band finds the regions in rows that differ: ha rows from ya on before, hb from yb on after. It is looked at in
// strips from top to bottom, a cell wide: what is the same from the top and from the bottom is let go, so that a
// column that did not grow beside one that did is no difference.
func band(a, b *image.RGBA, ya, ha, yb, hb int) (all []Region) {
	wide, high := (a.Rect.Dx()+cell-1)/cell, (max(ha, hb)+cell-1)/cell
	differs := make([]bool, wide*high)
	for i := range wide {
		s := strip{a, b, i * cell, min((i+1)*cell, a.Rect.Dx()), ya, ha, yb, hb}
		s.differs(func(y int) { differs[y/cell*wide+i] = true })
	}
	grown := hb - ha
	for _, box := range boxes(differs, wide, high) {
		var r Region
		x0, x1 := box.Min.X*cell, min(box.Max.X*cell, a.Rect.Dx())
		y0, y1 := box.Min.Y*cell, box.Max.Y*cell
		r.After = image.Rect(x0, yb+y0, x1, yb+min(y1, hb))
		r.Before = image.Rect(x0, ya+y0, x1, ya+min(y1-grown, ha))
		if r.Before.Min.Y >= ya+ha || y1-grown <= y0 {
			r.Before = image.Rectangle{}
		}
		if grown < 0 { // what is gone is taller than what took its place
			r.After.Max.Y = yb + min(max(y1+grown, y0), hb)
			r.Before.Max.Y = ya + min(y1, ha)
		}
		if r.After.Min.Y >= r.After.Max.Y {
			r.After = image.Rectangle{}
		}
		if before, after := inked(a, r.Before), inked(b, r.After); !before.Empty() || !after.Empty() {
			r = Region{before, after} // else it is ground of another colour
		}
		all = append(all, r)
	}
	slices.SortStableFunc(all, func(p, q Region) int { return cmp.Compare(top(p), top(q)) })
	return all
}

// inked is a rectangle less the plain rows above and below what is seen in it.
func inked(m *image.RGBA, r image.Rectangle) image.Rectangle {
	plain := func(y int) bool {
		first := m.Pix[m.PixOffset(r.Min.X, y):]
		for x := r.Min.X + 1; x < r.Max.X; x++ {
			if p := m.Pix[m.PixOffset(x, y):]; p[0] != first[0] || p[1] != first[1] || p[2] != first[2] {
				return false
			}
		}
		return true
	}
	for !r.Empty() && plain(r.Min.Y) {
		r.Min.Y++
	}
	for !r.Empty() && plain(r.Max.Y-1) {
		r.Max.Y--
	}
	if r.Empty() {
		return image.Rectangle{}
	}
	return r
}

func top(r Region) int {
	if r.After.Empty() {
		return r.Before.Min.Y
	}
	return r.After.Min.Y
}

// strip is the columns from x0 to x1 of a band.
type strip struct {
	a, b           *image.RGBA
	x0, x1         int
	ya, ha, yb, hb int
}

func (s strip) same(ra, rb int) bool { return alike(s.a, s.b, s.x0, s.x1, s.ya+ra, s.yb+rb) }

// differs calls mark for each row of the taller side in which the strip differs.
func (s strip) differs(mark func(y int)) {
	short := min(s.ha, s.hb)
	head, tail := 0, 0
	for head < short && s.same(head, head) {
		head++
	}
	for tail < short-head && s.same(s.ha-1-tail, s.hb-1-tail) {
		tail++
	}
	na, nb := s.ha-tail-head, s.hb-tail-head
	if na == 0 && ground(s.b, s.x0, s.x1, s.yb+head, nb) || nb == 0 && ground(s.a, s.x0, s.x1, s.ya+head, na) {
		return
	}
	for y := head; y < head+max(na, nb); y++ {
		if na != nb || !s.same(y, y) {
			mark(y)
		}
	}
}

// ground reports whether n rows that one picture has more than the other are plain, and go on as the row above or
// below them: a box that grew with its neighbour, a gap that became wider, the end of a page that is shorter than the
// window.
func ground(m *image.RGBA, x0, x1, y, n int) bool {
	for row := y + 1; row < y+n; row++ {
		if !alike(m, m, x0, x1, row, y) {
			return false
		}
	}
	return n == 0 || y == 0 || y+n == m.Rect.Dy() || alike(m, m, x0, x1, y-1, y) || alike(m, m, x0, x1, y+n, y)
}

// alike reports whether two rows look the same from x0 to x1.
func alike(a, b *image.RGBA, x0, x1, ya, yb int) bool {
	for x := x0; x < x1; x++ {
		if !near(a.Pix[a.PixOffset(x, ya):], b.Pix[b.PixOffset(x, yb):]) {
			return false
		}
	}
	return true
}

// near reports whether two points have nearly the same colour.
func near(p, q []uint8) bool {
	for i := range 4 {
		if d := int(p[i]) - int(q[i]); d > few || d < -few {
			return false
		}
	}
	return true
}

// boxes are the rectangles, in cells, around those that hang together.
func boxes(differs []bool, wide, high int) (all []image.Rectangle) {
	var stack []image.Point
	for start := range differs {
		if !differs[start] {
			continue
		}
		box := image.Rectangle{}
		stack = append(stack[:0], image.Pt(start%wide, start/wide))
		differs[start] = false
		for len(stack) > 0 {
			p := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			box = box.Union(image.Rect(p.X, p.Y, p.X+1, p.Y+1))
			for y := max(0, p.Y-gap); y <= min(high-1, p.Y+gap); y++ {
				for x := max(0, p.X-gap); x <= min(wide-1, p.X+gap); x++ {
					if at := y*wide + x; differs[at] {
						differs[at] = false
						stack = append(stack, image.Pt(x, y))
					}
				}
			}
		}
		all = append(all, box)
	}
	return all
}
