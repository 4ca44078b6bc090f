package change_test

import (
	"bytes"
	"encoding/json"
	"math/rand"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/tries"
)

// takenBack takes a published change back on the page as it is now, in the way it is kept: aimed, as JSON.
func takenBack(t testing.TB, now *page.Page, undo []change.Op, later ...[]change.Op) ([]byte, error) {
	t.Helper()
	ops, err := change.TakeBack(now, undo, later...)
	if err != nil {
		return nil, err
	}
	step, err := change.AimAll(now, ops)
	if err != nil {
		return nil, err
	}
	kept, err := json.Marshal(step)
	if err != nil {
		t.Fatal(err)
	}
	var read change.Step
	if err := json.Unmarshal(kept, &read); err != nil {
		t.Fatal(err)
	}
	r, err := read.Apply(now)
	if err != nil {
		return nil, err
	}
	if back, err := change.Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, now.Doc.Bytes) {
		t.Fatalf("taking back is not undone: %v", err)
	}
	return r.Bytes, nil
}

// One change of random ones is taken back after later ones went live: as a step that finds its part again, under the
// law of all steps, it makes the bytes that Revert makes by offsets alone. Page facts are set to what they were
// instead.
func TestAPublishedChangeIsTakenBackAlone(t *testing.T) {
	ps := pool(t)
	r := rand.New(rand.NewSource(7))
	var alone, under, refused int
	for range tries.Number("MENDRY_SEQUENCES", 60, 1000) {
		at, ops, undos := grown(t, r, ps[r.Intn(len(ps))], 1+r.Intn(3))
		if len(ops) == 0 || len(undos[0]) == 0 || ops[0].Op == change.SetFact || len(at[len(at)-1].All) == 0 {
			continue
		}
		now := at[len(at)-1]
		want, err := change.Revert(now, undos[0], undos[1:]...)
		if err != nil {
			refused++
			continue
		}
		got, err := takenBack(t, now, undos[0], undos[1:]...)
		if err != nil || !bytes.Equal(got, want.Bytes) {
			t.Errorf("%+v is not taken back: %v", ops[0], err)
		}
		if len(ops) == 1 {
			alone++
		} else {
			under++
		}
	}
	t.Logf("%d alone, %d under later ones, %d refused", alone, under, refused)
	if few := tries.Number("", 8, 20); under < few || alone < few {
		t.Errorf("only %d alone and %d under later ones were tried", alone, under)
	}
}

// A change upon which another one was built can be taken back once that one is: what was taken back is as if it had
// not been. All of three taken back, the middle one first, the page is what it was.
func TestWhatWasTakenBackIsNotInTheWay(t *testing.T) {
	ps := pool(t)
	r := rand.New(rand.NewSource(11))
	all, freed := 0, 0
	rows := tries.Number("MENDRY_SEQUENCES", 100, 400)
	for range rows {
		at, _, undos := grown(t, r, ps[r.Intn(len(ps))], 3)
		if len(undos) < 3 {
			continue
		}
		now, chain := at[3], slices.Clone(undos)
		back := func(i int) bool {
			res, err := change.Revert(now, chain[i], change.Settled(chain[i+1:])...)
			if err != nil {
				return false
			}
			now, chain = res.Page, append(chain, res.Undo)
			return true
		}
		_, err := change.Revert(now, undos[0], undos[1:]...)
		if !back(1) || !back(0) {
			continue
		}
		if err != nil {
			freed++
		}
		if !back(2) {
			t.Errorf("the last of three cannot be taken back, when the others are")
		} else if !bytes.Equal(now.Doc.Bytes, at[0].Doc.Bytes) {
			t.Errorf("all taken back, the page is\n%s\nand was\n%s", now.Doc.Bytes, at[0].Doc.Bytes)
		}
		all++
	}
	t.Logf("%d rows of three, in %d the first was freed by taking back the second", all, freed)
	if all < rows/2 || freed < tries.Number("", 1, 2) {
		t.Errorf("only %d rows were taken back, %d of them freed", all, freed)
	}
}

// What takes a change back finds its part after others edited the page elsewhere, and is refused where they edited it.
func TestWhatTakesAChangeBackFindsItsPart(t *testing.T) {
	read := func(s string) *page.Page {
		p, err := page.Parse([]byte(s), "")
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	const was = "<!doctype html><title>Fares</title><main><h1>Fares</h1><ul><li>Adults pay £4.</li><li>Bikes</li><li>Dogs go free.</li></ul></main>"
	p := read(was)
	bikes := p.All[slices.IndexFunc(p.All, func(part *page.Part) bool { return part.Text == "Bikes" })]
	went, err := change.Apply(p, []change.Op{{Op: change.Remove, Part: bikes.ID}})
	if err != nil {
		t.Fatal(err)
	}
	ops, err := change.TakeBack(went.Page, went.Undo)
	if err != nil {
		t.Fatal(err)
	}
	step, err := change.AimAll(went.Page, ops)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ others, want string }{
		{string(went.Bytes), was},
		{strings.Replace(string(went.Bytes), "<h1>", "<p>Winter</p><h1>", 1), strings.Replace(was, "<h1>", "<p>Winter</p><h1>", 1)},
		{strings.Replace(string(went.Bytes), "<li>", "<li>Prams</li><li>", 1), strings.Replace(was, "<li>", "<li>Prams</li><li>", 1)},
		{strings.Replace(string(went.Bytes), "</li>", "</li><li>Prams</li>", 1), strings.Replace(was, "<li>Dogs", "<li>Prams</li><li>Dogs", 1)},
		{strings.Replace(string(went.Bytes), "<li>Adults pay £4.</li>", "", 1), ""},
	} {
		r, err := step.Apply(read(c.others))
		if c.want == "" {
			if err == nil {
				t.Errorf("%s: it is not refused, but makes %s", c.others, r.Bytes)
			}
		} else if err != nil || string(r.Bytes) != c.want {
			t.Errorf("%s: %v", c.others, err)
		}
	}
}
