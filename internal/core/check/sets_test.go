package check

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
)

func voices(attributes string, items ...string) string {
	return `<title>A</title><main><h1>A</h1><div class="voices" ` + attributes + `><div class="voice">` + strings.Join(items, `</div><div class="voice">`) + `</div></div></main>`
}

// What PRODUCT's rules say of sets: common practice, no source.
func TestWhatIsSaidOfSets(t *testing.T) {
	full := func(name string) string {
		return `<img src="/` + name + `.jpg" alt="` + name + `"><p>` + name + ` says it.</p><p class="who">` + name + `</p>`
	}
	for _, tt := range []struct {
		name, page, rule, want string
	}{
		{"as many as are shown", voices(`data-show="3"`, full("Ada"), full("Ben"), full("Cy")), "set-slides", "stop 3 are shown at once, and there are 3: nothing slides. Show fewer, or add one more."},
		{"more than are shown", voices(`data-show="2"`, full("Ada"), full("Ben"), full("Cy")), "set-slides", "fine 2 of 3 are shown at once, so it slides."},
		{"no number of what is shown", voices(`data-seconds="2"`, full("Ada"), full("Ben")), "set-slides", ""},
		{"one without a picture", voices("", full("Ada"), full("Ben"), "<p>Cy says it.</p><p>Cy</p>"), "item-complete", "look Its neighbours have a picture, and this one has not."},
		{"as complete as the others", voices("", full("Ada"), full("Ben"), full("Cy")), "item-complete", ""},
		{"half have a picture", voices("", full("Ada"), "<p>Ben says it.</p><p>Ben</p>", "<p>Cy says it.</p><p>Cy</p>"), "item-complete", ""},
		{"the same twice", voices("", full("Ada"), full("Ben"), full("Ada")), "item-once", "look Another one beside it says and shows the same."},
		{"a prompt left", voices("", full("Ada"), full("Ben"), `<img src="/c.jpg" alt="C"><p>“New words”</p><p>Cy</p>`), "fillers-gone", "stop “New words” holds a place for words that are still to come."},
		{
			"a picture to come", voices("", full("Ada"), full("Ben"), `<img src="data:image/svg+xml,%3Csvg data-new='' %3E" alt="C"><p>Cy says</p><p>Cy</p>`),
			"picture-comes", "stop A picture is still to come here. Choose one, or take the item out.",
		},
	} {
		p, err := page.Parse([]byte(tt.page), "")
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, f := range Run(&Subject{After: p, Before: p, Address: "/a.html", Public: "https://a.example"}) {
			if f.Rule == tt.rule && f.Part != "" {
				got = append(got, string(f.Level)+" "+f.Say)
			}
		}
		if strings.Join(got, "|") != tt.want {
			t.Errorf("%s: %q", tt.name, got)
		}
	}
}
