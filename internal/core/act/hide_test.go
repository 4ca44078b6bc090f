package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

func TestAPartIsHiddenAndShownAgain(t *testing.T) {
	d := draft(t, fares)
	live := string(d.Page().Doc.Bytes)
	hidden := do(t, d, &act.Hide{Part: id(t, d, "On a lead.")})
	c := hidden.Effects[0].Change
	if !c.Hides || !strings.Contains(c.Say, "its place remembered") ||
		strings.Contains(string(hidden.Draft.Page().Doc.Bytes), "On a lead.") {
		t.Errorf("%+v\n%s", c, hidden.Draft.Page().Doc.Bytes)
	}
	shown := do(t, hidden.Draft, &act.Show{Change: c.ID})
	if string(shown.Draft.Page().Doc.Bytes) != live || len(shown.Draft.Kept) != 0 {
		t.Errorf("%d changes\n%s", len(shown.Draft.Kept), shown.Draft.Page().Doc.Bytes)
	}
	typed := do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a leash."})
	if _, err := act.Do(typed.Draft, &act.Show{Change: typed.Effects[0].Change.ID}, studio{}); refusal.Of(err) == nil {
		t.Errorf("words that were typed: %v", err)
	}
	if _, err := act.Do(d, &act.Show{Change: 99}, studio{}); refusal.Of(err) == nil { // a change that raised a fare
		t.Errorf("%v", err)
	}
}

// What this draft has put in is not remembered when it is hidden: it was never live.
func TestWhatWasPutInIsGoneWhenItIsHidden(t *testing.T) {
	d := draft(t, fares)
	made := do(t, d, &act.Copy{Part: id(t, d, "On a lead.")})
	hidden := do(t, made.Draft, &act.Hide{Part: made.Made})
	if len(hidden.Draft.Kept) != 0 || string(hidden.Draft.Page().Doc.Bytes) != string(d.Page().Doc.Bytes) {
		t.Errorf("%d changes", len(hidden.Draft.Kept))
	}
}
