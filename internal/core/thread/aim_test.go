package thread_test

import (
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

// below is a draft with a paragraph put in, and another one below it.
func below(t *testing.T) *thread.Draft {
	t.Helper()
	d := draft(t, fares)
	d = on(t, d, 1, "A single is £6.90.", change.Op{Op: change.Insert, Where: change.After, HTML: "\n<p>Mind</p>"})
	return on(t, d, 2, "Mind", change.Op{Op: change.Insert, Where: change.After, HTML: "\n<p>Why we wait</p>"})
}

// other is step 1 of below with other words in its paragraph.
func other(t *testing.T, d *thread.Draft) *thread.Draft {
	t.Helper()
	alone, err := thread.Alone(d.Live, []change.Op{{Op: change.Insert, Anchor: saying(t, d.Live, "A single is £6.90.").ID, Where: change.After, HTML: "\n<p>Mind the gap</p>"}})
	if err != nil {
		t.Fatal(err)
	}
	return alone
}

func TestALaterStepIsAimedAtThePartThatSaysSomethingElseNow(t *testing.T) {
	d := below(t)
	now, err := d.Instead(0, other(t, d))
	if err != nil {
		t.Fatal(err)
	}
	if got := string(now.Page().Doc.Bytes); !strings.Contains(got, "£6.90.</p>\n<p>Mind the gap</p>\n<p>Why we wait</p>") {
		t.Errorf("%s", got)
	}
	anew := now.AimedSince(d)
	if len(anew) != 2 || anew[1].ID != 2 || anew[1].Step[0].Beside.Exact != "Mind the gap" {
		t.Errorf("%+v", anew)
	}
	again, err := thread.Of(d.Live, now.Kept, nil) // as it is stored, it makes the same page
	if err != nil || again.Conflict != nil || again.Hash() != now.Hash() {
		t.Errorf("%v, %v", err, again.Conflict)
	}
	if d.Kept[1].Step[0].Beside.Exact != "Mind" {
		t.Error("the draft before was changed")
	}
}

// What a release carries is what was cleared: it is never aimed at anything else.
func TestAStepThatAReleaseCarriesIsNotAimedAnew(t *testing.T) {
	d := below(t)
	d.Kept[1].Fixed = true
	if _, err := d.Instead(0, other(t, d)); !refusal.Is(err, refusal.Rule) {
		t.Errorf("err = %v", err)
	}
}

func TestWhatWasPutInBelowStaysWhereItsNeighbourGoes(t *testing.T) {
	d := below(t)
	now, err := d.Without(1)
	if err != nil {
		t.Fatal(err)
	}
	if got, want := string(now.Page().Doc.Bytes), strings.Replace(fares, "£6.90.</p>", "£6.90.</p>\n<p>Why we wait</p>", 1); got != want {
		t.Errorf("%s", got)
	}
	if now, err = now.Without(2); err != nil || string(now.Page().Doc.Bytes) != fares {
		t.Errorf("%v", err)
	}
}

// A step that changes the words that another one made stands upon it, and is not aimed at anything else.
func TestAStepOnWordsThatGoIsRefused(t *testing.T) {
	d := draft(t, fares)
	d = on(t, d, 1, "A single is £6.90.", change.Op{Op: change.Insert, Where: change.After, HTML: "\n<p>Mind</p>"})
	d = on(t, d, 2, "Mind", change.Op{Op: change.SetWords, HTML: "Mind the gap"})
	if _, err := d.Without(1); !refusal.Is(err, refusal.Rule) {
		t.Errorf("err = %v", err)
	}
}
