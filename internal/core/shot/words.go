package shot

import (
	"image"
	"slices"

	"mendry/internal/core/page"
	"mendry/internal/core/style"
)

// Over are words that stand over a picture.
type Over struct {
	Part  string // its ID
	Ink   style.Color
	Large bool              // large text by WCAG 2.2
	Lines []image.Rectangle // where they stand
}

// Faint are words that hardly stand out from the picture behind them.
type Faint struct {
	Name     string  `json:"name"`
	Contrast float64 `json:"contrast"`
	Needs    float64 `json:"needs"`
}

// Contrast by WCAG 2.2, 1.4.3 (AA): of large text, and of other text.
const (
	needsLarge = 3
	needsText  = 4.5
)

// worst is the share of the points behind words that is let go as the worst ones: a star in a night sky hides no
// letter, a twentieth of the ground does (common practice, no source).
const worst = 0.05

// Stands is the contrast of words with the picture behind them, where that is worst: bare is the page without the
// words. It is 0 where they stand nowhere.
func (o Over) Stands(bare image.Image) float64 {
	m := points(bare)
	var all []float64
	known := map[[3]uint8]float64{}
	for _, line := range o.Lines {
		r := line.Intersect(m.Rect)
		for y := r.Min.Y; y < r.Max.Y; y += 2 {
			for x := r.Min.X; x < r.Max.X; x += 2 {
				p := m.Pix[m.PixOffset(x, y):]
				at := [3]uint8{p[0], p[1], p[2]}
				c, ok := known[at]
				if !ok {
					c = style.Contrast(o.Ink, style.Color{R: at[0], G: at[1], B: at[2], A: 1})
					known[at] = c
				}
				all = append(all, c)
			}
		}
	}
	if len(all) == 0 {
		return 0
	}
	slices.Sort(all)
	return all[int(worst*float64(len(all)))]
}

func (o Over) faint(bare image.Image) (f Faint, is bool) {
	f.Contrast, f.Needs = o.Stands(bare), needsText
	if o.Large {
		f.Needs = needsLarge
	}
	return f, f.Contrast > 0 && f.Contrast < f.Needs
}

// FaintWords lists the words of a page that hardly stand out from the picture behind them, unless they did so before.
func FaintWords(was, now *page.Page, before, after []Over, bareBefore, bareAfter image.Image) (all []Faint) {
	key := func(p *page.Page, id string) string {
		if part, ok := p.Part(id); ok {
			return string(part.Kind) + " " + part.HTML
		}
		return ""
	}
	if bareBefore != nil {
		bareBefore = points(bareBefore)
	}
	bareAfter = points(bareAfter)
	had := map[string]bool{}
	for _, o := range before {
		if _, is := o.faint(bareBefore); is && bareBefore != nil {
			had[key(was, o.Part)] = true
		}
	}
	for _, o := range after {
		f, is := o.faint(bareAfter)
		if part, ok := now.Part(o.Part); is && ok && !had[key(now, o.Part)] {
			f.Name = part.Name
			all = append(all, f)
		}
	}
	return all
}
