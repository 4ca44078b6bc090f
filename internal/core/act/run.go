package act

import (
	"bytes"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
	"mendry/internal/core/thread"
)

// Run gives a run of blocks the content that an editor holds: the blocks that are to stand there, in order. What
// differs from the draft becomes changes, one a block and each for itself: other words, another form, put in, taken
// out, moved.
type Run struct {
	Blocks []RunBlock `json:"blocks"`
}

// RunBlock is a block as an editor holds it.
type RunBlock struct {
	Key  string      `json:"key"`            // what the editor knows it by
	Part string      `json:"part,omitempty"` // the part that it is on the draft; empty for a new one
	Form change.Form `json:"form,omitempty"` // empty: sealed
	HTML string      `json:"html,omitempty"`

	past bool // it stands right below a sealed block that is no part
}

var _ = register("run", func() Act { return &Run{} })

// mostBlocks is how many blocks a run may have: more than any page that was tried, and few enough to be brought in
// order.
const mostBlocks = 2000

// slot is a block of the run on the draft, as the work goes on.
type slot struct {
	part  *page.Part // on the draft as it is now; nil for a sealed block that is no part
	form  change.Form
	words []byte    // as they are written
	want  *RunBlock // nil where it is to go
}

// is takes what a block is on the draft as it is now.
func (s *slot) is(p *page.Page, b change.Block) {
	if s.part, s.form, s.words = b.Part, b.Form, nil; !b.Sealed() {
		s.words = p.Doc.Bytes[b.Part.InnerStart:b.Part.InnerEnd]
	}
}

// stays reports whether a block is the one that it was.
func (s *slot) stays(p *page.Page, b change.Block) bool {
	now := slot{}
	now.is(p, b)
	return now.form == s.form && bytes.Equal(now.words, s.words) && (now.part == nil) == (s.part == nil)
}

// running is a Run under way.
type running struct {
	*work
	from  extent // of its blocks on the draft as it is now
	slots []*slot
	shown []change.Shown // the blocks as the editor was shown them: words with what is sealed in them go from one to another
}

func (a *Run) do(w *work) error {
	if len(a.Blocks) > mostBlocks {
		return refuse("A run of more than %d blocks is changed part by part.", mostBlocks)
	}
	r := &running{work: w}
	p := w.draft.Page()
	runs, at := change.Runs(p), -1
	for _, b := range a.Blocks {
		if b.Part != "" && at < 0 {
			at = change.RunWith(runs, b.Part)
		}
	}
	if at < 0 {
		return errGone()
	}
	r.from = extentOf(p, runs[at])
	for _, b := range runs[at].Blocks {
		s := &slot{}
		s.is(p, b)
		r.slots = append(r.slots, s)
		if !b.Sealed() {
			r.shown = append(r.shown, change.Shown{On: p, Part: b.Part})
		}
	}
	want, err := r.match(a.Blocks)
	if err != nil {
		return err
	}
	for _, step := range []func([]*RunBlock) error{r.reword, r.order, r.putIn, r.takeOut} {
		if err := step(want); err != nil {
			return err
		}
	}
	if err := r.asWanted(want); err != nil {
		return err
	}
	w.keys = map[string]string{}
	for _, s := range r.slots {
		if s.part != nil {
			w.keys[s.want.Key] = s.part.ID
		}
	}
	return nil
}

// asWanted refuses what would stand on the page in another order, form or wording than it was asked for.
func (r *running) asWanted(want []*RunBlock) error {
	next := 0
	for _, s := range r.slots {
		if s.part == nil {
			continue // it stands where it stood
		}
		for next < len(want) && want[next].Part == "" && want[next].Form == "" {
			next++
		}
		if next == len(want) || s.want != want[next] || s.form != "" && !s.says(r.draft.Page(), want[next]) {
			return errOtherwise()
		}
		next++
	}
	return nil
}

// says reports whether a block says what is wanted of it, in the form that is wanted.
func (s *slot) says(p *page.Page, b *RunBlock) bool {
	is := change.Editable(p, s.part)
	words := func(html string) string {
		said, _ := text.Plain(html)
		return strings.Join(strings.Fields(said), " ")
	}
	return (b.Form == "" || s.form == b.Form) && (is == b.HTML || words(is) == words(b.HTML))
}

func errOtherwise() error {
	return refuse("The page would be read differently after this. Make the change part by part.")
}

// match gives the blocks of the draft those that are wanted in their place: by their part, and where it is gone from
// what is wanted, by the same words. New blocks without words wait until they have some.
func (r *running) match(blocks []RunBlock) (want []*RunBlock, err error) {
	of := map[string]*slot{}
	for _, s := range r.slots {
		if s.part != nil {
			of[s.part.ID] = s
		}
	}
	past := false
	for i := range blocks {
		b := &blocks[i]
		b.past, past = past, b.Form == "" && b.Part == ""
		s := of[b.Part]
		switch {
		case b.Part != "" && s == nil:
			return nil, errGone()
		case s != nil && s.want == nil && (s.form == "" || change.Says(b.HTML)):
			s.want = b
		case b.Form == "" || !change.Says(b.HTML):
			continue // a sealed block that stands there already, or a new one without words
		default:
			b.Part = "" // it is taken by one before it
		}
		want = append(want, b)
	}
	for _, b := range want {
		if b.Part != "" {
			continue
		}
		for _, s := range r.slots {
			if s.want == nil && s.form != "" && change.Editable(r.draft.Page(), s.part) == b.HTML {
				s.want, b.Part = b, s.part.ID
				break
			}
		}
	}
	left := 0
	for _, s := range r.slots {
		switch {
		case s.want == nil && s.part == nil:
			s.want = &RunBlock{} // nobody can take it out, or away from where it stands
		case s.want != nil && s.form != "":
			left++
		}
	}
	if left == 0 && !slices.ContainsFunc(want, func(b *RunBlock) bool { return b.Form != "" }) {
		return nil, refuse("Nothing would be left of these words. Take the section out, or write what is to stand there.")
	}
	return want, nil
}

// slotOf finds the block that stands for a wanted one; nil where it is not there yet.
func (r *running) slotOf(b *RunBlock) *slot {
	for _, s := range r.slots {
		if s.want == b {
			return s
		}
	}
	return nil
}

// extent is where a run stands on a page of so many bytes.
type extent struct{ start, end, of int }

func extentOf(p *page.Page, run change.Run) extent {
	e := extent{-1, -1, len(p.Doc.Bytes)}
	for _, b := range run.Blocks {
		if b.Part == nil {
			continue
		}
		at := change.Extent(b.Part)
		if e.start < 0 {
			e.start = at.Start
		}
		e.end = max(e.end, at.End)
	}
	return e
}

// meets reports whether a run stands where this one stood before a change within it.
func (e extent) meets(now extent) bool { return now.start < e.end+now.of-e.of && e.start < now.end }

// far is how far from the beginning of the one the other begins, in bytes.
func (e extent) far(now extent) int { return max(e.start-now.start, now.start-e.start) }

// again finds the blocks on the draft after a change: those of the run in its place in which all but the changed one are
// what they were. The runs may stand in another order, since a box with a heading is a section.
func (r *running) again(changed *slot) error {
	p := r.draft.Page()
	var found []change.Block
	var at extent
	for _, run := range change.Runs(p) {
		if now := extentOf(p, run); r.from.meets(now) && r.stands(p, run, changed) && (found == nil || r.from.far(now) < r.from.far(at)) {
			found, at = run.Blocks, now
		}
	}
	if found == nil {
		return errOtherwise()
	}
	r.from = at
	for i, b := range found {
		r.slots[i].is(p, b)
	}
	return nil
}

// stands reports whether the blocks of a run are those that are known here, but for the changed one.
func (r *running) stands(p *page.Page, run change.Run, changed *slot) bool {
	if len(run.Blocks) != len(r.slots) {
		return false
	}
	for i, s := range r.slots {
		if s != changed && !s.stays(p, run.Blocks[i]) {
			return false
		}
	}
	return true
}

// keepOne makes one edit of a block, and finds the blocks again.
func (r *running) keepOne(s *slot, a one) error {
	if err := r.keep(a, s.part.ID); err != nil {
		return err
	}
	return r.again(s)
}

// puts notes that a block stands beside another one now, and finds the blocks again.
func (r *running) puts(s, beside *slot, where change.Where) error {
	at := slices.Index(r.slots, beside)
	if where == change.After {
		at++
	}
	r.slots = slices.Insert(r.slots, at, s)
	return r.again(s)
}

// reword gives blocks other forms and words.
func (r *running) reword([]*RunBlock) error {
	for _, s := range r.slots {
		if s.want == nil || s.form == "" {
			continue
		}
		if s.want.Form != s.form && s.want.Form != "" {
			if err := r.keepOne(s, &Form{s.part.ID, s.want.Form}); err != nil {
				return err
			}
		}
		if change.Editable(r.draft.Page(), s.part) == s.want.HTML {
			continue
		}
		if err := r.keepOne(s, &blockWords{Markup{s.part.ID, s.want.HTML}, r.shown}); err != nil {
			return err
		}
	}
	return nil
}

// blockWords are words of a block of a run, into which those of others may have gone.
type blockWords struct {
	Markup
	shown []change.Shown
}

func (a *blockWords) inner(d *thread.Draft, now *page.Part) (string, error) {
	return change.RewriteSeen(d.Page(), now, a.HTML, change.Shown{On: d.Page(), Part: now}, a.shown...)
}

func (a *blockWords) edit(_ *work, at place) (edit, error) {
	markup, err := change.RewriteSeen(at.base, at.part, a.HTML, change.Shown{On: at.draft.Page(), Part: at.now}, a.shown...)
	return setWords(at.part, markup), err
}

// order moves the blocks that stand in another order than they are wanted in: as few of them as that takes.
func (r *running) order(want []*RunBlock) error {
	stay := r.longest(want)
	var before *slot // the last one that stands right
	for _, b := range want {
		s := r.slotOf(b)
		if s == nil {
			continue
		}
		if stay[s] {
			before = s
			continue
		}
		where, anchor := change.After, before
		if before == nil {
			where = change.Before
			for _, other := range r.slots {
				if other != s && other.part != nil && (stay[other] || other.want == nil) {
					anchor = other
					break
				}
			}
		}
		if s.part == nil || anchor == nil || anchor.part == nil {
			return refuse("A block that is no part of the page cannot be moved past. Move it back, or the section as a whole.")
		}
		if err := (&Move{s.part.ID, anchor.part.ID, where}).do(r.work); err != nil {
			return err
		}
		r.slots = slices.DeleteFunc(r.slots, func(x *slot) bool { return x == s })
		stay[s], before = true, s
		if err := r.puts(s, anchor, where); err != nil {
			return err
		}
	}
	return nil
}

// longest are the blocks of the longest stretch of wanted ones that stand in the right order already.
func (r *running) longest(want []*RunBlock) map[*slot]bool {
	place := map[*slot]int{}
	for i, s := range r.slots {
		place[s] = i
	}
	var seq []*slot
	for _, b := range want {
		if s := r.slotOf(b); s != nil {
			seq = append(seq, s)
		}
	}
	best, from := make([]int, len(seq)), make([]int, len(seq))
	last := -1
	for i := range seq {
		best[i], from[i] = 1, -1
		for j := range i {
			if place[seq[j]] < place[seq[i]] && best[j]+1 > best[i] {
				best[i], from[i] = best[j]+1, j
			}
		}
		if last < 0 || best[i] > best[last] {
			last = i
		}
	}
	stay := map[*slot]bool{}
	for i := last; i >= 0; i = from[i] {
		stay[seq[i]] = true
	}
	return stay
}

// putIn puts new blocks where they are wanted.
func (r *running) putIn(want []*RunBlock) error {
	for i, b := range want {
		if r.slotOf(b) != nil {
			continue
		}
		anchor, where := r.beside(want, i)
		if anchor == nil {
			return errGone()
		}
		if err := r.insert(b, anchor, where); err != nil {
			return err
		}
		s := &slot{want: b}
		if err := r.puts(s, anchor, where); err != nil {
			return err
		}
		if s.form != b.Form {
			if err := r.keepOne(s, &Form{s.part.ID, b.Form}); err != nil {
				return err
			}
		}
	}
	return nil
}

// beside is the block that a new one is put in beside: the one before it, the one after it, or any that is to go. Past a
// sealed block that is no part it is put in before the next one.
func (r *running) beside(want []*RunBlock, i int) (*slot, change.Where) {
	for j := i + 1; want[i].past && j < len(want); j++ {
		if s := r.slotOf(want[j]); s != nil && s.part != nil {
			return s, change.Before
		}
	}
	for j := i - 1; j >= 0; j-- {
		if s := r.slotOf(want[j]); s != nil && s.part != nil {
			return s, change.After
		}
	}
	for _, s := range r.slots {
		if s.part != nil {
			return s, change.Before
		}
	}
	return nil, ""
}

// insert puts one block in. Where its form does not fit beside the other one, it is put in as that one is.
func (r *running) insert(b *RunBlock, anchor *slot, where change.Where) error {
	p := r.draft.Page()
	var inner string
	if words := anchor.part; words.Kind.HasWords() && words.Locked == "" {
		var err error
		if inner, err = change.RewriteSeen(p, words, b.HTML, change.Shown{On: p, Part: words}, r.shown...); err != nil {
			return err
		}
	} else {
		clean, _ := text.Clean(b.HTML, text.Inline)
		inner = change.AsWritten(p, clean)
	}
	inner = strings.TrimSpace(inner)
	plain, _ := text.Plain(inner)
	return r.settle(-1, p, putIn(anchor.part, where, change.NewBlock(p, anchor.part, b.Form, inner, where), plain))
}

// takeOut takes out the blocks that are not wanted any more, from the end on. One that was put in by a kept change is
// not put in any more.
func (r *running) takeOut([]*RunBlock) error {
	for i := len(r.slots) - 1; i >= 0; i-- {
		s := r.slots[i]
		if s.want != nil {
			continue
		}
		if k := r.draft.PutIn(s.part.ID); k < 0 || r.drop(k) != nil {
			if err := (&Remove{s.part.ID}).do(r.work); err != nil {
				return err
			}
		}
		r.slots = slices.Delete(r.slots, i, i+1)
		if err := r.again(nil); err != nil {
			return err
		}
	}
	return nil
}
