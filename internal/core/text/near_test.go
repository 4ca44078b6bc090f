package text

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"regexp"
	"strings"
	"testing"

	"mendry/internal/tries"
)

// What is found near months is what is found in the whole, by the standard library's regexp on all of it.
func TestDaysAreFoundNearMonths(t *testing.T) {
	t.Parallel()
	pieces := []string{
		"the", "31st of September, 2027", "may", "Wednesday, the 3rd of May", "12", "5. Dezember", "le 1er août", "March 4", "June", "14 to 16 June 2026", "march", "2027",
		"Mon 3 Nov.", "words that say nothing of it", "1,000 marbles", "decide", "(4 July)", "JÄNNER 5", "5. JÄNNER", "7-May-2027", "İstanbul", "\n", "  ", strings.Repeat(" ", 14),
		"https://x.example/2027/05/may-4", "sonntag, den 3. mai 2026", "£5.20", "a.m.", "11.30", "“May 4”",
	}
	random := rand.New(rand.NewPCG(13, 20))
	for range tries.Number("MENDRY_SENTENCES", 1_500, 20_000) {
		var b strings.Builder
		for range 1 + random.IntN(24) {
			b.WriteString(pieces[random.IntN(len(pieces))])
			b.WriteString([]string{" ", " ", " ", ", ", ""}[random.IntN(5)])
		}
		s := b.String()
		for _, form := range []*regexp.Regexp{enDayFirst, enMonthFirst, deDay, frDay} {
			got, want := matchesIn(s, nearMonths(s), form), form.FindAllStringSubmatchIndex(s, -1)
			if fmt.Sprint(got) != fmt.Sprint(want) && !(len(got) == 0 && len(want) == 0) {
				t.Fatalf("%q: %v, want %v by %s", s, got, want, form)
			}
		}
	}
	if got := nearMonths("It may rain, and nobody marches."); !reflect.DeepEqual(got, [][2]int(nil)) {
		t.Errorf("near %v", got)
	}
}
