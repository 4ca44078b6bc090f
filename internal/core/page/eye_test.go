package page_test

import (
	"bufio"
	"bytes"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/page"
	"mendry/internal/foreign"
)

// eyed is a set as a person counted it on a page: what its items are, how many, and how the first one begins, or
// another that may come first where it is found in part.
type eyed struct {
	like  string
	items int
	first string
}

// byEye reads testdata/sets.txt: sets of the templates, counted by eye in a browser and in the markup. Nothing in it
// was taken over from what the engine says without looking.
func byEye(t *testing.T) map[string][]eyed {
	t.Helper()
	b, err := os.ReadFile("testdata/sets.txt")
	if err != nil {
		t.Fatal(err)
	}
	all := map[string][]eyed{}
	on := ""
	for s := bufio.NewScanner(bytes.NewReader(b)); s.Scan(); {
		line := s.Text()
		switch {
		case line == "" || strings.HasPrefix(line, "#"):
		case !strings.HasPrefix(line, "\t"):
			on = line
			all[on] = nil
		default:
			var e eyed
			fields := strings.SplitN(strings.TrimSpace(line), " ", 3)
			if _, err := fmt.Sscan(fields[0], &e.items); err != nil || len(fields) < 3 {
				t.Fatalf("line %q", line)
			}
			e.like, e.first = fields[1], fields[2]
			all[on] = append(all[on], e)
		}
	}
	return all
}

// said is how an item of a set begins: its first words, or what it is named.
func said(item *page.Part) string {
	return strings.Join(strings.Fields(strings.NewReplacer("“", "", "”", "", "\n", " ").Replace(item.Name)), " ")
}

// What a person would call a set on pages that nobody here wrote, and what is found: found whole, in part, missed, or
// found where there is none.
func TestSetsAreFoundAsAPersonCountsThem(t *testing.T) {
	eye := byEye(t)
	names, files := foreign.Templates(t)
	found, partly, missed, wrong := 0, 0, 0, 0
	for _, name := range names {
		want, counted := eye[name]
		if !counted {
			t.Errorf("%s was not counted", name)
		}
		p, err := page.Parse(foreign.Read(t, files[name]), "")
		if err != nil {
			t.Fatal(err)
		}
		taken := make([]bool, len(want))
		match := func(set *page.Part, whole bool) bool {
			items := set.Items()
			for i, e := range want {
				begins := slices.ContainsFunc(strings.Split(e.first, " | "), func(first string) bool {
					return strings.HasPrefix(said(items[0]), strings.TrimSuffix(first, "…"))
				})
				if !taken[i] && begins && (e.items == len(items) && e.like == p.Like(set)) == whole {
					taken[i] = true
					return true
				}
			}
			return false
		}
		var rest []*page.Part
		a, b := 0, 0
		for _, set := range p.OfKind(page.Set) {
			if len(set.Items()) > 0 && match(set, true) {
				a++
			} else {
				rest = append(rest, set)
			}
		}
		for _, set := range rest {
			if len(set.Items()) > 0 && match(set, false) {
				b++
				continue
			}
			wrong++
			t.Errorf("%s: found wrongly: %s", name, set.Name)
		}
		found, partly = found+a, partly+b
		missed += len(want) - a - b
		if a < len(want) {
			for i, e := range want {
				if !taken[i] {
					t.Logf("%s: missed %d %s, first %q", name, e.items, e.like, e.first)
				}
			}
			t.Logf("%-60s %d sets, %d found, %d partly, %d missed", name, len(want), a, b, len(want)-a-b)
		}
	}
	all := found + partly + missed
	t.Logf("%d templates, %d sets: %d found, %d partly, %d missed, %d wrong (%.1f %% found)", len(names), all, found, partly, missed, wrong, 100*float64(found)/float64(all))
	if wrong > 0 || 100*found < 92*all {
		t.Errorf("wanted 92 %% found and none wrong")
	}
}

// The same bytes are the same parts, however often they are read: nothing hangs on the order of a map.
func TestAPageIsReadTheSameEveryTime(t *testing.T) {
	names, files := foreign.Templates(t)
	for _, name := range names {
		b := foreign.Read(t, files[name])
		first := ""
		for range 4 {
			p, err := page.Parse(b, "")
			if err != nil {
				t.Fatal(err)
			}
			var all strings.Builder
			for _, q := range p.All {
				fmt.Fprintln(&all, q.ID, q.Name, q.Start, q.End, q.Half, len(q.Items()))
			}
			if first == "" {
				first = all.String()
			} else if all.String() != first {
				t.Errorf("%s is read otherwise the next time", name)
			}
		}
	}
}
