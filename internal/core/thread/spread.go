package thread

import (
	"bytes"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// Spread makes for another page's draft what step k did to a shared part here: shared stands on the page before that
// step, twin on the finished draft of the other page. Where both were the same before, they are the same after. The
// error is a refusal.
func (d *Draft) Spread(k int, shared change.Shared, other *Draft, twin change.Shared) (change.Step, error) {
	ops, err := d.Kept[k].Step.Spread(shared, twin)
	if err != nil {
		return nil, err
	}
	alone, err := Alone(other.Page(), ops)
	if err != nil {
		return nil, err
	}
	if why := page.Worse(other.Page(), alone.Page()); why != "" {
		return nil, refusal.New(refusal.Rule, "%s", why)
	}
	if bytes.Equal(alone.Page().Doc.Bytes, other.Page().Doc.Bytes) {
		return nil, refusal.New(refusal.Rule, "It stands there already.")
	}
	here, there := placed(shared, d.at[k]), placed(twin, other.Page())
	if !page.AlikeOn(here, shared.Part, there, twin.Part) {
		return alone.Kept[0].Step, nil
	}
	now, then := d.follow(shared.Part, k), alone.Now(twin.Part, 0)
	same := now == nil && then == nil
	if now != nil && then != nil {
		same = page.AlikeOn(placed(shared, d.at[k+1]), now, placed(twin, alone.Page()), then)
	}
	if !same {
		return nil, refusal.New(refusal.Rule, "“%s” would not become there what it becomes here.", shared.Part.Name)
	}
	return alone.Kept[0].Step, nil
}

func placed(s change.Shared, p *page.Page) page.Placed {
	return page.Placed{Address: s.Address, Page: p}
}
