package request

import (
	"fmt"
	"strings"
	"testing"
)

func TestWishesAreProposedFromALetter(t *testing.T) {
	for _, tt := range []struct {
		letter string
		want   []string
	}{
		{
			"Dear Ines,\n\nFrom 1 December the adult single goes to £7.40 and the child to £3.70. Please use the new boat photo at the top of the fares page, and add the extra sailing on 31 November.\n\nThank you, Maren",
			[]string{
				"From 1 December the adult single goes to £7.40", "the child to £3.70", "Please use the new boat photo at the top of the fares page",
				"add the extra sailing on 31 November",
			},
		},
		{"Change 01632 960110 to 01632 960999 everywhere.", []string{"Change 01632 960110 to 01632 960999 everywhere [01632 960110 > 01632 960999 everywhere]"}},
		{"Write Wednesday instead of Thursday on the first page", []string{"Write Wednesday instead of Thursday on the first page [Thursday on the first page > Write Wednesday]"}},
		{"The heading “Our coaches” should be “Your coaches”. Best, Jory", []string{"The heading “Our coaches” should be “Your coaches” [Our coaches > Your coaches]"}},
		{"Hello Ines,\n\nwe answer within one day now, not two days.", []string{"we answer within one day now, not two days [two days > we answer within one day now]"}},
		{"The hour goes up to £8 with shoes. Nothing else changes.", []string{"The hour goes up to £8 with shoes"}},
		{"Alder is 58 ft, Cedar 61 ft, Linden 67 ft. Maple has 5 berths now, Elm 4.", []string{"Alder is 58 ft", "Cedar 61 ft", "Linden 67 ft", "Maple has 5 berths now", "Elm 4"}},
		{"Hello! How are you? We had a lovely summer.", nil},
	} {
		var got []string
		for _, p := range Propose(tt.letter) {
			if tt.letter[p.Start:p.End] != p.Words {
				t.Errorf("%q stands at %q", p.Words, tt.letter[p.Start:p.End])
			}
			s := p.Words
			if p.Old != "" && !strings.Contains(tt.letter, "boat") {
				s += fmt.Sprintf(" [%s > %s]", p.Old, p.New)
			}
			got = append(got, s)
		}
		if strings.Join(got, "\n") != strings.Join(tt.want, "\n") {
			t.Errorf("%q:\n%s\nwant\n%s", tt.letter, strings.Join(got, "\n"), strings.Join(tt.want, "\n"))
		}
	}
}

func TestAPhraseGoesOnWithWhatTheOneBeforeItWasAbout(t *testing.T) {
	ps := Propose("Maple has 5 berths now, Elm 4. And please hide the model.")
	if len(ps) != 3 || ps[1].Whole != "Elm 4 Maple has 5 berths now" || strings.Contains(ps[2].Whole, "berths") {
		t.Errorf("%+v", ps)
	}
	for _, seek := range Propose("It is on Saturday 5 December, from six")[0].Seek {
		if seek == "Saturday" || seek == "December" {
			t.Errorf("the name of a day or month is looked for: %q", seek)
		}
	}
}

func FuzzPropose(f *testing.F) {
	f.Add("Change “a” to b; and remove £3, please.\n\nThe x should be y instead of z!")
	f.Fuzz(func(t *testing.T, s string) {
		at := 0
		for _, p := range Propose(s) {
			if p.Start < at || p.End > len(s) || p.Start >= p.End || s[p.Start:p.End] != p.Words {
				t.Errorf("%q: %+v", s, p)
			}
			at = p.End
		}
	})
}
