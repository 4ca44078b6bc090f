package change_test

import (
	"bytes"
	"errors"
	"fmt"
	"maps"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

const beans = "---\ntitle: Beans\ntags: [sowing, 'late']\n---\n\n# Sowing *beans*\n\nSow them **late**, in `rows`.\nTwo to a hole; see [the calendar](/calendar.html \"All dates\").\n\n" +
	"![A row](img/row.jpg)\n\n## Before you begin\n\n- Soak them\n- Warm the *soil*\n  - with fleece\n  - or glass\n- Wait\n\n> An old gardener\n> says so.\n\n" +
	"| Bean | Weeks |\n|------|-------|\n| Runner | 9 |\n| Broad | 12 |\n\nSetext\n------\n\n1. One\n2. Two\n\n***\n\nLast \\* words &amp; <https://seeds.example/>.\n"

// pool are small pages of several makes: the ones nobody here wrote that ship with the tests, and Markdown.
func pool(t testing.TB) (ps []*page.Page) {
	t.Helper()
	sources := foreign.Pages(t)
	for _, name := range slices.Sorted(maps.Keys(sources)) {
		for _, f := range sources[name] {
			b, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			if p, err := page.Parse(b, ""); err == nil && len(b) < 30_000 {
				ps = append(ps, p)
			}
		}
	}
	for _, s := range []string{beans, strings.ReplaceAll(beans, "\n", "\r\n")} {
		p, err := page.ParseMarkdown([]byte(s))
		if err != nil {
			t.Fatal(err)
		}
		ps = append(ps, p)
	}
	return ps
}

func str(s string) *string { return &s }

// randomOp makes one of the operations on random parts.
func randomOp(r *rand.Rand, p *page.Page) change.Op {
	if len(p.All) == 0 { // everything was taken out
		return change.Op{Op: change.SetFact, Name: "title", Value: str("Empty")}
	}
	pick := func() *page.Part { return p.All[r.Intn(len(p.All))] }
	part := pick()
	words := fmt.Sprintf("Words <b>%d</b> &amp; more", r.Intn(1000))
	switch r.Intn(9) {
	case 7:
		forms := change.FormsFor(p, part)
		for i := 0; i < 20 && len(forms) == 0; i++ {
			part = pick()
			forms = change.FormsFor(p, part)
		}
		if len(forms) == 0 {
			return change.Op{Op: change.Recast, Part: part.ID, Form: change.Paragraph}
		}
		return change.Op{Op: change.Recast, Part: part.ID, Form: forms[r.Intn(len(forms))]}
	case 0, 1:
		for i := 0; i < 20 && !part.Kind.HasWords(); i++ {
			part = pick()
		}
		return change.Op{Op: change.SetWords, Part: part.ID, HTML: words}
	case 2:
		name := []string{"alt", "href", "title", "class", "src"}[r.Intn(5)]
		if r.Intn(6) == 0 {
			return change.Op{Op: change.SetAttribute, Part: part.ID, Name: name}
		}
		return change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: str(fmt.Sprintf(`a "%d" & b`, r.Intn(1000)))}
	case 3:
		name := []string{"title", "description", "lang", "image", "canonical"}[r.Intn(5)]
		return change.Op{Op: change.SetFact, Name: name, Value: str(fmt.Sprintf("Fact: %d & <more>", r.Intn(1000)))}
	case 4:
		where := []change.Where{change.Before, change.After, change.First, change.Last}[r.Intn(4)]
		markup := []string{"<p>" + words + "</p>", "<h3>New</h3><p>x <i>y</i></p>", "<ul><li>a</li><li>b</li></ul>", "loose words", "<li>item</li>"}[r.Intn(5)]
		return change.Op{Op: change.Insert, Anchor: part.ID, Where: where, HTML: markup}
	case 5:
		return change.Op{Op: change.Copy, Part: part.ID, Anchor: pick().ID, Where: change.After}
	case 6:
		return change.Op{Op: change.Move, Part: part.ID, Anchor: pick().ID, Where: change.Before}
	}
	return change.Op{Op: change.Remove, Part: part.ID}
}

// grown makes up to n random changes, one after the other, and holds each against its undo. It returns the page after
// each of them, the first one as it was.
func grown(t testing.TB, r *rand.Rand, p *page.Page, n int) (at []*page.Page, done []change.Op, undos [][]change.Op) {
	t.Helper()
	at = []*page.Page{p}
	for range n {
		op := randomOp(r, p)
		res, err := change.Apply(p, []change.Op{op})
		var refused *refusal.Refusal
		if errors.As(err, &refused) && refused.Say != "" {
			continue
		}
		if err != nil {
			t.Fatalf("%+v: %v", op, err)
		}
		back, err := change.Apply(res.Page, res.Undo)
		if err != nil || !bytes.Equal(back.Bytes, p.Doc.Bytes) {
			t.Fatalf("%+v is not undone: %v", op, err)
		}
		if d := change.Compare(p, res.Page); d.Same != bytes.Equal(p.Doc.Bytes, res.Bytes) {
			t.Fatalf("%+v: compare says same: %v", op, d.Same)
		}
		p = res.Page
		at, done, undos = append(at, p), append(done, op), append(undos, res.Undo)
	}
	return at, done, undos
}

func TestRandomSequencesOfOperations(t *testing.T) {
	ps := pool(t)
	many := tries.Number("MENDRY_SEQUENCES", 40, 400)
	r := rand.New(rand.NewSource(int64(many)))
	var applied, merged, clashed, refused, reverted, kept int
	for range many {
		p := ps[r.Intn(len(ps))]
		at, ops, undos := grown(t, r, p, 4)
		applied += len(ops)
		// Reversing: any of the changes, in any order that the later ones allow, ends at the page as it was.
		now := at[len(at)-1]
		later := undos
		left := r.Perm(len(ops))
		for tried := 0; len(left) > 0 && tried <= len(left); {
			i := left[0]
			left = left[1:]
			back, err := change.Revert(now, undos[i], later[i+1:]...)
			if err != nil {
				mustBeKnown(t, err)
				left = append(left, i)
				tried++
				continue
			}
			now, tried, later = back.Page, 0, append(slices.Clip(later), back.Undo)
			reverted++
		}
		kept += len(left)
		if len(left) == 0 && !bytes.Equal(now.Doc.Bytes, p.Doc.Bytes) {
			t.Errorf("all %d changes taken back, in the order of %v: the page is not what it was", len(ops), ops)
		}
		// Merging: two people work on one page.
		mine, _, _ := grown(t, r, p, 2)
		theirs, _, _ := grown(t, r, p, 2)
		a, b := mine[len(mine)-1], theirs[len(theirs)-1]
		one, err := change.Merge(p, a, b)
		other, err2 := change.Merge(p, b, a)
		if (err == nil) != (err2 == nil) {
			t.Errorf("merging depends on the side: %v, %v", err, err2)
			continue
		}
		var clash *change.Clashes
		switch {
		case errors.As(err, &clash):
			clashed++
		case err != nil:
			mustBeKnown(t, err)
			refused++
		default:
			merged++
			if !bytes.Equal(one.Doc.Bytes, other.Doc.Bytes) {
				t.Errorf("merging depends on the side")
			}
		}
	}
	t.Logf("%d changes applied and undone; %d reverted under later ones, %d not; %d merged, %d clashed, %d refused", applied, reverted, kept, merged, clashed, refused)
	if merged == 0 || clashed == 0 || reverted == 0 {
		t.Error("the sequences tried too little")
	}
}

func mustBeKnown(t testing.TB, err error) {
	t.Helper()
	var clash *change.Clashes
	var refused *refusal.Refusal
	if !errors.As(err, &clash) && !errors.As(err, &refused) {
		t.Errorf("an error that is neither conflict nor refusal: %v", err)
	}
}

// Yardstick: git merge-file. Where the parts that two sides changed differ, there is no conflict that it does not
// have.
func TestNoConflictThatGitDoesNotHave(t *testing.T) {
	dir := t.TempDir()
	ps := pool(t)
	r := rand.New(rand.NewSource(7))
	var ours, git, both int
	for range tries.Number("MENDRY_SEQUENCES", 25, 400) {
		p := ps[r.Intn(len(ps))]
		var sides [2]*page.Page
		var parts [2]string
		for i := range sides {
			part := p.All[r.Intn(len(p.All))]
			for part.Locked != "" || !part.Kind.HasWords() || part.Parent != nil && part.Parent.Kind.HasWords() {
				part = p.All[r.Intn(len(p.All))]
			}
			res, err := change.Apply(p, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: fmt.Sprintf("Side %d says %d", i, r.Intn(1000))}})
			if err != nil {
				continue
			}
			sides[i], parts[i] = res.Page, part.ID
		}
		if sides[0] == nil || sides[1] == nil || parts[0] == parts[1] {
			continue
		}
		_, err := change.Merge(p, sides[0], sides[1])
		files := make([]string, 3)
		for i, q := range []*page.Page{sides[0], p, sides[1]} {
			files[i] = filepath.Join(dir, strconv.Itoa(i))
			if err := os.WriteFile(files[i], q.Doc.Bytes, 0o600); err != nil {
				t.Fatal(err)
			}
		}
		gitErr := exec.Command("git", "merge-file", "-p", files[0], files[1], files[2]).Run()
		if err != nil {
			ours++
			if gitErr == nil {
				t.Errorf("%s and %s: %v; git has no conflict", parts[0], parts[1], err)
			}
		}
		if gitErr != nil {
			git++
		}
		both++
	}
	t.Logf("%d merges of different parts: %d conflicts, git merge-file has %d", both, ours, git)
}
