package thread

import (
	"reflect"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// follows applies the steps that are not in the draft yet, as they followed in was; out is how many steps of was are
// not in it. A step that does not find its part, since a step before it now says something else, is aimed at the part
// that it meant in was, where that can be told. The error is a refusal.
func (d *Draft) follows(was *Draft, out int) (*Draft, error) {
	for tried := -1; ; {
		err := d.apply()
		if err == nil {
			return d, nil
		}
		j := len(d.undo)
		if j == tried || j+out >= len(was.at) {
			return nil, builtUpon(err)
		}
		step, ok := d.aimed(was, j, out)
		if !ok {
			return nil, builtUpon(err)
		}
		d.Kept, tried = append([]Kept(nil), d.Kept...), j
		d.Kept[j].Step = step
	}
}

// aimed is step j with the parts that its step meant in was.
func (d *Draft) aimed(was *Draft, j, out int) (change.Step, bool) {
	if d.Kept[j].Fixed {
		return nil, false
	}
	before, now := was.at[j+out], d.Page()
	var ops []change.Op
	for _, t := range d.Kept[j].Step {
		op := t.Op
		for _, side := range []struct {
			id *string
			on *page.Target
		}{{&op.Part, t.On}, {&op.Anchor, t.Beside}} {
			if side.on == nil {
				continue
			}
			part, err := before.Locate(*side.on)
			if err != nil {
				return nil, false
			}
			same := sameOn(before, now, part)
			if same == nil && out == 1 && side.on == t.Beside {
				if same = d.besideOf(was, part, j, &op.Where); same == nil {
					return nil, false
				}
			}
			if same == nil {
				return nil, false
			}
			*side.id = same.ID
		}
		ops = append(ops, op)
	}
	step, err := change.AimAll(now, ops)
	return step, err == nil
}

// sameOn finds a part on a page that differs in the words of some block alone: the one of the same kind and number,
// where there are as many of its kind on both, and all before and after it are the same but it. It gives nil where
// that is not so.
func sameOn(before, now *page.Page, part *page.Part) *page.Part {
	was, is := before.OfKind(part.Kind), now.OfKind(part.Kind)
	if len(was) != len(is) {
		return nil
	}
	others := 0
	var same *page.Part
	for i := range was {
		if was[i] == part {
			same = is[i]
		}
		if was[i].HTML != is[i].HTML {
			others++
		}
	}
	if same == nil || same.Node.Tag() != part.Node.Tag() || others > 1 && !part.Kind.Whole() { // wholes differ with what is in them
		return nil
	}
	return same
}

// besideOf is what a step goes beside whose own anchor was put in by the step that was taken out: what that one went
// beside.
func (d *Draft) besideOf(was *Draft, anchor *page.Part, j int, where *change.Where) *page.Part {
	k := was.gone(d)
	if k < 0 || was.Kept[k].Step[0].Op.Op != change.Insert || was.Kept[k].Step[0].Beside == nil {
		return nil
	}
	made := was.Made(k)
	for i := k + 1; i <= j && made != nil; i++ {
		made = was.follow(made, i)
	}
	if made != anchor {
		return nil
	}
	beside, err := was.at[k].Locate(*was.Kept[k].Step[0].Beside)
	if err != nil {
		return nil
	}
	for i := k + 1; i <= j && beside != nil; i++ { // step i of was is step i-1 of d
		beside = d.follow(beside, i-1)
	}
	*where = was.Kept[k].Step[0].Op.Where
	return beside
}

// gone is the step that another draft does not have, or -1.
func (d *Draft) gone(other *Draft) int {
	for i, k := range d.Kept {
		if i >= len(other.Kept) || other.Kept[i].ID != k.ID {
			return i
		}
	}
	return -1
}

// AimedSince lists the steps that were aimed at their parts anew since another draft.
func (d *Draft) AimedSince(was *Draft) (anew []Kept) {
	steps := map[int64]change.Step{}
	for _, k := range was.Kept {
		steps[k.ID] = k.Step
	}
	for _, k := range d.Kept {
		if step, ok := steps[k.ID]; ok && !reflect.DeepEqual(step, k.Step) {
			anew = append(anew, k)
		}
	}
	return anew
}
