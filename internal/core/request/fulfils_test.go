package request

import "testing"

// The wishes are invented, after how letters ask (common practice, no source).
func TestWhatIsPutInDoesNotFulfilAWishThatSomethingGoes(t *testing.T) {
	t.Parallel()
	for wish, goes := range map[string]bool{
		"please remove the sentence about dogs": true, "Take the winter fares down": true, "take this paragraph out, please": true,
		"We do not sell passes any more": true, "Sam has left": true, "Delete the last row.": true, "Bitte den Satz über Hunde löschen": true,
		"die Zeile entfernen": true, "Wir haben montags nicht mehr offen": true, "Nehmen Sie das Bild bitte raus": true, "enlevez la phrase": true,
		"nous ne vendons plus de cartes": true, "supprimer la ligne": true,
		"add a line about dogs": false, "the adult single goes to £7.40": false, "Put the new photo on the page": false, "take the first boat": false,
		"please say that it takes an hour": false, "": false,
	} {
		if got := !Fulfils(wish, true); got != goes {
			t.Errorf("%q asks that something goes: %v", wish, got)
		}
		if !Fulfils(wish, false) {
			t.Errorf("%q is not fulfilled by what changes or goes", wish)
		}
	}
}
