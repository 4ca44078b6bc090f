package find

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

func TestAKindOfValueIsMeantByItsName(t *testing.T) {
	t.Parallel()
	for phrase, want := range map[string]text.Kind{
		"Our telephone number is 01632 960777 now": text.Phone, "new phone": text.Phone, "Tel. changed": text.Phone, "they can call us on 01632 960777": text.Phone,
		"the email at the foot of every page": text.Mail, "the e-mail address": text.Mail, "the address of the office": "", "a megaphone": "", "we call it a day": "",
	} {
		if got := MeansKind(phrase); got != want {
			t.Errorf("%q means %q, want %q", phrase, got, want)
		}
	}
}

func TestWordsThatHoldAValueAreFoundWithWhatStandsAroundALink(t *testing.T) {
	t.Parallel()
	p, err := page.Parse([]byte(`<main><h1>Ferry</h1><p>Ring <a href="tel:01632960110">01632 960110</a> first.</p><p>Open since 1987.</p></main><footer><ul><li><a href="tel:+441632960110">+44 1632 960110</a></li></ul><p>quay@ferry.example</p></footer>`), "")
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, kind := range []text.Kind{text.Phone, text.Mail} {
		for _, h := range Holding(p, kind) {
			got = append(got, h.Part.Text+" ("+h.Key+")")
		}
	}
	if want := "Ring 01632 960110 first. (1632960110) | +44 1632 960110 (1632960110) | quay@ferry.example (quay@ferry.example)"; strings.Join(got, " | ") != want {
		t.Errorf("got %s\nwant %s", strings.Join(got, " | "), want)
	}
}
