package style_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/style"
)

// node is the element with the identifier "it", and all elements of its tag as others like it.
func node(t *testing.T, page string) (it *html.Node, worn style.Worn) {
	t.Helper()
	root, err := html.Parse(strings.NewReader(page))
	if err != nil {
		t.Fatal(err)
	}
	for n := range root.Descendants() {
		for _, a := range n.Attr {
			if a.Key == "id" && a.Val == "it" {
				it = n
			}
		}
	}
	for n := range root.Descendants() {
		switch {
		case n == it || n.Type != html.ElementNode:
		case n.Data == it.Data:
			worn.Add(n)
		default:
			worn.AddOther(n)
		}
	}
	return it, worn
}

// The names of classes, custom properties and attributes are made up; what they do is as their sheets say.
func TestASiteSaysHowItMakesThingsLook(t *testing.T) {
	for name, c := range map[string]struct {
		sheet, page string
		words       bool
		want        string
	}{
		"a modifier that others carry, and those that are called like it": {
			".block{padding:4rem 0}.block--white{background:#fff}.block--night{background:#123;color:#fff}.block--tall{padding:clamp(5rem,9vw,9rem) 0}.block__in{background:red}",
			`<section class="block" id=it></section><section class="block block--white"></section><section class="block"></section>`, false,
			"ground block--white #ffffff, ground block--night #112233, space block--tall 5rem to 9rem above and below",
		},
		"what arranges things is no look": {
			".wide{background:#fff;display:grid}.dark{background:#000}.dark .in{display:flex}",
			`<section class="x" id=it></section><section class="wide dark"></section>`, false, "",
		},
		"small classes by what they are called": {
			".bg-one{background-color:#eee}.py-5{padding-top:3rem;padding-bottom:3rem}.py-1{padding-top:.25rem;padding-bottom:.25rem}.mt-3{margin-top:1rem}.shadow-lg{box-shadow:0 1rem 3rem #0003}.badge-two{background-color:#dc3545;color:#fff}.btn{padding:4px}.text-x{color:#888}",
			`<section class="py-5 mt-3" id=it></section>`, false,
			"ground bg-one #eeeeee, ink text-x #888888, space py-5 3rem above and below on, space py-1 .25rem above and below, space mt-3 1rem above on, shadow shadow-lg a shadow",
		},
		"a class that is one only together with what the element is": {
			".band{padding:1em}.band.warm{background:#fec}.card.cold{background:#cef}",
			`<section class="band" id=it></section>`, false, "ground warm #ffeecc",
		},
		"what holds in other windows, and what is a state": {
			".tone-a{background:#eee}.is-open{background:#ddd}@media(max-width:600px){.tone-b{background:#ccc}}.tone-c:hover{background:#bbb}",
			`<section class="tone-a" id=it></section>`, false, "ground tone-a #eeeeee on",
		},
		"an attribute that others carry": {
			"[data-tone=sand]{background:#eed}[data-tone='sea']{background:#036;color:#fff}[data-size=big]{padding:9rem 0}",
			`<section id=it data-tone=sea></section><section data-tone=sand></section>`, false,
			"ground data-tone=sand #eeeedd, ground data-tone=sea #003366 on",
		},
		"custom properties, and the colours of the site": {
			":root{--sand:#eed;--sea:#036;--wide:3rem}.band{background:var(--ground,#fff);padding-block:var(--space,2rem)}",
			`<section class=band id=it style="--ground:var(--sand)"></section><section class=band style="--space:5rem"></section>`, false,
			"ground --ground:var(--sand) #eeeedd on, ground --ground:var(--sea) #003366, space --space:5rem 5rem above and below",
		},
		"a class that sets a custom property": {
			".band{background:var(--ground,#fff)}.tone-sand{--ground:#eed}.tone-sea{--ground:#036}",
			`<section class="band tone-sand" id=it></section>`, false, "ground tone-sand #eeeedd on, ground tone-sea #003366",
		},
		"what others say in their style attributes": {
			"", `<h2 id=it>A</h2><h2 style="color:#a40; text-shadow: 0 1px 2px #0006">B</h2>`, false,
			"ink color:#a40 #aa4400, shadow text-shadow:0 1px 2px #0006 a shadow",
		},
		"motion": {
			"@keyframes rise{from{opacity:0}}.rise{animation:rise .8s both}.reveal{opacity:0;transform:translateY(20px);transition:all .6s}.reveal.is-in{opacity:1}[data-appear]{opacity:0;transition:opacity 1s}[data-appear=slow]{transition-duration:3s}",
			`<h2 id=it>A</h2><h2 class=reveal data-appear=slow>B</h2>`, true,
			"motion rise moves as it appears, motion reveal comes in as it is reached, motion data-appear=slow comes in as it is reached",
		},
		"whatever only says how words look, for words": {
			".lead{font-size:1.3em}.pale{color:#aaa}.card{color:#111;border:1px solid}.row{display:flex}.logo{font-weight:900}.x--y{color:red}",
			`<p id=it>A</p><a class=logo>Us</a>`, true, "ink pale #aaaaaa, letters lead larger",
		},
	} {
		var s style.Sheet
		s.Read([]byte(c.sheet))
		n, worn := node(t, c.page)
		all := s.Choices(n, worn, c.words)
		var got []string
		for _, one := range all {
			says := one.Value
			if one.By == style.ByAttribute {
				says = one.Name + "=" + one.Value
			} else if one.By == style.ByStyle {
				says = one.Name + ":" + one.Value
			}
			on := ""
			if one.On {
				on = " on"
			}
			got = append(got, fmt.Sprintf("%s %s %s%s", one.Aspect, says, s.Tell(one, one.With(n, n, all)), on))
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("%s:\n%s\nwant\n%s", name, strings.Join(got, ", "), c.want)
		}
	}
}

// The contrast is WCAG 2.2's: white on #767676 is 4.54, a value that its techniques name (G18, from memory).
func TestContrastIsReckonedWithAChoice(t *testing.T) {
	var s style.Sheet
	s.Read([]byte(".bg-grey{background:#767676}.bg-grey p{color:#fff}.bg-white{background:#fff}p{color:#000}"))
	n, worn := node(t, `<section id=it class="bg-white"><div><p>Words</p></div></section>`)
	all := s.Choices(n, worn, false)
	grey := all[slices.IndexFunc(all, func(c style.Choice) bool { return c.Value == "bg-grey" })]
	words := n.FirstChild.FirstChild
	ink, behind, ok := s.Words(grey.With(n, words, all))
	if contrast := style.Contrast(ink, behind); !ok || contrast < 4.53 || contrast > 4.55 {
		t.Errorf("%v on %v: %v, %v", ink, behind, contrast, ok)
	}
	if ink, behind, _ := s.Words(words); style.Contrast(ink, behind) != 21 {
		t.Errorf("something was changed: %v on %v", ink, behind)
	}
}

func TestAttributesAreDressedWithoutTouchingTheRest(t *testing.T) {
	for _, c := range []struct{ class, without, with, want string }{
		{"block block--white", "block--white", "block--night", "block block--night"},
		{"block  block--white\n\tx", "block--white", "", "block\n\tx"},
		{" block--white block ", "block--white", "", " block "},
		{"block--white", "block--white", "", ""},
		{"", "", "warm", "warm"},
		{"block", "", "warm", "block warm"},
		{"block warm", "", "warm", "block warm"},
		{"a b c", "a c", "d", "d b"},
		{"a", "a", "", ""},
	} {
		if got := style.Dress(c.class, strings.Fields(c.without), c.with); got != c.want {
			t.Errorf("%q without %q with %q: %q, want %q", c.class, c.without, c.with, got, c.want)
		}
	}
	for _, c := range []struct{ style, property, with, want string }{
		{"", "--ground", "--ground:var(--sea)", "--ground:var(--sea)"},
		{"color: red; --ground:#fff;", "--ground", "--ground:#000", "color: red; --ground:#000;"},
		{"color: red;", "--ground", "--ground:#000", "color: red;--ground:#000;"},
		{"color: red; --ground:#fff", "--ground", "", "color: red"},
		{"--ground:#fff", "--ground", "", ""},
		{"COLOR: red", "color", "color:blue", "color:blue"},
		{"margin: 0; background-size:auto;color:red; background-image:url(a.jpg)", "background-image background-size", "background-image:url(b.jpg);background-size:cover", "margin: 0; background-image:url(b.jpg);background-size:cover;color:red"},
	} {
		if got := style.Declare(c.style, strings.Fields(c.property), c.with); got != c.want {
			t.Errorf("%q with %q: %q, want %q", c.style, c.with, got, c.want)
		}
	}
}
