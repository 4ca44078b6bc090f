package check

import (
	"fmt"
	"strconv"

	"mendry/internal/core/change"
)

// outsideSame: nothing outside the changed parts differs, byte for byte. Every change was held to that when it was
// made; here the two whole pages are compared once more, without knowledge of the changes.
func outsideSame(s *Subject) []Finding {
	if s.Before == nil {
		return nil
	}
	d := change.Compare(s.Before, s.After)
	if !d.OutsideSame {
		return []Finding{{Level: Stop, Say: "Something outside the changed parts differs from the live page. Go back to the bench and undo the last change."}}
	}
	all := len(s.Before.Doc.Bytes)
	return []Finding{{Level: Fine, Say: fmt.Sprintf("Nothing else on the page changes: %s of %s bytes stay as they are.", thousands(all-d.Touched), thousands(all))}}
}

func thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}
