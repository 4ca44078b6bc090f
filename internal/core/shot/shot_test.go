package shot

import (
	"image"
	"image/color"
	"image/draw"
	"testing"
)

// sheet is a picture of so many points, white, with boxes of a colour on it.
func sheet(w, h int, boxes ...image.Rectangle) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(m, m.Rect, image.White, image.Point{}, draw.Src)
	for i, b := range boxes {
		paint(m, b, i)
	}
	return m
}

// paint draws something like words: no two rows and columns of it are alike.
func paint(m *image.RGBA, b image.Rectangle, like int) {
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			v := uint8((x-b.Min.X)*37 + (y-b.Min.Y)*91 + like*53)
			m.Set(x, y, color.RGBA{v, v / 2, 200 - v/2, 255})
		}
	}
}

func covers(got, want image.Rectangle) bool {
	return want.Empty() && got.Empty() || want.In(got) && got.In(want.Inset(-2*cell))
}

// What looks different is found where it is and no larger than it is, to two cells; what was pushed down, and what
// grew with it, is no difference.
func TestCompare(t *testing.T) {
	head, foot := image.Rect(20, 20, 380, 60), func(y int) image.Rectangle { return image.Rect(20, y, 380, y+40) }
	word := image.Rect(40, 100, 90, 116)
	for name, tt := range map[string]struct {
		before, after *image.RGBA
		want          []Region
	}{
		"the same":    {sheet(400, 500, head, word), sheet(400, 500, head, word), nil},
		"a word":      {sheet(400, 500, head, word), sheet(400, 500, head, word.Add(image.Pt(0, 0)), image.Rect(60, 100, 80, 116)), []Region{{image.Rect(60, 100, 80, 116), image.Rect(60, 100, 80, 116)}}},
		"two places":  {sheet(400, 500, head), sheet(400, 500, head, word, image.Rect(300, 100, 340, 116)), []Region{{After: word}, {After: image.Rect(300, 100, 340, 116)}}},
		"a line more": {sheet(400, 500, head, foot(200)), sheet(400, 540, head, foot(240), image.Rect(20, 200, 380, 224)), nil},
	} {
		got := Compare(tt.before, tt.after)
		if name == "a line more" {
			if len(got) != 1 || !image.Rect(20, 200, 380, 224).In(got[0].After) || got[0].After.Dy() > 60 ||
				got[0].Before.Dy() > 2*cell {
				t.Errorf("%s: %v", name, got)
			}
			continue
		}
		if len(got) != len(tt.want) {
			t.Errorf("%s: %v, want %v", name, got, tt.want)
			continue
		}
		for i := range got {
			if !covers(got[i].Before, tt.want[i].Before) || !covers(got[i].After, tt.want[i].After) {
				t.Errorf("%s: %v, want %v", name, got[i], tt.want[i])
			}
		}
	}
}

// Three cards in a row: one gets a line more and grows, so its neighbours grow with it. Only the one that was changed
// is told.
func TestNeighboursThatGrowAreNoDifference(t *testing.T) {
	cards := func(high, line int) *image.RGBA {
		m := sheet(600, high+300)
		for i := range 3 {
			card := image.Rect(20+i*190, 50, 190+i*190, 50+high)
			draw.Draw(m, card, image.NewUniform(color.RGBA{230, 235, 240, 255}), image.Point{}, draw.Src)
			paint(m, image.Rect(card.Min.X+10, 60, card.Max.X-10, 110), i)
			draw.Draw(
				m,
				image.Rect(card.Min.X, card.Max.Y-3, card.Max.X, card.Max.Y),
				image.Black,
				image.Point{},
				draw.Src,
			)
		}
		if line > 0 {
			paint(m, image.Rect(220, 112, 370, 112+line), 7)
		}
		paint(m, image.Rect(20, 50+high+40, 580, 50+high+90), 9) // what stands below is pushed down
		return m
	}
	got := Compare(cards(90, 0), cards(114, 24))
	for _, r := range got {
		if r.After.Min.X < 200 || r.After.Max.X > 390 || r.After.Min.Y < 96 || r.After.Max.Y > 150 {
			t.Errorf("told: %v", r)
		}
	}
	if len(got) != 1 {
		t.Errorf("%v", got)
	}
}

// A page that is shorter than the window ends in plain ground, of which less is seen when words above it grow.
func TestTheGroundBelowAPageIsNoDifference(t *testing.T) {
	line, foot := image.Rect(20, 100, 380, 116), image.Rect(20, 140, 160, 152)
	got := Compare(
		sheet(400, 800, image.Rect(20, 20, 380, 60), line, foot),
		sheet(400, 800, image.Rect(20, 20, 380, 60), line, foot.Add(image.Pt(0, 60)), image.Rect(20, 120, 380, 176)),
	)
	for _, r := range got {
		if !r.After.In(image.Rect(0, 96, 400, 200)) {
			t.Errorf("%v", got)
		}
	}
}

// Ground of another colour is told, though nothing is seen in it.
func TestGroundOfAnotherColour(t *testing.T) {
	before, after := sheet(400, 300, image.Rect(20, 20, 380, 60)), sheet(400, 300, image.Rect(20, 20, 380, 60))
	at := image.Rect(40, 104, 360, 200)
	draw.Draw(after, at, image.NewUniform(color.RGBA{200, 0, 0, 255}), image.Point{}, draw.Src)
	if got := Compare(before, after); len(got) != 1 || !at.In(got[0].After) || got[0].After.Dx() > at.Dx()+2*cell {
		t.Errorf("%v", got)
	}
}

// What is taken out is told by where it was.
func TestWhatIsGone(t *testing.T) {
	line := image.Rect(20, 200, 380, 224)
	got := Compare(
		sheet(400, 540, image.Rect(20, 20, 380, 60), line, image.Rect(20, 240, 380, 280)),
		sheet(400, 500, image.Rect(20, 20, 380, 60), image.Rect(0, 0, 0, 0), image.Rect(20, 200, 380, 240)),
	)
	if len(got) != 1 || !line.Inset(2).In(got[0].Before) || got[0].Before.Dy() > 60 || got[0].After.Dy() > 2*cell {
		t.Errorf("%v", got)
	}
}

func FuzzCompare(f *testing.F) {
	f.Add(uint8(3), uint8(9), uint16(40), uint16(44))
	f.Fuzz(func(t *testing.T, x, y uint8, ha, hb uint16) {
		a, b := sheet(120, int(ha%300)+1), sheet(120, int(hb%300)+1)
		paint(b, image.Rect(int(x), int(y), int(x)+20, int(y)+12).Intersect(b.Rect), 3)
		for _, r := range Compare(a, b) {
			if !r.Before.In(a.Rect) || !r.After.In(b.Rect) || r.Before.Empty() && r.After.Empty() {
				t.Errorf("%v of %v and %v", r, a.Rect, b.Rect)
			}
		}
	})
}

func BenchmarkCompare(b *testing.B) {
	before, after := sheet(
		1280,
		6000,
		image.Rect(20, 20, 1200, 5900),
	), sheet(
		1280,
		6000,
		image.Rect(20, 20, 1200, 5900),
	)
	paint(after, image.Rect(100, 3000, 700, 3030), 5)
	for b.Loop() {
		Compare(before, after)
	}
}
