package diff

// Hunk is one stretch of a three-way merge: what base has there, what each side made of it.
type Hunk[T any] struct {
	At                 int // index in base
	Base, Mine, Theirs []T
	Now                []T // what becomes of it; for a clash, what mine made of it
	// Clash says that both sides changed the stretch, and differently.
	Clash bool
}

// edit is one stretch of base that a side replaced: items from to to become new.
type edit[T any] struct {
	from, to int
	new      []T
}

func edits[T comparable](base, side []T) (es []edit[T]) {
	i, j := 0, 0
	for _, op := range Script(base, side) {
		switch op.Is {
		case Same:
			i, j = i+op.N, j+op.N
		case Gone:
			es = append(es, edit[T]{i, i + op.N, nil})
			i += op.N
		case New:
			if n := len(es) - 1; n >= 0 && es[n].to == i && es[n].new == nil {
				es[n].new = side[j : j+op.N]
			} else {
				es = append(es, edit[T]{i, i, side[j : j+op.N]})
			}
			j += op.N
		}
	}
	return es
}

// Merge brings together what two sides made of base. It returns the stretches that at least one side changed, in the
// order of base; stretches that touch are one.
func Merge[T comparable](base, mine, theirs []T) (hs []Hunk[T]) {
	m, t := edits(base, mine), edits(base, theirs)
	for len(m) > 0 || len(t) > 0 {
		from, to := start(m, t)
		var in, out []edit[T]
		for grown := true; grown; {
			grown = false
			for _, side := range []struct{ all, took *[]edit[T] }{{&m, &in}, {&t, &out}} {
				for len(*side.all) > 0 && (*side.all)[0].from <= to && touches((*side.all)[0].from, from, to) {
					e := (*side.all)[0]
					*side.took, *side.all = append(*side.took, e), (*side.all)[1:]
					if e.to > to {
						to = e.to
					}
					grown = true
				}
			}
		}
		h := Hunk[T]{At: from, Base: base[from:to], Mine: made(base, from, to, in), Theirs: made(base, from, to, out)}
		h.Clash = len(in) > 0 && len(out) > 0 && !same(h.Mine, h.Theirs)
		if h.Now = h.Mine; len(in) == 0 {
			h.Now = h.Theirs
		}
		hs = append(hs, h)
	}
	return hs
}

// touches reports whether an edit that begins at i belongs to the stretch from to to: an edit right behind a stretch
// that is not empty stands beside it, not in it.
func touches(i, from, to int) bool { return i < to || i == from }

func start[T any](m, t []edit[T]) (from, to int) {
	first := t
	if len(t) == 0 || len(m) > 0 && m[0].from <= t[0].from {
		first = m
	}
	return first[0].from, first[0].from
}

// made is base[from:to] with a side's edits.
func made[T any](base []T, from, to int, es []edit[T]) (out []T) {
	at := from
	for _, e := range es {
		out = append(append(out, base[at:e.from]...), e.new...)
		at = e.to
	}
	return append(out, base[at:to]...)
}

func same[T comparable](a, b []T) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}
