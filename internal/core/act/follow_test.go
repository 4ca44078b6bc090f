package act_test

import (
	"mendry/internal/core/act"
	"strings"
	"testing"
)

// A link that shows a phone number or a mail address reaches what it shows, also when that is changed; one that
// reaches somebody else on purpose, or shows neither, keeps its target.
func TestLinksFollowWhatTheyShow(t *testing.T) {
	t.Parallel()
	const body = `<p class="x">Call <a class=t href='tel:+441632960199'>01632 960199</a> or <a href="mailto:desk@ferry.example?subject=Hi">desk@ferry.example</a>, <a href="tel:+441632960150">the quay</a>.</p>`
	for _, c := range []struct {
		name string
		act  act.Act
		want string
	}{
		{"a number in words", &act.Words{"words-1", "Call 01632 960110 or desk@ferry.example, the quay."},
			strings.NewReplacer("'tel:+441632960199'>01632 960199", `"tel:+441632960110">01632 960110`).Replace(body)},
		{"both in words", &act.Words{"words-1", "Call 01632 960110 or quay@ferry.example, the quay."},
			strings.NewReplacer("'tel:+441632960199'>01632 960199", `"tel:+441632960110">01632 960110`, "desk@ferry.example?subject=Hi\">desk@", "quay@ferry.example?subject=Hi\">quay@").Replace(body)},
		{"as an editor has it", &act.Markup{"words-1", `Call <a href="tel:+441632960199">01632 960111</a> or <a href="mailto:desk@ferry.example?subject=Hi">desk@ferry.example</a>, <a href="tel:+441632960150">the quay</a>.`},
			strings.NewReplacer("'tel:+441632960199'>01632 960199", `"tel:+441632960111">01632 960111`).Replace(body)},
		{"the link alone", &act.Words{"link-1", "01632 960110"},
			strings.NewReplacer("'tel:+441632960199'>01632 960199", `'tel:+441632960110'>01632 960110`).Replace(body)},
		{"a name for a number", &act.Words{"link-1", "the desk"}, strings.Replace(body, "01632 960199", "the desk", 1)},
		{"half a number, while it is typed", &act.Words{"link-1", "01632 9"}, strings.Replace(body, "01632 960199", "01632 9", 1)},
		{"a target set on purpose", &act.Markup{"words-1", `Call <a href="tel:+441632960122">01632 960199</a> or <a href="mailto:desk@ferry.example?subject=Hi">desk@ferry.example</a>, <a href="tel:+441632960150">the quay</a>.`},
			strings.NewReplacer("'tel:+441632960199'", `"tel:+441632960122"`).Replace(body)},
	} {
		d := draft(t, body)
		done, err := act.Do(d, c.act, nil)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if got := string(done.Draft.Page().Doc.Bytes); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
		if len(done.Effects) != 1 {
			t.Errorf("%s: %d changes, want one", c.name, len(done.Effects))
		}
	}
}

// What is typed letter by letter ends as if it had been typed at once, and typed back it leaves nothing.
func TestALinkFollowsWhileOneTypes(t *testing.T) {
	t.Parallel()
	const body = `<p>Call <a href="tel:+441632960199">01632 960199</a></p>`
	d := draft(t, body)
	for _, shown := range []string{"01632 96019", "01632 9601", "01632 96011", "01632 960110"} {
		done, err := act.Do(d, &act.Markup{"words-1", `Call <a href="tel:+441632960199">` + shown + `</a>`}, nil)
		if err != nil {
			t.Fatal(err)
		}
		d = done.Draft
	}
	if got, want := string(d.Page().Doc.Bytes), strings.NewReplacer("960199", "960110").Replace(body); got != want {
		t.Errorf("got %s, want %s", got, want)
	}
	done, err := act.Do(d, &act.Markup{"words-1", `Call <a href="tel:+441632960199">01632 960199</a>`}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(done.Draft.Kept) != 0 || string(done.Draft.Page().Doc.Bytes) != body {
		t.Errorf("typed back: %d changes, %s", len(done.Draft.Kept), done.Draft.Page().Doc.Bytes)
	}
}
