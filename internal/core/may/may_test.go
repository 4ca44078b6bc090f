package may_test

import (
	"testing"

	"mendry/internal/core/may"
)

func TestWhoMayWriteMarkup(t *testing.T) {
	for role, want := range map[may.Role]bool{may.Lead: true, may.Maintainer: false, "": false, "Lead": false} {
		if may.Markup(role) != want {
			t.Errorf("%q: %t", role, !want)
		}
	}
}
