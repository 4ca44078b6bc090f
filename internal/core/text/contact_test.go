package text

import "testing"

// The forms are those of RFC 3966 (tel:) and RFC 6068 (mailto:); the numbers are of the ranges that Ofcom sets aside
// for fiction, written as ITU-T E.123 says. A land's code and the trunk 0: ITU-T E.164.
func TestWhatIsShownIsWhatIsReached(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ href, was, now, follows string }{
		{"tel:+441632960199", "01632 960199", "01632 960110", "tel:+441632960110"},
		{"tel:+44-1632-960199", "01632 960199", "(01632) 960 110", "tel:+441632960110"},
		{"tel:01632960199", "01632 960199", "01632 960110", "tel:01632960110"},
		{"tel:01632 960199", "+44 1632 960199", "+44 1632 960110", "tel:+441632960110"},
		{"tel:+441632960199", "960199", "960110", "tel:+441632960110"},
		{"tel:01632960199", "960199", "960110", "tel:01632960110"},
		{"tel:00441632960199", "01632 960199", "01632 960110", "tel:+441632960110"},
		{"tel:+441632960199;ext=12", "01632 960199", "01632 960110", "tel:+441632960110;ext=12"},
		{"TEL:+441632960199", "+44 (0)1632 960199", "+44 (0)1632 960110", "TEL:+441632960110"},
		{"sms:+12125550123", "+1 212 555 0123", "+1 212 555 0199", "sms:+12125550199"},
		{"mailto:desk@ferry.example", "desk@ferry.example", "quay@ferry.example", "mailto:quay@ferry.example"},
		{"mailto:desk%40ferry.example?subject=Fares", "Desk@ferry.example", "quay@ferry.example", "mailto:quay@ferry.example?subject=Fares"},
	} {
		if shown, agrees := Contact(c.href, "Reach us: "+c.was+"."); shown != c.was || !agrees {
			t.Errorf("%s shows %q: %q, %v", c.href, c.was, shown, agrees)
		}
		if shown, agrees := Contact(c.href, "Reach us: "+c.now+"."); shown != c.now || agrees {
			t.Errorf("%s shows %q: %q, %v", c.href, c.now, shown, agrees)
		}
		if got := Following(c.href, c.now); got != c.follows {
			t.Errorf("%s, when %q is shown: %s, want %s", c.href, c.now, got, c.follows)
		} else if _, agrees := Contact(got, c.now); !agrees {
			t.Errorf("%s does not agree with %q", got, c.now)
		}
	}
	for _, c := range []struct{ href, words string }{
		{"/fares.html", "01632 960110"}, {"https://ferry.example/", "x"}, {"tel:+441632960110", "Call us"},
		{"tel:+441632960110", "01632 960110 or 01632 960111"}, {"mailto:a@b.example", "a@b.example, c@d.example"},
		{"tel:+441632960110", "from 7 to 9"}, {"", ""}, {"tel:", "us"},
	} {
		if shown, agrees := Contact(c.href, c.words); shown != "" || !agrees {
			t.Errorf("%s, %q: %q, %v", c.href, c.words, shown, agrees)
		}
	}
}
