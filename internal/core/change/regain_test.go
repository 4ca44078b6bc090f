package change

import (
	"testing"
)

// A name that is typed over keeps what it was marked up as; what was taken off stays off.
func TestWordsTypedInThePlaceOfOthersKeepTheirWrapper(t *testing.T) {
	for _, tt := range []struct{ name, was, typed, is string }{
		{"a cited name", `<cite>Marit K.</cite>`, `Tove L.`, `<cite>Tove L.</cite>`},
		{"beside other words", `by <cite>Marit K.</cite>, Beach Road`, `by Tove L., Beach Road`, `by <cite>Tove L.</cite>, Beach Road`},
		{"within another", `<span class="who"><cite>Marit K.</cite></span>`, `Tove`, `<span class="who"><cite>Tove</cite></span>`},
		{"one of two", `<span class="a">One</span> and <span class="b">two</span>`, `One and three`, `One and <span class="b">three</span>`},
		{"with a mark", `<span class="a">One</span>`, `<strong>Two</strong>`, `<span class="a"><strong>Two</strong></span>`},
		{"taken off", `<span class="a">One</span> more`, `One more`, `One more`},
		{"emptied", `by <cite>Marit K.</cite>`, `by`, `by`},
		{"other words around it", `by <cite>Marit K.</cite>`, `from Tove L.`, `from Tove L.`},
		{"signs outside ASCII", `© <cite>Marit Ç.</cite> ☂`, `© Ünal ☂`, `© <cite>Ünal</cite> ☂`},
	} {
		p := parse(t, "<html><head><title>x</title></head><body><main><h1>H</h1><p>"+tt.was+"</p></main></body></html>")
		part, ok := p.Part("words-1")
		if !ok {
			t.Fatalf("%s: no words", tt.name)
		}
		got, err := Rewrite(p, part, tt.typed)
		if err != nil || got != tt.is {
			t.Errorf("%s: %q %v, wanted %q", tt.name, got, err, tt.is)
		}
	}
}
