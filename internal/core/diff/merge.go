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
		var in, out []edit[T]
		from, to := 0, -1
		for grown := true; grown; {
			grown = false
			for _, side := range sides(&m, &in, &t, &out) {
				if es := *side.all; len(es) > 0 && (to < 0 || es[0].meets(from, to)) {
					if to < 0 {
						from, to = es[0].from, es[0].from
					}
					to = max(to, es[0].to)
					*side.took, *side.all = append(*side.took, es[0]), es[1:]
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

// side is what a side has still to give, and what was taken of it.
type side[T any] struct{ all, took *[]edit[T] }

// sides puts the side first whose next edit begins first; of two that begin together, the one that only puts in.
func sides[T any](m, in, t, out *[]edit[T]) [2]side[T] {
	mine, theirs := side[T]{m, in}, side[T]{t, out}
	if a, b := *m, *t; len(a) == 0 || len(b) > 0 && (b[0].from < a[0].from || b[0].from == a[0].from && b[0].to < a[0].to && b[0].to == b[0].from) {
		return [2]side[T]{theirs, mine}
	}
	return [2]side[T]{mine, theirs}
}

// meets reports whether an edit belongs to the stretch from to to: it begins in it, or both put something in at one
// place. What is put in right before or behind a stretch stands beside it.
func (e edit[T]) meets(from, to int) bool {
	return e.from < to || e.from == from && to == from && e.to == e.from
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
