package desk

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/refusal"
	"mendry/internal/tries"
)

const manyBlocks = "<!doctype html>\r\n<html lang=\"en\"><head><title>Many</title><style>.lead { font-size: 2em } .note { color: #333 }</style></head>\r\n<body>\r\n<main>\r\n" +
	"<h1>Many blocks</h1>\r\n<p class=\"lead\">Sold in [shop n=\"1\"] and [shop n=\"2\"] <b >only</b>.</p>\r\n<p>A <small class=\"x\">small</small> word &amp; a <a href=\"/a.html\">link</a>.</p>\r\n" +
	"<h2>Steps</h2>\r\n<ol>\r\n  <li>Wash the <i>seed</i></li>\r\n  <li>Dry it on paper</li>\r\n  <li>Keep it dark</li>\r\n</ol>\r\n<blockquote><p>It came up.</p></blockquote>\r\n" +
	"<ul><li>One thing<li>Another <span class=\"x\">thing</span> here</ul>\r\n" +
	"<table>\r\n  <tr><th>Who</th><th>Single</th></tr>\r\n  <tr><td>Adult</td><td>£6.90</td></tr>\r\n</table>\r\n<p>Last words<br>in two lines.</p>\r\n" + manySets + "</main>\r\n</body></html>\r\n"

// manySets are tabs with their panels, slides with their dots and settings, and questions.
const manySets = "<ul class=\"tabs\" role=\"tablist\">\r\n  <li><a class=\"active\" href=\"#one\" role=\"tab\">One</a></li>\r\n  <li><a href=\"#two\" role=\"tab\">Two</a></li>\r\n  <li><a href=\"#three\" role=\"tab\">Three</a></li>\r\n</ul>\r\n" +
	"<div class=\"panels\"><div id=\"one\" class=\"active\"><p>The first.</p></div><div id=\"two\"><p>The second.</p></div><div id=\"three\"><p>The third.</p></div></div>\r\n" +
	"<div class=\"carousel\" data-seconds=\"5\" data-options=\"dots: true; show: 2\"><div class=\"dots\"><button data-slide-to=\"0\" class=\"active\"></button><button data-slide-to=\"1\"></button><button data-slide-to=\"2\"></button></div>\r\n" +
	"<div class=\"slides\">\r\n<div class=\"slide active\"><p>Low.</p><p>Slab</p></div>\r\n<div class=\"slide\"><p>Steep.</p><p>Wall</p></div>\r\n<div class=\"slide\"><p>Over.</p><p>Roof</p></div>\r\n</div></div>\r\n" +
	"<h2>May dogs come?</h2>\r\n<p>Yes.</p>\r\n<h2>And cats?</h2>\r\n<p>No.</p>\r\n"

const manyMarkdown = "---\ntitle: Many\n---\n# Many blocks\n\nSold in [shop n=\"1\"] and *only* there.\n\nA word with a [link](/a.html).\n\n## Steps\n\n1. Wash the _seed_\n2. Dry it\n3. Keep it dark\n\n" +
	"> It came up.\n\n- One thing\n- Another **thing** here\n\n| Who | Single |\n|---|---|\n| Adult | £6.90 |\n\nLast words.\n"

// What a maintainer does on the bench, in any order: each act is kept or refused in words, nothing outside its part
// changes, and with all of it taken back, before it is published or after, the page is what it was. MENDRY_SEQUENCES
// sets how many rows of acts are tried.
func TestWhateverIsDoneOnTheBenchCanBeTakenBack(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	w.write("many.html", manyBlocks)
	w.write("many.md", manyMarkdown)
	w.takeIn()
	for seed := range tries.Number("MENDRY_SEQUENCES", 4, 100) { // four: an end each
		for address, file := range map[string]string{"/many.html": "many.html", "/many": "many.md"} {
			t.Run(fmt.Sprintf("%s %d", file, seed), func(t *testing.T) {
				w.t = t
				s := &sequence{world: w, address: address, file: file, random: rand.New(rand.NewPCG(uint64(seed), 5)), number: w.request("x")}
				for range 14 {
					s.act()
				}
				switch free := s.nothingElseChanged(); {
				case free && seed%4 == 1:
					s.publishAndTakeBack()
				case free && seed%4 == 3:
					s.publishAndTakeEachBack()
				default:
					s.takeAllBack()
				}
			})
		}
	}
}

// sequence is a row of acts on one page.
type sequence struct {
	*world
	address string
	file    string
	random  *rand.Rand
	number  int64
	done    []string
}

func (s *sequence) one(of ...string) string { return of[s.random.IntN(len(of))] }

// act does one thing to one part.
func (s *sequence) act() {
	ctx := context.Background()
	b, err := s.d.Bench(ctx, s.number, s.pages[s.address])
	s.must(err)
	if len(b.Parts) == 0 {
		return
	}
	p := b.Parts[s.random.IntN(len(b.Parts))]
	var a act.Act
	switch do := s.one("type", "type", "type", "run", "run", "form", "form", "look", "table", "copy", "move", "remove", "insert", "fact", "address", "back", "drop", "item", "item", "out", "setting"); do {
	case "type":
		a = &act.Markup{Part: p.ID, HTML: s.typed(p.Edit)}
	case "run":
		at := slices.IndexFunc(b.Runs, func(r api.PageRun) bool {
			return slices.ContainsFunc(r.Blocks, func(k api.RunBlock) bool { return k.Part == p.ID })
		})
		if at < 0 {
			return
		}
		a = &act.Run{Blocks: s.scribbled(held(b, b.Runs[at]))}
	case "form":
		if len(p.Forms) == 0 {
			return
		}
		a = &act.Form{Part: p.ID, Form: change.Form(p.Forms[s.random.IntN(len(p.Forms))])}
	case "look":
		a = &act.Look{Part: p.ID, Choice: "class class " + s.one("lead", "note")}
	case "table":
		a = &act.Table{Part: p.ID, Table: change.TableAct(s.one("row above", "row below", "row out", "column before", "column after", "column out", "new"))}
	case "fact":
		a = &act.Fact{Name: s.one("title", "description"), Words: s.one("New", "Nouveau é", "")}
	case "address":
		a = &act.Attribute{Part: p.ID, Name: "href", Words: s.one("/a.html", "https://tide.example/?a=1&b=2", "javascript:x")}
	case "back":
		ws, err := s.d.History(ctx, s.number, s.pages[s.address], p.ID)
		s.must(err)
		if len(ws) == 0 {
			return
		}
		a = &act.Back{Part: p.ID, Version: ws[s.random.IntN(len(ws))].Version}
	case "insert":
		a = &act.Insert{Part: p.ID, Where: change.After, HTML: "<p>Put in <b>here</b>.</p>"}
	case "drop":
		if len(b.Changes) > 0 {
			c := b.Changes[s.random.IntN(len(b.Changes))]
			_, err := s.d.Drop(ctx, s.who, s.number, c.ID)
			s.refusedInWords(err, "drop "+c.Say)
		}
		return
	case "remove":
		a = &act.Remove{Part: p.ID}
	case "item", "out", "setting":
		var sets []api.Part
		for _, q := range b.Parts {
			if q.Set != nil && len(q.Set.Items) > 0 {
				sets = append(sets, q)
			}
		}
		if len(sets) == 0 {
			return
		}
		set := sets[s.random.IntN(len(sets))].Set
		like, other := set.Items[s.random.IntN(len(set.Items))], set.Items[s.random.IntN(len(set.Items))]
		switch {
		case do == "out":
			a = &act.TakeOut{Parts: []string{like, other}}
		case do == "item" && s.random.IntN(3) == 0:
			a = &act.Move{Part: like, Anchor: other, Where: change.Where(s.one("before", "after"))}
		case do == "item":
			a = &act.AddItem{Part: like, Like: like, Anchor: other, Copied: s.random.IntN(2) == 0, Where: change.Where(s.one("before", "after"))}
		case len(set.Settings) == 0:
			return
		default:
			set := set.Settings[s.random.IntN(len(set.Settings))]
			a = &act.Setting{Part: set.Part, Name: set.Name, Key: set.Key, Value: s.one("3", "7", "false", "true", "x;y")}
		}
	default:
		fit := api.PartMove{Where: api.After}
		if len(p.Fits) > 0 {
			fit = p.Fits[s.random.IntN(len(p.Fits))]
		}
		if do == "copy" {
			a = &act.Copy{Part: p.ID, Anchor: fit.Anchor, Where: change.Where(fit.Where)}
		} else {
			a = &act.Move{Part: p.ID, Anchor: fit.Anchor, Where: change.Where(fit.Where)}
		}
	}
	v, err := s.d.Keep(ctx, s.who, s.number, s.pages[s.address], Ask{Draft: b.Draft, Act: a})
	s.refusedInWords(err, fmt.Sprintf("%T on %s %q", a, p.ID, p.Text))
	for _, c := range v.Changes {
		if c.Say == "" {
			s.t.Errorf("a change says nothing: %+v", c)
		}
	}
}

// typed is what an editor holds after some typing.
func (s *sequence) typed(edit string) string {
	at := s.place(edit)
	switch s.random.IntN(4) {
	case 0:
		return edit[:at] + "<strong>new</strong> " + edit[at:]
	case 1:
		if from, to := strings.Index(edit, "<span"), strings.Index(edit, "</span>"); from >= 0 && from < to {
			return edit[:from] + edit[to+len("</span>"):] // a code or a wrapper with its words goes away
		}
		return strings.Replace(edit, "o", "", 1)
	case 2:
		return edit + " and more"
	}
	return edit[:at] + s.one("x", "é ", "&amp;", "<br>") + edit[at:]
}

// place is a place between two letters, outside tags, elements and references.
func (s *sequence) place(edit string) int {
	var free []int
	depth, inside := 0, false
	for i := 0; i < len(edit); i++ {
		switch {
		case strings.HasPrefix(edit[i:], "<br"):
			inside = true
		case strings.HasPrefix(edit[i:], "</"):
			depth, inside = depth-1, true
		case edit[i] == '<':
			depth, inside = depth+1, true
		case edit[i] == '>':
			inside = false
		case depth == 0 && !inside && edit[i] < 0x80 && !strings.Contains(edit, "&"):
			free = append(free, i)
		}
	}
	if len(free) == 0 {
		return 0
	}
	return free[s.random.IntN(len(free))]
}

// refusedInWords takes a refusal for an answer, and nothing else.
func (s *sequence) refusedInWords(err error, what string) {
	s.t.Helper()
	switch {
	case err == nil:
		s.done = append(s.done, what)
	case refusal.Of(err) != nil:
	default:
		s.t.Errorf("%s: %v, after\n%s", what, err, strings.Join(s.done, "\n"))
	}
}

// nothingElseChanged looks for what the rules say of the rest of the page, and reports whether there is something to
// publish that they do not stop.
func (s *sequence) nothingElseChanged() bool {
	s.t.Helper()
	free := true
	proof, err := s.d.Proof(context.Background(), s.number)
	s.must(err)
	for _, p := range proof.Pages {
		for _, f := range p.Findings {
			if f.Rule == "outside-same" && f.Level != api.LevelFine {
				s.t.Errorf("%s, after\n%s", f.Say, strings.Join(s.done, "\n"))
			}
			free = free && f.Level != api.LevelStop
		}
	}
	return free && len(proof.Pages) > 0
}

func (s *sequence) publishAndTakeBack() {
	s.t.Helper()
	before, draft := s.read(s.file), s.drafted(s.number, s.address)
	rel := s.goLive(s.number)
	if s.read(s.file) != draft {
		s.t.Errorf("the host has\n%s\nafter\n%s", s.read(s.file), strings.Join(s.done, "\n"))
	}
	s.takeBack(rel, s.file, before)
}

// publishAndTakeEachBack takes every live change back alone, the last ones first, as changes of their own.
func (s *sequence) publishAndTakeEachBack() {
	s.t.Helper()
	ctx := context.Background()
	before := s.read(s.file)
	s.goLive(s.number)
	v, err := s.d.Bench(ctx, s.number, s.pages[s.address])
	s.must(err)
	left := v.Changes
	for len(left) > 0 {
		i := len(left) - 1
		for ; i >= 0; i-- { // one that a later change builds upon comes after it
			v, err = s.d.Bench(ctx, s.number, s.pages[s.address])
			s.must(err)
			if _, err = s.d.Keep(ctx, s.who, s.number, s.pages[s.address], Ask{Draft: v.Draft, Act: &act.TakeBack{Change: left[i].ID}}); err == nil {
				break
			}
		}
		if i < 0 {
			s.t.Fatalf("no live change can be taken back: %v, after\n%s\nleft: %v", err, strings.Join(s.done, "\n"), left)
		}
		left = slices.Delete(left, i, i+1)
	}
	if got := s.drafted(s.number, s.address); got != before {
		s.t.Errorf("with each taken back the page is\n%s\nand was\n%s\nafter\n%s", got, before, strings.Join(s.done, "\n"))
	}
	if s.nothingElseChanged() {
		s.goLive(s.number)
		if s.read(s.file) != before {
			s.t.Errorf("the host has\n%s", s.read(s.file))
		}
	}
	s.takeIn()
}

// takeAllBack takes every change back, the last ones first.
func (s *sequence) takeAllBack() {
	s.t.Helper()
	ctx := context.Background()
	for {
		v, err := s.d.Bench(ctx, s.number, s.pages[s.address])
		s.must(err)
		if len(v.Changes) == 0 {
			break
		}
		slices.Reverse(v.Changes)
		if !slices.ContainsFunc(v.Changes, func(c api.Change) bool {
			_, err = s.d.Drop(ctx, s.who, s.number, c.ID)
			return err == nil
		}) {
			s.t.Fatalf("no change can be taken back: %v, after\n%s", err, strings.Join(s.done, "\n"))
		}
	}
	dr, err := s.d.draftOf(ctx, s.s.Queries, s.number, s.pages[s.address])
	s.must(err)
	if !bytes.Equal(dr.Page().Doc.Bytes, dr.Live.Doc.Bytes) {
		s.t.Errorf("with all taken back the page is\n%s\nafter\n%s", dr.Page().Doc.Bytes, strings.Join(s.done, "\n"))
	}
}

// scribbled is a run with one of its blocks split in two, joined with the one before it, or gone.
func (s *sequence) scribbled(bs []act.RunBlock) []act.RunBlock {
	i := s.random.IntN(len(bs))
	if bs[i].Form == "" {
		return bs
	}
	switch at := s.place(bs[i].HTML); s.one("split", "join", "out") {
	case "split":
		rest := act.RunBlock{Key: "new", Form: bs[i].Form, HTML: bs[i].HTML[at:]}
		bs[i].HTML = bs[i].HTML[:at]
		return slices.Insert(bs, i+1, rest)
	case "join":
		if i > 0 && bs[i-1].Form != "" {
			bs[i-1].HTML += " " + bs[i].HTML
			return slices.Delete(bs, i, i+1)
		}
	case "out":
		return slices.Delete(bs, i, i+1)
	}
	return bs
}
