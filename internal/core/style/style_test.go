package style

import (
	"math"
	"strings"
	"testing"

	"golang.org/x/net/html"
)

func sheet(css string) *Sheet {
	s := &Sheet{}
	s.Read([]byte(css))
	return s
}

// The pairs are those of WCAG's own pages, from memory: black on white is 21 to 1 by the definition of the ratio, and
// #767676 is the lightest grey with 4.5 to 1 on white, #777777 just misses it (4.48), #949494 is the lightest with 3.
func TestContrastIsThatOfWCAG(t *testing.T) {
	t.Parallel()
	s := sheet("")
	for _, c := range []struct {
		a, b string
		want float64
	}{
		{"#000", "white", 21}, {"#767676", "#fff", 4.54}, {"#777", "#ffffff", 4.48}, {"#949494", "#fff", 3.03}, {"red", "#fff", 4.0}, {"#00f", "white", 8.59}, {"teal", "teal", 1},
	} {
		a, okA := s.color(c.a)
		b, okB := s.color(c.b)
		if got := Contrast(a, b); !okA || !okB || math.Abs(got-c.want) > 0.005 {
			t.Errorf("%s on %s: %.3f, want %.2f", c.a, c.b, got, c.want)
		}
		if Contrast(a, b) != Contrast(b, a) {
			t.Errorf("%s and %s differ by side", c.a, c.b)
		}
	}
}

// The notations are those of CSS Color Level 4: rebeccapurple and its hexadecimal (6.1), hsl(120 100% 25%) for #008000
// (7), an alpha in the fourth place (4.2).
func TestColoursAreReadInEveryNotation(t *testing.T) {
	t.Parallel()
	s := sheet(":root { --ink: #123; --deep: var(--ink) }")
	for value, want := range map[string]string{
		"#123": "#112233", "#11223380": "#112233", "Red": "#ff0000", "rgb(17, 34, 51)": "#112233", "rgb(17 34 51 / 50%)": "#112233", "rgba(100%,0%,0%,.5)": "#ff0000",
		"hsl(120 100% 25%)": "#008000", "hsl(0, 100%, 50%)": "#ff0000", "hsl(-120deg 100% 50%)": "#0000ff", "var(--ink)": "#112233", "var(--deep)": "#112233", "var(--none, #fff)": "#ffffff",
	} {
		if got, ok := s.color(value); !ok || got.String() != want {
			t.Errorf("%s: %s %v, want %s", value, got, ok, want)
		}
	}
	for _, value := range []string{"", "#12", "#1234567", "rgb(1,2)", "rgb(a b c)", "currentcolor", "color-mix(in srgb, red, blue)", "url(x.png)", "var(--none)"} {
		if got, ok := s.color(value); ok {
			t.Errorf("%q is %s", value, got)
		}
	}
}

func node(t *testing.T, markup, id string) *html.Node {
	t.Helper()
	root, err := html.Parse(strings.NewReader(markup))
	if err != nil {
		t.Fatal(err)
	}
	for n := range root.Descendants() {
		for _, a := range n.Attr {
			if a.Key == "id" && a.Val == id {
				return n
			}
		}
	}
	t.Fatal("no node " + id)
	return nil
}

func TestWordsAreSeenOnWhatIsBehindThem(t *testing.T) {
	t.Parallel()
	s := sheet(`
		body { color: #222; background: #fafafa }
		.dark { background-color: #000; color: #fff }
		.dark p { color: #ccc } .veil { background: rgba(255,255,255,.5) }
		.photo { background: url(a.jpg) center } p.note { color: red } .note { color: green }
		@media print { p { color: #000 } } @media (max-width: 600px) { p { color: #111 } } @media screen { .big { color: navy } }
		a:hover { color: pink }`)
	for _, c := range []struct {
		markup, words, behind string
		ok                    bool
	}{
		{`<p id=x>a`, "#222222", "#fafafa", true},
		{`<div class=dark><p id=x>a`, "#cccccc", "#000000", true},
		{`<div class=dark><div class=veil><b id=x>a`, "#ffffff", "#808080", true},
		{`<div class=photo><p id=x>a`, "", "", false},
		{`<p class=note id=x>a`, "#ff0000", "#fafafa", true},
		{`<p class="note" style="color: #00f; background: #ff0" id=x>a`, "#0000ff", "#ffff00", true},
		{`<p class=big id=x>a`, "#000080", "#fafafa", true},
	} {
		words, behind, ok := s.Words(node(t, c.markup, "x"))
		if ok != c.ok || ok && (words.String() != c.words || behind.String() != c.behind) {
			t.Errorf("%s: %s on %s, %v", c.markup, words, behind, ok)
		}
	}
}

func TestStylesOfTheSiteAreThoseThatOnlySayHowWordsLook(t *testing.T) {
	t.Parallel()
	s := sheet(`.lead { font-size: 1.25em; color: #7a3d1d } p.right { text-align: right } h2.odd { color: red }
		.hero { display: flex; color: #fff } .note { padding: 1em; font-style: italic } .lead { font-weight: 700 } .wide { letter-spacing: .1em } .x:hover { color: red } a .y { color: red }`)
	var got []string
	for _, st := range s.Styles("p", map[string]int{"note": 2}) {
		got = append(got, st.Class+": "+st.Say)
	}
	want := []string{"note: italic", "lead: larger, bold, colour #7a3d1d", "right: at the right"}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s", strings.Join(got, "\n"))
	}
}

func FuzzSheet(f *testing.F) {
	f.Add("a{color:red}", "p")
	f.Add("@media screen{.a,.b p:not(.c){background:var(--x) url(y)}} :root{--x:#fff;--x:var(--x)}", "div")
	f.Add("}}{;:!important .a{color:rgb(1e309,NaN,-1)", "li")
	f.Fuzz(func(t *testing.T, css, tag string) {
		s := sheet(css)
		root, err := html.Parse(strings.NewReader("<div class=a><p class=b style=\"" + css + "\">x"))
		if err != nil {
			t.Skip()
		}
		for n := range root.Descendants() {
			if words, behind, ok := s.Words(n); ok {
				if c := Contrast(words, behind); c < 1 || c > 21.0001 || math.IsNaN(c) {
					t.Fatalf("contrast %v of %s and %s", c, words, behind)
				}
			}
		}
		s.Styles(tag, map[string]int{"a": 1})
	})
}
