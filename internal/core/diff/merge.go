package diff

// Hunk is one stretch of a three-way merge: what base has there, what each side made of it.
type Hunk[T any] struct {
	At                 int // index in base
	Base, Mine, Theirs []T
	Now                []T // what becomes of it; for a clash, what mine made of it
	// Clash says that both sides changed the stretch, and differently.
	Clash bool
}

// Edit is one stretch of base that a side replaced: the items From to To of base became New, which stands At in the side.
type Edit[T any] struct {
	From, To int
	New      []T
	At       int
}

// Edits are the stretches of base that a side replaced, in their order.
func Edits[T comparable](base, side []T) (es []Edit[T]) {
	i, j := 0, 0
	for _, op := range Script(base, side) {
		switch op.Is {
		case Same:
			i, j = i+op.N, j+op.N
		case Gone:
			es = append(es, Edit[T]{From: i, To: i + op.N, At: j})
			i += op.N
		case New:
			if n := len(es) - 1; n >= 0 && es[n].To == i && es[n].New == nil {
				es[n].New = side[j : j+op.N]
			} else {
				es = append(es, Edit[T]{i, i, side[j : j+op.N], j})
			}
			j += op.N
		}
	}
	return es
}

// Merge brings together what two sides made of base. It returns the stretches that at least one side changed, in the
// order of base; stretches that touch are one.
func Merge[T comparable](base, mine, theirs []T) (hs []Hunk[T]) {
	m, t := Edits(base, mine), Edits(base, theirs)
	for len(m) > 0 || len(t) > 0 {
		var in, out []Edit[T]
		from, to := 0, -1
		for grown := true; grown; {
			grown = false
			for _, side := range sides(&m, &in, &t, &out) {
				if es := *side.all; len(es) > 0 && (to < 0 || es[0].meets(from, to)) {
					if to < 0 {
						from, to = es[0].From, es[0].From
					}
					to = max(to, es[0].To)
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
type side[T any] struct{ all, took *[]Edit[T] }

// sides puts the side first whose next edit begins first; of two that begin together, the one that only puts in.
func sides[T any](m, in, t, out *[]Edit[T]) [2]side[T] {
	mine, theirs := side[T]{m, in}, side[T]{t, out}
	if a, b := *m, *t; len(a) == 0 || len(b) > 0 && (b[0].From < a[0].From || b[0].From == a[0].From && b[0].To < a[0].To && b[0].To == b[0].From) {
		return [2]side[T]{theirs, mine}
	}
	return [2]side[T]{mine, theirs}
}

// meets reports whether an edit belongs to the stretch from to to: it begins in it, or both put something in at one
// place. What is put in right before or behind a stretch stands beside it.
func (e Edit[T]) meets(from, to int) bool {
	return e.From < to || e.From == from && to == from && e.To == e.From
}

// made is base[from:to] with a side's edits.
func made[T any](base []T, from, to int, es []Edit[T]) (out []T) {
	at := from
	for _, e := range es {
		out = append(append(out, base[at:e.From]...), e.New...)
		at = e.To
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
