package act_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/text"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

const island = `<html><head><title>Heron</title></head><body>
<main class="page">
  <h1>Heron Island</h1>
  <h2 class="sub">Getting here</h2>
  <p class="lead">The crossing takes twenty minutes.</p>
  <p>From the landing it is <em>five</em> minutes on foot.</p>
  <figure><img src="/heron.png" alt="Heron from the boat"><figcaption>Heron</figcaption></figure>
  <ul class="dots">
    <li>Bicycles travel free.</li>
    <li>The tearoom is open.</li>
  </ul>
  <blockquote><p>Worth the trip.</p></blockquote>
  <p>The last boat leaves at 18.40.</p>
  <p>Ask <small class="k">the crew</small> [crew id="1"].</p>
</main>
<p>Alone.</p>
</body></html>
`

// blocks are what an editor holds of the run that a part is in.
func blocks(t testing.TB, p *page.Page, id string) (bs []act.RunBlock) {
	t.Helper()
	runs := change.Runs(p)
	at := change.RunWith(runs, id)
	if at < 0 {
		t.Fatalf("%s is in no run", id)
	}
	for i, b := range runs[at].Blocks {
		rb := act.RunBlock{Key: fmt.Sprint("k", i), Form: b.Form}
		if b.Part != nil {
			rb.Part = b.Part.ID
		}
		if !b.Sealed() {
			rb.HTML = change.Editable(p, b.Part)
		}
		bs = append(bs, rb)
	}
	return bs
}

// seals are sealed things whose label is not read on the page: icons and pictures, but not codes.
var seals = regexp.MustCompile(`<span data-seal[^>]*>[^<\[]*</span>`)

// plain is what can be read of words that an editor holds.
func plain(html string) string {
	s, _ := text.Plain(seals.ReplaceAllString(html, ""))
	return strings.TrimSpace(s)
}

// read is how a run reads: the form and words of each block.
func read(t testing.TB, p *page.Page, id string) string {
	t.Helper()
	var lines []string
	for _, b := range blocks(t, p, id) {
		lines = append(lines, strings.TrimSpace(string(b.Form)+" "+plain(b.HTML)))
	}
	return strings.Join(lines, "\n")
}

func TestARunIsNeighbouringBlocks(t *testing.T) {
	d := draft(t, island)
	want := "h1 Heron Island\nh2 Getting here\np The crossing takes twenty minutes.\np From the landing it is five minutes on foot.\n\n" +
		"bullets Bicycles travel free.\nbullets The tearoom is open.\nquote Worth the trip.\np The last boat leaves at 18.40.\np Ask the crew [crew id=\"1\"]."
	if got := read(t, d.Page(), id(t, d, "Heron Island")); got != want {
		t.Errorf("got\n%s", got)
	}
	if got := read(t, d.Page(), id(t, d, "Alone.")); got != "p Alone." {
		t.Errorf("got %s", got)
	}
}

// What an editor holds becomes changes, each for itself, and nothing else.
func TestARunBecomesChangesBlockByBlock(t *testing.T) {
	block := func(form, words string) act.RunBlock {
		return act.RunBlock{Key: "new " + words, Form: change.Form(form), HTML: words}
	}
	tests := []struct {
		name string
		edit func(bs []act.RunBlock) []act.RunBlock
		says []string // of the changes, in order
		old  string   // what stood there
		new  string   // and what stands there instead
	}{
		{"nothing", func(bs []act.RunBlock) []act.RunBlock { return bs }, nil, "", ""},
		{
			"a word", func(bs []act.RunBlock) []act.RunBlock {
				bs[2].HTML = "The crossing takes fifteen minutes."
				return bs
			},
			[]string{"becomes The crossing takes fifteen minutes."}, "twenty", "fifteen",
		},
		{
			"a paragraph split", func(bs []act.RunBlock) []act.RunBlock {
				bs[3].HTML = "From the landing it is"
				return slices.Insert(bs, 4, act.RunBlock{Key: "n", Form: "p", HTML: "<em>five</em> minutes on foot."})
			},
			[]string{"becomes From the landing it is", "New after"},
			"it is <em>five</em> minutes on foot.</p>", "it is</p>\n  <p><em>five</em> minutes on foot.</p>",
		},
		{
			"two joined", func(bs []act.RunBlock) []act.RunBlock {
				bs[2].HTML += " " + bs[3].HTML
				return slices.Delete(bs, 3, 4)
			},
			[]string{"“From the landing it is five minutes on foot.” is new", "is taken out"},
			"minutes.</p>\n  <p>From the landing it is <em>five</em> minutes on foot.</p>", "minutes. From the landing it is <em>five</em> minutes on foot.</p>",
		},
		{
			"two joined with a wrapper and a code in the second", func(bs []act.RunBlock) []act.RunBlock {
				bs[8].HTML += " " + bs[9].HTML
				return bs[:9]
			},
			[]string{"is new", "is taken out"}, "18.40.</p>\n  <p>Ask <small class=\"k\">the crew</small> [crew id=\"1\"].</p>", "18.40. Ask <small class=\"k\">the crew</small> [crew id=\"1\"].</p>",
		},
		{
			"one split before them", func(bs []act.RunBlock) []act.RunBlock {
				at := strings.Index(bs[9].HTML, "<span")
				rest := bs[9].HTML[at:]
				bs[9].HTML = bs[9].HTML[:at]
				return append(bs, act.RunBlock{Key: "n", Form: "p", HTML: rest})
			},
			[]string{"becomes", "New after"}, "<p>Ask <small", "<p>Ask</p>\n  <p><small",
		},
		{
			"one new below the heading, dressed as what it stands below", func(bs []act.RunBlock) []act.RunBlock {
				return slices.Insert(bs, 2, block("h2", "Tickets"))
			},
			[]string{"New after"}, `Getting here</h2>`, "Getting here</h2>\n  <h2 class=\"sub\">Tickets</h2>",
		},
		{
			"an item more", func(bs []act.RunBlock) []act.RunBlock {
				return slices.Insert(bs, 7, block("bullets", "Dogs too."))
			},
			[]string{"New after"}, "open.</li>", "open.</li>\n    <li>Dogs too.</li>",
		},
		{
			"a paragraph after the list", func(bs []act.RunBlock) []act.RunBlock {
				return slices.Insert(bs, 7, block("p", "Dogs too."))
			},
			[]string{"New after"}, "</ul>", "</ul>\n  <p>Dogs too.</p>",
		},
		{
			"a list after a paragraph", func(bs []act.RunBlock) []act.RunBlock {
				return slices.Insert(bs, 4, block("numbers", "First."), block("numbers", "Second."))
			},
			[]string{"New after", "New after"}, "on foot.</p>", "on foot.</p>\n  <ol>\n  <li>First.</li>\n  <li>Second.</li>\n  </ol>",
		},
		{
			"a paragraph after the quote", func(bs []act.RunBlock) []act.RunBlock {
				return slices.Insert(bs, 8, block("p", "Said by a visitor."))
			},
			[]string{"New after"}, "</blockquote>", "</blockquote>\n  <p>Said by a visitor.</p>",
		},
		{
			"the list out", func(bs []act.RunBlock) []act.RunBlock { return slices.Delete(bs, 5, 7) },
			[]string{"is taken out", "is taken out"},
			"\n  <ul class=\"dots\">\n    <li>Bicycles travel free.</li>\n    <li>The tearoom is open.</li>\n  </ul>", "",
		},
		{
			"the last one up", func(bs []act.RunBlock) []act.RunBlock {
				last := bs[8]
				return slices.Insert(slices.Delete(bs, 8, 9), 2, last)
			},
			[]string{"moves after"}, "", "",
		},
		{
			"another form", func(bs []act.RunBlock) []act.RunBlock {
				bs[2].Form = "h3"
				bs[3].Form = "quote"
				return bs
			},
			[]string{"becomes a heading of level 3", "becomes a quote"}, "", "",
		},
		{
			"cut and put back elsewhere without its name", func(bs []act.RunBlock) []act.RunBlock {
				last := bs[8]
				last.Part, last.Key = "", "pasted"
				return slices.Insert(slices.Delete(bs, 8, 9), 2, last)
			},
			[]string{"moves after"}, "", "",
		},
		{
			"an empty one begun", func(bs []act.RunBlock) []act.RunBlock { return slices.Insert(bs, 4, block("p", "")) },
			nil, "", "",
		},
	}
	for _, tt := range tests {
		d := draft(t, island)
		want := tt.edit(blocks(t, d.Page(), id(t, d, "Heron Island")))
		done, err := act.Do(d, &act.Run{Blocks: want}, studio{})
		if err != nil {
			t.Errorf("%s: %v", tt.name, err)
			continue
		}
		var says []string
		for _, e := range done.Effects {
			says = append(says, e.Change.Say)
		}
		if len(says) != len(tt.says) {
			t.Errorf("%s: said %q", tt.name, says)
		}
		for i := range min(len(says), len(tt.says)) {
			if !strings.Contains(says[i], tt.says[i]) {
				t.Errorf("%s: said %q", tt.name, says[i])
			}
		}
		got := string(done.Draft.Page().Doc.Bytes)
		if tt.old != "" && got != strings.Replace(island, tt.old, tt.new, 1) {
			t.Errorf("%s:\n%s", tt.name, got)
		}
		if tt.says == nil && got != island {
			t.Errorf("%s changed bytes:\n%s", tt.name, got)
		}
		holds(t, tt.name, done, want)
	}
}

// holds checks that a run reads as it was wanted, that each block is known by the part that it is, and that each
// change can be taken out again until nothing is changed.
func holds(t *testing.T, name string, done *act.Done, want []act.RunBlock) {
	t.Helper()
	p := done.Draft.Page()
	var lines []string
	first := ""
	for _, b := range want {
		if b.Form != "" && !change.Says(b.HTML) {
			continue
		}
		plain := plain(b.HTML)
		lines = append(lines, strings.TrimSpace(string(b.Form)+" "+plain))
		part, ok := p.Part(done.Keys[b.Key])
		switch {
		case b.Form != "" && !ok:
			t.Errorf("%s: nobody knows what became of %q", name, b.HTML)
		case ok && b.Form != "" && collapse(part.Text) != collapse(plain):
			t.Errorf("%s: %q is known as %q", name, plain, part.Text)
		}
		if ok && first == "" {
			first = part.ID
		}
	}
	if got := read(t, p, first); collapse(got) != collapse(strings.Join(lines, "\n")) {
		t.Errorf("%s: reads\n%s\nwanted\n%s", name, got, strings.Join(lines, "\n"))
	}
	d := done.Draft
	for len(d.Kept) > 0 {
		k := len(d.Kept) - 1
		next, err := d.Without(d.Kept[k].ID)
		if err != nil {
			t.Fatalf("%s: %q stays: %v", name, d.Kept[k].Say, err)
		}
		d = next
	}
	if !bytes.Equal(d.Page().Doc.Bytes, d.Live.Doc.Bytes) {
		t.Errorf("%s: taken out again, it leaves\n%s", name, d.Page().Doc.Bytes)
	}
}

// Blocks that were begun one after the other: typing goes on in the first of them, and it can be taken out, with the
// one that was begun below it in its place.
func TestNewBlocksStandByThemselves(t *testing.T) {
	d := draft(t, island)
	type steps = func(bs []act.RunBlock) []act.RunBlock
	at := func(bs []act.RunBlock, words string) int {
		return slices.IndexFunc(bs, func(b act.RunBlock) bool { return strings.HasPrefix(b.HTML, words) })
	}
	for i, step := range []steps{
		func(bs []act.RunBlock) []act.RunBlock {
			return slices.Insert(bs, 4, act.RunBlock{Key: "a", Form: "p", HTML: "mind"})
		},
		func(bs []act.RunBlock) []act.RunBlock {
			return slices.Insert(bs, at(bs, "mind")+1, act.RunBlock{Key: "b", Form: "p", HTML: "why"})
		},
		func(bs []act.RunBlock) []act.RunBlock {
			bs[at(bs, "mind")].HTML = "mind the gap"
			return bs
		},
		func(bs []act.RunBlock) []act.RunBlock {
			bs[at(bs, "why")].HTML = "why we wait"
			return slices.Insert(bs, at(bs, "why")+1, act.RunBlock{Key: "c", Form: "p", HTML: "until March"})
		},
		func(bs []act.RunBlock) []act.RunBlock { return slices.Delete(bs, at(bs, "mind"), at(bs, "mind")+1) },
	} {
		want := step(blocks(t, d.Page(), id(t, d, "Heron Island")))
		done, err := act.Do(d, &act.Run{Blocks: want}, studio{})
		if err != nil {
			t.Fatalf("step %d: %v", i, err)
		}
		holds(t, fmt.Sprint("step ", i), done, want)
		d = done.Draft
		for k := range d.Kept {
			d.Kept[k].ID = int64(k + 1)
		}
	}
	if len(d.Kept) != 2 || strings.Count(string(d.Page().Doc.Bytes), "on foot.</p>\n  <p>why we wait</p>\n  <p>until March</p>") != 1 {
		t.Errorf("%d changes:\n%s", len(d.Kept), d.Page().Doc.Bytes)
	}
}

func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// Runs of pages that nobody here wrote: opened and left they keep their bytes, one letter is one byte, and whatever an
// editor does to them stays in the run, reads as it was typed and can be taken out again change by change.
func TestRunsOfPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	files := foreign.Files(t)
	r := rand.New(rand.NewPCG(7, 7))
	tried, edits, refused := 0, 0, map[string]int{}
	for i, f := range files {
		if !tries.Some(i, 4) {
			continue
		}
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		p, err := page.Parse(b, "")
		if err != nil {
			continue
		}
		runs := change.Runs(p)
		r.Shuffle(len(runs), func(i, j int) { runs[i], runs[j] = runs[j], runs[i] })
		for _, run := range runs[:min(len(runs), 4)] {
			first := run.Blocks[0].Part.ID
			d, err := thread.Of(p, nil, nil)
			if err != nil {
				t.Fatal(err)
			}
			tried++
			bs := blocks(t, p, first)
			if done, err := act.Do(d, &act.Run{Blocks: bs}, studio{}); err != nil || len(done.Effects) > 0 {
				t.Errorf("%s, %s: opened and left: %v", f, first, err)
			}
			letter := slices.Clone(bs)
			letter[0].HTML += "x"
			if done, err := act.Do(d, &act.Run{Blocks: letter}, studio{}); err != nil {
				refused[err.Error()]++
			} else if got := len(done.Draft.Page().Doc.Bytes); got != len(b)+1 {
				t.Errorf("%s, %s: one letter made %d bytes of %d", f, first, got, len(b))
			}
			for range 6 {
				want := scribble(r, slices.Clone(bs))
				done, err := act.Do(d, &act.Run{Blocks: want}, studio{})
				if err != nil {
					if refusal.Of(err) == nil {
						t.Fatalf("%s, %s: %v", f, first, err)
					}
					refused[err.Error()]++
					continue
				}
				edits++
				outside(t, f+", "+first, p, run, done.Draft.Page())
				holds(t, f+", "+first, done, want)
			}
		}
	}
	t.Logf("%d runs, %d edits, refused: %v", tried, edits, refused)
}

// scribble does what a person does in an editor: types, splits, joins, takes out, moves, turns.
func scribble(r *rand.Rand, bs []act.RunBlock) []act.RunBlock {
	for n := range 1 + r.IntN(3) {
		i := r.IntN(len(bs))
		b := &bs[i]
		switch r.IntN(6) {
		case 0:
			if b.Form != "" {
				b.HTML += fmt.Sprintf(" typed %d", n)
			}
		case 1:
			if b.Form != "" {
				bs = slices.Insert(bs, i+1, act.RunBlock{Key: fmt.Sprint("new", n), Form: b.Form, HTML: fmt.Sprintf("Below, %d", n)})
			}
		case 2:
			if i > 0 && b.Form != "" && bs[i-1].Form != "" && !strings.Contains(b.HTML, "<span") {
				bs[i-1].HTML += " " + b.HTML
				bs = slices.Delete(bs, i, i+1)
			}
		case 3:
			if len(bs) > 1 && b.Form != "" {
				bs = slices.Delete(bs, i, i+1)
			}
		case 4:
			j := r.IntN(len(bs))
			if one := *b; one.Form != "" && one.Form != "bullets" && one.Form != "numbers" {
				bs = slices.Insert(slices.Delete(bs, i, i+1), j, one)
			}
		case 5:
			if b.Form == "p" {
				b.Form = change.Form([]string{"h2", "quote", "bullets"}[r.IntN(3)])
			}
		}
	}
	return bs
}

// outside checks that no byte before or after a run is another one.
func outside(t *testing.T, name string, p *page.Page, run change.Run, now *page.Page) {
	t.Helper()
	first, last := run.Blocks[0].Part, run.Blocks[len(run.Blocks)-1].Part
	start, end := change.Extent(first).Start, change.Extent(last).End
	was, is := p.Doc.Bytes, now.Doc.Bytes
	line := bytes.LastIndexByte(was[:start], '\n') + 1
	if len(bytes.TrimSpace(was[line:start])) > 0 {
		line = start
	}
	if !bytes.HasPrefix(is, bytes.TrimRight(was[:line], "\r\n")) || !bytes.HasSuffix(is, was[end:]) {
		t.Errorf("%s: bytes outside the run are others", name)
	}
}

const drying = "---\ntitle: Keeping seed\n---\n\nSeed keeps when it is dry.\n\n1. Dry it on paper\n2. Put it in a jar\n3. Write the year on it\n"

// In Markdown a list goes on and ends as it is typed, with or without something below it.
func TestARunOfMarkdownStaysMarkdown(t *testing.T) {
	for _, below := range []string{"", "\nThat is all.\n"} {
		p, err := page.ParseMarkdown([]byte(drying + below))
		if err != nil {
			t.Fatal(err)
		}
		d, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		for i, typed := range [][]string{{"look"}, {"look up the pod", "wash it"}, {"look up the pod", "wash it well", "p u"}, {"look up the pod", "wash it well", "p u and m"}} {
			bs := blocks(t, d.Page(), id(t, d, "Dry it on paper"))
			at := slices.IndexFunc(bs, func(b act.RunBlock) bool { return strings.HasPrefix(b.HTML, "Write") }) + 1
			had := len(bs) - at
			if below != "" {
				had--
			}
			for j, words := range typed {
				form := change.Numbers
				if strings.HasPrefix(words, "p ") {
					form, words = change.Paragraph, words[2:]
				}
				if j < had {
					bs[at+j].HTML = words
				} else {
					bs = slices.Insert(bs, at+j, act.RunBlock{Key: fmt.Sprint("new", i, j), Form: form, HTML: words})
				}
			}
			done, err := act.Do(d, &act.Run{Blocks: bs}, studio{})
			if err != nil {
				t.Fatalf("%q: %v", typed, err)
			}
			holds(t, fmt.Sprintf("%q", typed), done, bs)
			d = done.Draft
			for k := range d.Kept {
				d.Kept[k].ID = int64(k + 1)
			}
		}
		want := strings.Replace(drying, "year on it\n", "year on it\n4. look up the pod\n5. wash it well\n\nu and m\n", 1) + below
		if got := string(d.Page().Doc.Bytes); got != want {
			t.Errorf("got\n%s", got)
		}
	}
}

// A block that is new stands where it is wanted, also right below one that is sealed and no part.
func TestABlockIsPutInWhereItIsWanted(t *testing.T) {
	for name, text := range map[string]string{
		"island.html": island,
		"rules.html":  "<main><p>One</p><hr><p>Two</p><form><input></form><p>Three</p></main>",
		"beans.md":    "# Beans\n\nSow them early.\n\n![A row](/row.jpg)\n\n## When\n\n---\n\nIn spring.\n",
	} {
		p, err := page.Parse([]byte(text), "")
		if strings.HasSuffix(name, ".md") {
			p, err = page.ParseMarkdown([]byte(text))
		}
		if err != nil {
			t.Fatal(err)
		}
		id := ""
		for _, r := range change.Runs(p) {
			if id == "" && len(r.Blocks) > 2 {
				id = r.Blocks[0].Part.ID
			}
		}
		had := blocks(t, p, id)
		sealed := 0
		for i, b := range had {
			if b.Part == "" {
				sealed++
			}
			form := change.Form("p")
			if b.Form != "" {
				form = b.Form
			}
			want := slices.Insert(slices.Clone(had), i+1, act.RunBlock{Key: "new", Form: form, HTML: "Put in"})
			d, err := thread.Of(p, nil, nil)
			if err != nil {
				t.Fatal(err)
			}
			done, err := act.Do(d, &act.Run{Blocks: want}, nil)
			if err != nil {
				t.Errorf("%s, below %d: %v", name, i, err)
				continue
			}
			is := blocks(t, done.Draft.Page(), id)
			if len(is) != len(want) || is[i+1].HTML != "Put in" {
				t.Errorf("%s, below %d of %d blocks: %v", name, i, len(had), is)
			}
		}
		t.Logf("%s: below %d blocks, %d of them sealed and no part", name, len(had), sealed)
	}
}
