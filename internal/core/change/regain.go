package change

import (
	"slices"
	"strings"
)

// regain gives words that were typed in the place of those in a wrapper (a cited name, a class) the wrapper that these
// had: an editor that had all of them chosen knows it no more. Where the same words come back without it, it was taken off.
func (in *inline) regain(old *inline) {
	var base []glyph
	for number := range old.kept {
		keep := way{name: "keep", number: number}
		if in.has(keep) || !old.has(keep) {
			continue // as it mostly is, at each pause of typing
		}
		if base == nil {
			base = old.glyphs()
		}
		in.regainOne(base, keep)
	}
	if base != nil {
		in.tidy()
		in.orderBy(old)
	}
}

// has reports whether words stand in a wrapper.
func (in *inline) has(keep way) bool {
	return slices.ContainsFunc(in.runs, func(r run) bool { return slices.Contains(r.ways, keep) })
}

func (in *inline) regainOne(base []glyph, keep way) {
	within := func(s glyph) bool { return slices.Contains(s.ways, keep) }
	now := in.glyphs()
	from, to := slices.IndexFunc(base, within), len(base)
	for to > from && !within(base[to-1]) {
		to--
	}
	before, after := base[:from], base[to:]
	end := len(now) - len(after)
	if end <= from || !slices.EqualFunc(before, now[:from], same) || !slices.EqualFunc(after, now[end:], same) {
		return
	}
	typed := now[from:end]
	if slices.EqualFunc(typed, base[from:to], same) || strings.TrimSpace(wordsOf(typed)) == "" {
		return
	}
	for i := range typed {
		typed[i].ways = append([]way{keep}, typed[i].ways...)
	}
	in.runs = runsOf(now)
}

// glyph is one sign of words, a line break, or a sealed thing.
type glyph struct {
	run  // without its text
	says rune
}

// same reports whether two signs are the same, however they look.
func same(a, b glyph) bool { return a.says == b.says && a.seal == b.seal && a.breaks == b.breaks }

// glyphs are the words, sign by sign.
func (in *inline) glyphs() (all []glyph) {
	for _, r := range in.runs {
		bare := run{ways: r.ways, seal: r.seal, breaks: r.breaks}
		if r.seal >= 0 || r.breaks {
			all = append(all, glyph{run: bare})
		}
		for _, c := range r.text {
			all = append(all, glyph{bare, c})
		}
	}
	return all
}

func wordsOf(all []glyph) string {
	var b strings.Builder
	for _, s := range all {
		if s.says != 0 {
			b.WriteRune(s.says)
		}
	}
	return b.String()
}

// runsOf joins signs that look alike.
func runsOf(all []glyph) (rs []run) {
	for i := 0; i < len(all); {
		r, next := all[i].run, i+1
		if r.seal < 0 && !r.breaks {
			for next < len(all) && all[next].seal < 0 && !all[next].breaks && slices.Equal(all[next].ways, r.ways) {
				next++
			}
			r.text = wordsOf(all[i:next])
		}
		rs, i = append(rs, r), next
	}
	return rs
}
