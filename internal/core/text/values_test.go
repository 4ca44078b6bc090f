package text

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

// Currency signs and codes are those of ISO 4217; the phone numbers are of the ranges that Ofcom and the NANPA set
// aside for fiction (01632 960xxx, 555-01xx), in the forms of ITU-T E.123.
func TestValuesInAnySpelling(t *testing.T) {
	for _, tt := range []struct{ text, want string }{
		{"Adult £6.90, child 3,45 €", "price GBP 6.90; price EUR 3.45"},
		{"GBP 1,250 or 1 250.00 GBP or 12 pounds", "price GBP 1250.00; price GBP 1250.00; price GBP 12.00"},
		{"Call 01632 960110, +44 1632 960110 or +44 (0)1632 960-110", "phone 1632960110; phone 1632960110; phone 1632960110"},
		{"tel. 0044 1632 960110", "phone 1632960110"},
		{"New York +1 212 555 0123", "phone 2125550123"},
		{"until 28 February 2027 at 10:30, 57 ft", "date 2027-2-28; number 10; number 30; number 57"},
		{"from 1 December; 2026-12-01", "date -12-1; date 2026-12-1"},
		{"1.234,50 € and 1'250.- CHF, EUR 99,-", "price EUR 1234.50; price CHF 1250.00; price EUR 99.00"},
		{"£1.5 or $1,5", "price GBP 1.50; price USD 1.50"},
		{"Write to Desk@ferry.example, or a.b+c@ferry.co.example.", "mail desk@ferry.example; mail a.b+c@ferry.co.example"},
		{"KW-14, B7, A4/3 and N°12, 14-day, 57ft", "number 12; number 14; number 57"},
		{"no value here, @ home", ""},
		{"room 12, 1234567 visitors", "number 12; number 1234567"},
	} {
		var got []string
		for _, v := range Values(tt.text) {
			got = append(got, fmt.Sprintf("%s %s", v.Kind, v.Key))
		}
		if strings.Join(got, "; ") != tt.want {
			t.Errorf("%q: %s, want %s", tt.text, strings.Join(got, "; "), tt.want)
		}
	}
}

func TestTheSameWordsElsewhere(t *testing.T) {
	for _, tt := range []struct {
		text, value string
		want        []string
	}{
		{"Adult £6.90 (was 6.90 GBP), child £6.95", "£6.90", []string{"£6.90", "6.90 GBP"}},
		{"Ring +44 1632 960110 now", "01632 960110", []string{"+44 1632 960110"}},
		{"Open until 8 November 2026", "8 November", []string{"8 November 2026"}},
		{"Model K2, K20 and k2", "K2", []string{"K2", "k2"}},
		{"The Larkspur sails; Larkspurs bloom", "Larkspur", []string{"Larkspur"}},
		{"57 ft and 157 ft", "57", []string{"57"}},
		{"KW-14 has 14 berths", "14", []string{"14"}},
		{"Ring 01632 960199, or +44 1632 960 199, not 01632 961199", "960199", []string{"960199", "960 199"}},
		{"960199 visitors", "960199", []string{"960199"}},
		{"Write to Desk@Ferry.example", "desk@ferry.example", []string{"Desk@Ferry.example"}},
		{"from 1.234,50 €", "34", nil},
	} {
		var got []string
		for _, v := range Same(tt.text, tt.value) {
			got = append(got, tt.text[v.Start:v.End])
		}
		if strings.Join(got, "|") != strings.Join(tt.want, "|") {
			t.Errorf("%q in %q: %q, want %q", tt.value, tt.text, got, tt.want)
		}
	}
}

func TestNoSpellingIsPassedOver(t *testing.T) {
	for _, same := range [][]string{
		{"£6", "£6.00", "6 pounds", "GBP 6.00"}, {"£1,250", "1250 GBP", "£1 250.00"}, {"£0.50", "0.50 GBP"},
		{"01632 960110", "+44 1632 960110", "(01632) 960 110", "0044 1632 96 01 10"}, {"8 November", "November 8", "8th of November 2026"}, {"1,250", "1250"},
	} {
		for _, a := range same {
			for _, b := range same {
				if len(Same("Here "+a+" stands.", b)) != 1 {
					t.Errorf("%q is not found by %q", a, b)
				}
			}
		}
	}
}

// A site of 2,000 pages is looked through for a price that stands on one of them.
func BenchmarkSame(b *testing.B) {
	page := strings.Repeat("Bicycles travel free on all sailings, dogs on a lead. Call 01632 960222 from 7.30. ", 40)
	for b.Loop() {
		for range 2000 {
			Same(page, "£648.50")
		}
	}
}

// Reading around digits alone finds what reading all of a text does: pieces in any order and distance, read both ways.
func TestValuesAreFoundWhereverTheyStand(t *testing.T) {
	pieces := []string{
		"£1,250.50", "72 pounds", "EUR 12", "CHF 12.-", "0191 496 0123", "+44 (0)191 496-0123", "00 49 30 901820", "31 December 2026", "on Saturday, the 5th of December",
		"Dec 5", "am Donnerstag, den 24. Dezember 2026", "le mercredi 1er septembre 2027", "2027-02-30", "31/04/2027", "KW-14", "B7", "4.5", "maren.quayle+web@larkspur-ferries.example",
		"in May 2", "from March 3 on", "room 12", "19.30", "a", "the ferry leaves the quay", "\n", ",", ".", "Donnerstag", "Saturday", "December", "£", "pounds", "may", "+", "@", "7",
		strings.Repeat("words without any number go on and on ", 4), strings.Repeat("x", 130), "é", "–",
	}
	random := rand.New(rand.NewPCG(5, 9))
	for range 4_000 {
		var b strings.Builder
		for range 1 + random.IntN(9) {
			b.WriteString(pieces[random.IntN(len(pieces))])
			if random.IntN(6) > 0 {
				b.WriteByte(' ')
			}
		}
		if got, want := Values(b.String()), values(b.String()); !slices.Equal(got, want) {
			t.Fatalf("%q:\n%v\nwant %v", b.String(), got, want)
		}
	}
}
