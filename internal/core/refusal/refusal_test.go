package refusal_test

import (
	"errors"
	"fmt"
	"testing"

	"mendry/internal/core/refusal"
)

func TestARefusalIsFoundUnderWhateverWasSaidAroundIt(t *testing.T) {
	no := refusal.New(refusal.Stale, "%d pages have changed. Look again.", 2)
	err := fmt.Errorf("publish: %w", errors.Join(errors.New("roll back"), no))
	if got := refusal.Of(err); got != no || got.Error() != "2 pages have changed. Look again." {
		t.Errorf("found %v", got)
	}
	if !refusal.Is(err, refusal.Stale) || refusal.Is(err, refusal.Rule) || refusal.Is(errors.New("broken"), refusal.Rule) || refusal.Of(nil) != nil {
		t.Error("kinds are told apart wrongly")
	}
}
