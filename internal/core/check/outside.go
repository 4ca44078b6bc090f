package check

import (
	"fmt"
	"strconv"

	"mendry/internal/core/change"
)

// outsideSame: nothing outside the changed parts differs, byte for byte. Every change was held to that by its tree
// when it was made; here the bytes of each version are compared with those before, less the one part that was to
// change.
func outsideSame(s *Subject) []Finding {
	if s.Before == nil {
		return nil
	}
	for _, e := range s.Edits {
		same := len(e.Spots) > 0 && change.OutsideSpots(e.Before, e.After, e.Spots) || e.WasAt.End > 0 && change.OutsideSwap(e.Before, e.After, e.WasAt, e.NowAt) || e.Put.End > e.Put.Start && change.OutsideSpan(e.Before, e.After, e.Put) || e.Fact != "" && change.OutsideFact(e.Before, e.After, e.Fact) || e.Fact == "" && change.Outside(e.Before, e.After, e.Was, e.Now)
		if !same {
			return []Finding{{Level: Stop, Words: e.Say, Say: fmt.Sprintf("A change alters something outside its part: %s. Go back to the bench and undo it.", e.Say)}}
		}
	}
	all := len(s.Before.Doc.Bytes)
	touched := change.Compare(s.Before, s.After).Touched
	return []Finding{{Level: Fine, Say: fmt.Sprintf("Nothing else on the page changes: %s of %s bytes stay as they are.", thousands(all-touched), thousands(all))}}
}

func thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}
