package check

import (
	"fmt"

	"mendry/internal/core/page"
)

// foundAgain: a change whose part was found again in another place, or with other words in it, is to be looked at.
func foundAgain(s *Subject) (fs []Finding) {
	for _, e := range s.Edits {
		if e.Sure == page.SamePlaceSameWords {
			continue
		}
		id := ""
		if e.Now != nil {
			id = e.Now.ID
		}
		fs = append(fs, Finding{Level: Look, Part: id, Words: e.Say, Say: fmt.Sprintf("The page was changed around “%s” since this was kept; its part was found again: %s. Look whether it is the right one.", e.Say, e.Sure)})
	}
	return fs
}
