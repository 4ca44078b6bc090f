package act_test

import (
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
)

// asked is a studio that notes how a picture under its address was to be cut.
type asked struct {
	studio
	crop **picture.Rect
}

func (a asked) Replaced(p act.Pick, src string, size int64) (act.Brought, error) {
	*a.crop = p.Work.Crop
	return a.studio.Replaced(p, src, size)
}

// A crop by hand stays where its shape is that of the place within the 2 % of the trade, and not only to the last pixel.
func TestACropByHandStaysWhereAPictureIsReplacedEverywhere(t *testing.T) {
	t.Parallel()
	d := draft(t, `<h1>Boats</h1><p>Words.</p><img src="/img/large.jpg" alt="A boat">`) // of 1200 × 800
	var part string
	for _, p := range d.Page().All {
		if p.Kind == page.Picture {
			part = p.ID
		}
	}
	for _, c := range []struct {
		w, h  int
		stays bool
	}{{1200, 800, true}, {1333, 889, true}, {1500, 985, true}, {1600, 900, false}, {800, 800, false}} {
		var crop *picture.Rect
		a := &act.Picture{Part: part, Attachment: 7, Everywhere: true, Work: picture.Work{Crop: &picture.Rect{X: 4, Y: 5, Width: c.w, Height: c.h}}}
		if _, err := act.Do(d, a, asked{crop: &crop}); err != nil {
			t.Fatal(err)
		}
		if (crop != nil) != c.stays {
			t.Errorf("%d × %d: %+v", c.w, c.h, crop)
		}
	}
}
