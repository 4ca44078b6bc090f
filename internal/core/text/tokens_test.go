package text

import "testing"

// Prose that names a sign is no code, and one that stands alone is said (common practice, no source).
func TestSignsThatProseSpeaksOfAreNoCodes(t *testing.T) {
	t.Parallel()
	for s, want := range map[string]struct {
		codes  int
		broken string
	}{
		"Hello {{ name }}.":                       {1, ""},
		`Write “{{” and “}}” around it.`:          {0, ""},
		`Write "{{" and "}}" around it.`:          {0, ""},
		"Write <code>{{</code> or <kbd>%}</kbd>.": {0, ""},
		"&ldquo;{{&rdquo; and &ldquo;}}&rdquo;":   {0, ""},
		"Der Anfang „{{“, das Ende „}}“.":         {0, ""},
		"« {{ x }} »":                             {1, ""},
		"a{{b":                                    {0, "{{"},
		"a}}b":                                    {0, "}}"},
		`“{{” and {{`:                             {0, "{{"},
		`value="{{ x }}"`:                         {1, ""},
		`href="{{x}}"`:                            {1, ""},
	} {
		if got := len(Tokens(s)); got != want.codes || Broken(s) != want.broken {
			t.Errorf("%s: %d codes, %q broken", s, got, Broken(s))
		}
	}
}
