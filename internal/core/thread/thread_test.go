package thread_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

const fares = `<html><head><title>Fares</title></head><body><h1>Fares</h1>
<p>A single is £6.90.</p>
<section><h2>Dogs</h2><p>On a lead.</p></section>
<section><h2>Bikes</h2><p>Free of charge.</p></section>
</body></html>`

func parse(t testing.TB, s string) *page.Page {
	t.Helper()
	p, err := page.Parse([]byte(s), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func saying(t testing.TB, p *page.Page, words string) *page.Part {
	t.Helper()
	for _, q := range p.All {
		if strings.Join(strings.Fields(q.Text), " ") == words {
			return q
		}
	}
	t.Fatalf("no part says %q", words)
	return nil
}

// on adds a step to a draft; op gets the part that says words.
func on(t testing.TB, d *thread.Draft, id int64, words string, op change.Op) *thread.Draft {
	t.Helper()
	part := saying(t, d.Page(), words).ID
	if op.Op == change.Insert {
		op.Anchor = part
	} else {
		op.Part = part
	}
	if op.Anchor == "" && (op.Op == change.Move || op.Op == change.Copy) {
		op.Anchor = part
	}
	alone, err := thread.Alone(d.Page(), []change.Op{op})
	if err != nil {
		t.Fatal(err)
	}
	d, err = d.And(thread.Kept{ID: id, Step: alone.Kept[0].Step, Say: words}, alone)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func draft(t testing.TB, s string) *thread.Draft {
	t.Helper()
	d, err := thread.Of(parse(t, s), nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func says(d *thread.Draft, words string) bool {
	return strings.Contains(string(d.Page().Doc.Bytes), words)
}

func Example() {
	live, _ := page.Parse([]byte("<p>Open daily.</p><p>Closed on Monday.</p>"), "text/html")
	d, _ := thread.Of(live, nil, nil)
	for i, words := range []string{"Open every day.", "Closed on Tuesday."} {
		op := change.Op{Op: change.SetWords, Part: d.Page().Parts[i].ID, HTML: words}
		alone, _ := thread.Alone(d.Page(), []change.Op{op})
		d, _ = d.And(thread.Kept{ID: int64(i + 1), Step: alone.Kept[0].Step}, alone)
	}
	fmt.Println(string(d.Page().Doc.Bytes))
	d, _ = d.Without(1)
	fmt.Println(string(d.Page().Doc.Bytes))
	// Output:
	// <p>Open every day.</p><p>Closed on Tuesday.</p>
	// <p>Open daily.</p><p>Closed on Tuesday.</p>
}

func TestAPartIsFollowedThroughTheStepsAfterIt(t *testing.T) {
	d := draft(t, fares)
	live := d.Live
	d = on(t, d, 1, "On a lead.", change.Op{Op: change.SetWords, HTML: "On a leash."})
	d = on(t, d, 2, "A single is £6.90.", change.Op{Op: change.Insert, Where: change.Before, HTML: "<p>New today.</p>"})
	d = on(t, d, 3, "Dogs On a leash.", change.Op{Op: change.Move, Where: change.After, Anchor: saying(t, d.Page(), "Bikes Free of charge.").ID})
	for k, words := range []string{"On a leash.", "New today.", "Dogs On a leash."} {
		if part, _ := d.Page().Part(d.Parts()[k]); part == nil || strings.Join(strings.Fields(part.Text), " ") != words {
			t.Errorf("step %d made %q: %v", k, words, part)
		}
	}
	if first := d.First(saying(t, d.Page(), "On a leash.")); first != saying(t, live, "On a lead.") {
		t.Errorf("it was %v on the live page", first)
	}
	if d.First(saying(t, d.Page(), "New today.")) != nil {
		t.Error("what the draft put in stands on the live page")
	}
	if d.PutIn(saying(t, d.Page(), "New today.").ID) != 1 || d.PutIn(saying(t, d.Page(), "On a leash.").ID) != -1 {
		t.Error("which step put a part in is told wrongly")
	}
}

func TestWhatIsPutInAtTheBeginningOfAPartStandsBeforeIt(t *testing.T) {
	d := draft(t, "<ul><li>One</li><li>Two</li></ul>")
	d = on(t, d, 1, "Two", change.Op{Op: change.SetWords, HTML: "Second"})
	d = on(t, d, 2, "Second", change.Op{Op: change.Insert, Where: change.Before, HTML: "<li>Between</li>"})
	if part, _ := d.Page().Part(d.Parts()[0]); part == nil || part.Text != "Second" {
		t.Errorf("the part is now %v", part)
	}
}

func TestAStepIsTakenOutOfTheMiddle(t *testing.T) {
	d := draft(t, fares)
	d = on(t, d, 1, "A single is £6.90.", change.Op{Op: change.SetWords, HTML: "A single is £7.40."})
	d = on(t, d, 2, "Dogs On a lead.", change.Op{Op: change.Copy, Where: change.After})
	d = on(t, d, 3, "Bikes", change.Op{Op: change.SetWords, HTML: "Bicycles"})
	rest, err := d.Without(2)
	if err != nil || !says(rest, "£7.40") || !says(rest, "Bicycles") || strings.Count(string(rest.Page().Doc.Bytes), "Dogs") != 1 || len(rest.Kept) != 2 {
		t.Fatalf("%v\n%s", err, rest.Page().Doc.Bytes)
	}
	if _, err := d.Without(9); !refusal.Is(err, refusal.Nothing) {
		t.Errorf("a step that is not there: %v", err)
	}
}

func TestAStepThatALaterOneBuildsUponStays(t *testing.T) {
	d := draft(t, fares)
	d = on(t, d, 1, "A single is £6.90.", change.Op{Op: change.Insert, Where: change.After, HTML: "<p>New today.</p>"})
	d = on(t, d, 2, "New today.", change.Op{Op: change.SetWords, HTML: "New this week."})
	if _, err := d.Without(1); !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "Undo that one first") {
		t.Errorf("err = %v", err)
	}
	again, err := thread.Alone(d.Before(0), []change.Op{{Op: change.Insert, Anchor: saying(t, d.Before(0), "A single is £6.90.").ID, Where: change.After, HTML: "<p>New today.</p>"}})
	if err != nil {
		t.Fatal(err)
	}
	if same, err := d.Instead(0, again); err != nil || same.Hash() != d.Hash() {
		t.Errorf("the same step in its own place: %v", err)
	}
}

func TestADraftWhoseLivePageWasChangedElsewhere(t *testing.T) {
	d := draft(t, fares)
	d = on(t, d, 1, "On a lead.", change.Op{Op: change.SetWords, HTML: "On a leash."})
	d = on(t, d, 2, "Bikes", change.Op{Op: change.SetWords, HTML: "Bicycles"})
	now, err := thread.Of(parse(t, strings.Replace(fares, "On a lead.", "Not on Sundays.", 1)), d.Kept, nil)
	if err != nil {
		t.Fatal(err)
	}
	if !errors.Is(now.Conflict, page.ErrElsewhere) || now.Fits() != 0 || !strings.Contains(now.ConflictSay(), "Not on Sundays.") {
		t.Errorf("conflict %v, %s", now.Conflict, now.ConflictSay())
	}
	rest, err := now.Without(1)
	if err != nil || rest.Conflict != nil || !says(rest, "Bicycles") || !says(rest, "Not on Sundays.") {
		t.Errorf("the way out: %v", err)
	}
}

func TestWordsThatStandAlreadyAreNoConflict(t *testing.T) {
	leash := strings.Replace(fares, "On a lead.", "On a <b>leash</b>.", 1)
	d := draft(t, leash)
	d = on(t, d, 1, "On a leash.", change.Op{Op: change.SetWords, HTML: "On a lead."})
	d = on(t, d, 2, "Bikes", change.Op{Op: change.SetWords, HTML: "Bicycles"})
	now, err := thread.Of(parse(t, fares), d.Kept, nil) // the release that brought the leash was undone
	if err != nil || now.Conflict != nil || !now.Stands(0) || now.Stands(1) || !says(now, "Bicycles") || !says(now, "On a lead.") {
		t.Fatalf("%v %v", err, now.Conflict)
	}
	if rest, err := now.Without(1); err != nil || !says(rest, "Bicycles") {
		t.Errorf("taken out: %v", err)
	}
	if other, err := thread.Of(parse(t, strings.Replace(fares, "On a lead.", "On a <i>lead</i>.", 1)), d.Kept, nil); err != nil || other.Conflict == nil {
		t.Errorf("the same words in other markup are taken for the same: %v", err)
	}
}

// shelf is a Memory that counts.
type shelf struct {
	stages map[string]thread.Stage
	found  int
}

func (s *shelf) Get(key string) (thread.Stage, bool) {
	got, ok := s.stages[key]
	if ok {
		s.found++
	}
	return got, ok
}

func (s *shelf) Add(key string, v thread.Stage) { s.stages[key] = v }

func TestADraftThatIsMadeAgainIsRemembered(t *testing.T) {
	d := draft(t, fares)
	d = on(t, d, 1, "On a lead.", change.Op{Op: change.SetWords, HTML: "On a leash."})
	d = on(t, d, 2, "Bikes", change.Op{Op: change.SetWords, HTML: "Bicycles"})
	memory := &shelf{stages: map[string]thread.Stage{}}
	for range 2 {
		again, err := thread.Of(d.Live, d.Kept, memory)
		if err != nil || again.Hash() != d.Hash() {
			t.Fatalf("%v, %s", err, again.Hash())
		}
	}
	if memory.found != 2 || len(memory.stages) != 2 {
		t.Errorf("found %d of %d", memory.found, len(memory.stages))
	}
	if other, err := thread.Of(d.Live, d.Kept[1:], memory); err != nil || says(other, "leash") {
		t.Errorf("another draft got the stages of this one: %v", err)
	}
}

// Whatever order steps are taken out in, those that are left make the page that they make without it.
func TestTakingOutInAnyOrder(t *testing.T) {
	for seed := range uint64(60) {
		random := rand.New(rand.NewPCG(seed, 1))
		d := draft(t, fares)
		for id := int64(1); id < 7; id++ {
			if len(d.Page().All) == 0 {
				break
			}
			part := d.Page().All[random.IntN(len(d.Page().All))]
			op := change.Op{Op: change.SetWords, Part: part.ID, HTML: fmt.Sprintf("Words %d", id)}
			switch {
			case !part.Kind.HasWords() && random.IntN(2) == 0:
				op = change.Op{Op: change.Copy, Part: part.ID, Anchor: part.ID, Where: change.After}
			case !part.Kind.HasWords() || random.IntN(3) == 0:
				op = change.Op{Op: change.Remove, Part: part.ID}
			case random.IntN(2) == 0:
				op = change.Op{Op: change.Insert, Anchor: part.ID, Where: change.After, HTML: fmt.Sprintf("<p>Put in %d</p>", id)}
			}
			alone, err := thread.Alone(d.Page(), []change.Op{op})
			if err != nil {
				continue
			}
			if next, err := d.And(thread.Kept{ID: id, Step: alone.Kept[0].Step}, alone); err == nil {
				d = next
			}
		}
		for len(d.Kept) > 0 {
			taken := false
			for _, i := range random.Perm(len(d.Kept)) {
				rest, err := d.Without(d.Kept[i].ID)
				if err != nil {
					continue
				}
				again, err := thread.Of(d.Live, rest.Kept, nil)
				if err != nil || again.Hash() != rest.Hash() {
					t.Fatalf("seed %d: %v", seed, err)
				}
				d, taken = rest, true
				break
			}
			if !taken {
				t.Fatalf("seed %d: nothing can be taken out of %d steps", seed, len(d.Kept))
			}
		}
		if string(d.Page().Doc.Bytes) != fares {
			t.Fatalf("seed %d: with all taken out the page is\n%s", seed, d.Page().Doc.Bytes)
		}
	}
}
