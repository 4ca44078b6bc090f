package act_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// laidOut is one act on the layout of a page that nobody here wrote.
type laidOut struct {
	template string
	do       string
	act      act.Act
	part     *page.Part
	at       [2]int // the bytes outside of which nothing may change
	apart    bool   // it stands in two places
}

// layoutActs are the acts on every item and section of a page: copied, moved, taken out; and one item added to every
// set.
func layoutActs(template string, p *page.Page) (all []laidOut) {
	for _, part := range p.All {
		within := part
		switch {
		case part.Kind == page.Set && len(part.Items()) > 0:
			one := laidOut{
				template,
				"add",
				&act.AddItem{Part: part.ID},
				part,
				reach(p, part),
				part.Items()[0].Half != "",
			}
			all = append(all, one)
			continue
		case part.Kind == page.Section:
		default:
			item, _ := p.ItemOf(part)
			if item != part {
				continue
			}
			within = part.Parent
		}
		if part.Locked != "" {
			continue
		}
		if within.Parent != nil && part.Kind == page.Section {
			within = within.Parent
		}
		at, apart := reach(p, within), part.Half != ""
		if part.Kind == page.Section && part.Parent == nil {
			at = [2]int{0, len(p.Doc.Bytes)}
		}
		all = append(all,
			laidOut{template, "copy", &act.Copy{Part: part.ID}, part, at, apart},
			laidOut{template, "take out", &act.Remove{Part: part.ID}, part, at, apart},
		)
		before, after := p.Beside(p.Whole(part))
		if after != nil {
			all = append(
				all,
				laidOut{
					template,
					"move",
					&act.Move{Part: part.ID, Anchor: after.ID, Where: change.After},
					part,
					at,
					apart,
				},
			)
		} else if before != nil {
			all = append(all, laidOut{template, "move", &act.Move{Part: part.ID, Anchor: before.ID, Where: change.Before}, part, at, apart})
		}
	}
	return all
}

// template is a page that nobody here wrote, and the draft of it without a change.
func template(t *testing.T, file string) (*page.Page, *thread.Draft) {
	t.Helper()
	p, err := page.Parse(foreign.Read(t, file), "")
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	return p, d
}

// reach is from where to where a part stands with the other halves of what is in it, and the white space around.
func reach(p *page.Page, part *page.Part) [2]int {
	at := [2]int{part.Start, part.End}
	for _, item := range part.Items() {
		if half, ok := p.Part(item.Half); ok {
			at[0], at[1] = min(at[0], half.Start), max(at[1], half.End)
		}
	}
	for at[0] > 0 && strings.ContainsRune(" \t\r\n", rune(p.Doc.Bytes[at[0]-1])) {
		at[0]--
	}
	return at
}

// Every item of every set and every section of pages that nobody here wrote is copied, moved and taken out, and every
// set gets one item more: nothing outside changes, each is undone to the very bytes, no identifier stands twice, the
// page has no more parse errors (as html5lib counts them), and compared it is one change. What is refused says why.
// Every run tries one of seven.
func TestItemsAndSectionsOfPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	names, files := foreign.Templates(t)
	var n, tried, done, twoPlaces, oneChange, leaked, undone, repeated int
	refused := map[string]int{}
	var olds, news []string
	var says []string
	for _, name := range names {
		p, d := template(t, files[name])
		old := string(p.Doc.Bytes)
		for _, a := range layoutActs(name, p) {
			if n++; !tries.Some(n, 7) {
				continue
			}
			say := fmt.Sprintf("%s: %s %s %q", a.template, a.do, a.part.Kind, a.part.Name)
			tried++
			result, err := act.Do(d, a.act, nil)
			if err != nil {
				no := refusal.Of(err)
				if no == nil || no.Say == "" {
					t.Errorf("%s: %v", say, err)
					continue
				}
				refused[a.do+": "+generally(no.Say)]++
				if os.Getenv("MENDRY_SHOW") != "" {
					t.Logf("refused %s: %s", say, no.Say)
				}
				continue
			}
			if len(result.Effects) == 0 {
				continue // twins, of which one was moved behind the other
			}
			done++
			now := result.Draft.Page()
			if last := len(result.Draft.Kept) - 1; a.do != "take out" && result.Draft.Made(last) == nil {
				t.Errorf("%s: what was made is not known, and nothing comes in hand", say)
			}
			b := string(now.Doc.Bytes)
			if !strings.HasPrefix(b, old[:a.at[0]]) || !strings.HasSuffix(b, old[a.at[1]:]) {
				leaked++
				t.Errorf("%s: bytes outside changed", say)
			}
			back, err := result.Draft.Without(result.Effects[0].Change.ID)
			if err != nil || string(back.Page().Doc.Bytes) != old {
				undone++
				t.Errorf("%s: not undone: %v", say, err)
			}
			if a.apart {
				for _, f := range check.Run(&check.Subject{Before: p, After: now, Changed: check.TouchedBy(result.Draft), Edits: check.EditsOf(result.Draft)}) {
					if f.Rule == "outside-same" && f.Level == check.Stop {
						t.Errorf("%s: %s", say, f.Say)
					}
				}
			}
			was, is := identifiers(p), identifiers(now)
			for id, n := range is {
				if n > max(was[id], 1) {
					repeated++
					t.Errorf("%s: the identifier %q stands %d times", say, id, n)
				}
			}
			if a.apart {
				twoPlaces++
			} else if c := change.Compare(p, now); c.OutsideSame && len(c.Changes) == 1 {
				oneChange++
			} else if os.Getenv("MENDRY_SHOW") != "" {
				t.Logf("%s: outside same %v, %d changes: %+v", say, c.OutsideSame, len(c.Changes), c.Changes)
			}
			olds, news, says = append(olds, old), append(news, b), append(says, say)
		}
	}
	if len(refused) > 0 {
		for why, n := range refused {
			t.Logf("refused %4d: %s", n, why)
		}
	}
	no := 0
	for _, n := range refused {
		no += n
	}
	t.Logf(
		"%d templates, %d acts: %d done, %d refused (%.2f %%), %d of the done in two places, %d of the others told as one change; %d leaked, %d not undone, %d identifiers repeated",
		len(names),
		tried,
		done,
		no,
		100*float64(no)/float64(tried),
		twoPlaces,
		oneChange,
		leaked,
		undone,
		repeated,
	)
	if 100*no >= 3*tried {
		t.Errorf("3 %% or more refused")
	}
	if 1000*(done-twoPlaces-oneChange) > done { // a section that is moved past a large one may be told as that one's move
		t.Errorf("%d are told as more than one change", done-twoPlaces-oneChange)
	}
	counted := tries.Number("MENDRY_COUNTED", 40, len(news)) // of the results, by a parser that takes its time
	r := rand.New(rand.NewPCG(13, 1))
	some := r.Perm(len(news))[:min(counted, len(news))]
	slices.Sort(some)
	var pages []string
	first := map[string]int{} // where in pages an old one stands
	for _, i := range some {
		if _, ok := first[olds[i]]; !ok {
			first[olds[i]] = len(pages)
			pages = append(pages, olds[i])
		}
		pages = append(pages, news[i])
	}
	counts := foreign.ParseErrors(t, pages)
	at := 0
	for _, i := range some {
		if first[olds[i]] == at {
			at++
		}
		if counts[at] > counts[first[olds[i]]]+copiedErrors(says[i], counts[first[olds[i]]]) {
			t.Errorf("%s: %d parse errors, %d before", says[i], counts[at], counts[first[olds[i]]])
		}
		at++
	}
	t.Logf("parse errors counted on %d results", len(some))
}

// copiedErrors is how many parse errors more a page may have: none, but of a copy of what has errors itself.
func copiedErrors(say string, before int) int {
	if strings.Contains(say, ": copy ") || strings.Contains(say, ": add ") {
		return before
	}
	return 0
}

// generally is a refusal without the names in it.
func generally(say string) string {
	for {
		from := strings.Index(say, "“")
		to := strings.Index(say, "”")
		if from < 0 || to < from {
			return page.Short(say, 100)
		}
		say = say[:from] + "‹›" + say[to+len("”"):]
	}
}

func identifiers(p *page.Page) map[string]int {
	all := map[string]int{}
	for _, n := range p.Doc.Nodes {
		if n.Tag() == "" {
			continue
		}
		if id := p.Doc.Value(n, "id"); id != "" {
			all[id]++
		}
	}
	return all
}
