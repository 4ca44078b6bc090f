package page

import (
	"fmt"
	"strings"
	"testing"
)

// Settings stand in attributes of their own, in lists, and in JSON (RFC 8259); another value leaves all around it as
// it is.
func TestSettingsInWhateverWayTheyAreWritten(t *testing.T) {
	items := `<div class="track"><figure><img src="a.jpg" alt="A"></figure><figure><img src="b.jpg" alt="B"></figure></div>`
	for _, tt := range []struct{ attribute, want, set, value, now string }{
		{`data-seconds="6"`, "Time between slides 6 number seconds", "", "8", "8"},
		{`data-interval="5000"`, "Time between slides 5000 number milliseconds", "", "6000", "6000"},
		{`data-dots="true"`, "Dots true yes-no ", "", "false", "false"},
		{`data-effect="fade"`, "Effect fade word ", "", "slide", "slide"},
		{
			`x-slider="autoplay: true; autoplay-interval: 3000 ; finite: no"`,
			"Goes on by itself true yes-no , Time between slides 3000 number milliseconds, Ends at the last no yes-no ",
			"autoplay-interval", "4000", "autoplay: true; autoplay-interval: 4000 ; finite: no",
		},
		{
			`data-slider='{"slidesToShow": 4, "arrows":false,"mode" : "fade", "breakpoints": {"600": 1}}'`,
			"How many are shown 4 number , Arrows false yes-no , Effect fade word ",
			"mode", "slide", `{"slidesToShow": 4, "arrows":false,"mode" : "slide", "breakpoints": {"600": 1}}`,
		},
		{`data-src="a.jpg" aria-live="polite" style="color: red; top: 1"`, "", "", "", ""},
		{`data-broken='{"a": 1'`, "", "", "", ""},
	} {
		p := parse(t, "<main><h1>A</h1><div "+tt.attribute+">"+items+"</div></main>")
		set := p.OfKind(Set)[0]
		var got []string
		for _, s := range set.Settings {
			say, unit := s.Says()
			got = append(got, fmt.Sprint(say, " ", s.Value, " ", s.Is, " ", unit))
			if s.Key != tt.set {
				continue
			}
			on, _ := p.Part(s.Part)
			if no := s.Allows(tt.value); no != "" || s.With(on.Attributes.Get(s.Name), tt.value) != tt.now {
				t.Errorf("%s: %q, %q", tt.attribute, no, s.With(on.Attributes.Get(s.Name), tt.value))
			}
		}
		if strings.Join(got, ", ") != tt.want {
			t.Errorf("%s: %q", tt.attribute, strings.Join(got, ", "))
		}
	}
}
