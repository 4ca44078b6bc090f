package byhand

import (
	"fmt"
	"math/rand"
	"os"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// strangers are pages that nobody here wrote, out of the packages of the browser tests.
func strangers(t *testing.T) (ps []*page.Page) {
	t.Helper()
	for _, f := range foreign.Files(t) {
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		if p, err := page.Parse(b, ""); err == nil && len(b) < 40_000 {
			ps = append(ps, p)
		}
	}
	if len(ps) == 0 {
		t.Skip("the templates are not installed (make e2e/node_modules)")
	}
	return ps
}

// Whatever is changed on a page of anybody's: all of it is right where all of it was put in, nothing is where nothing
// was, and no difference is somebody else's then.
func TestWhateverIsChangedIsSeen(t *testing.T) {
	ps := strangers(t)
	random := rand.New(rand.NewSource(11))
	done, odd := 0, 0
	for range tries.Number("MENDRY_LISTS", 60, 400) {
		before := ps[random.Intn(len(ps))]
		after := before
		for range 1 + random.Intn(3) {
			op := change.Op{Part: after.All[random.Intn(len(after.All))].ID}
			switch random.Intn(4) {
			case 0, 1:
				op.Op, op.HTML = change.SetWords, fmt.Sprintf("New words %d", random.Intn(1000))
			case 2:
				op.Op = change.Remove
			default:
				op.Op, op.Anchor, op.Where = change.Copy, op.Part, change.After
			}
			if r, err := change.Apply(after, []change.Op{op}); err == nil {
				after = r.Page
			}
		}
		items := List(before, after)
		if len(items) == 0 {
			continue
		}
		done++
		found, others := Look(items, before, after, after)
		for i, f := range found {
			if f.Seen != Right {
				t.Errorf("all is put in: %s is %s", items[i].Say, f.Seen)
			}
		}
		wrong := len(others)
		found, others = Look(items, before, after, before)
		for i, f := range found {
			if f.Seen == Right {
				wrong++
				t.Logf("nothing is put in: %s (%s) is right", items[i].Say, items[i].Act)
			}
		}
		for _, o := range others {
			t.Logf("nothing is put in: %s is somebody else’s", o.Say)
		}
		if wrong += len(others); wrong > 0 {
			odd++
		}
	}
	t.Logf("%d pages, %d of %d lists with something odd", len(ps), odd, done)
	if odd*50 > done { // what is copied beside what is just like it, and moved past it, cannot always be told
		t.Errorf("%d of %d lists say something wrong", odd, done)
	}
}
