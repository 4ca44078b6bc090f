package change

// Map tells where the bytes of a page went in a change.
type Map []stretch

// stretch is a run of bytes of the page before that another run took the place of.
type stretch struct {
	from, to int // on the page before
	grown    int // how many bytes more there are after it
}

// MapOf reads a change's map from what undoes it, in the order of the page as Apply gives it.
func MapOf(undo []Op) Map {
	m := make(Map, len(undo))
	shift := 0
	for i, u := range undo { // u.At speaks of the page after
		from := u.At - shift
		m[i] = stretch{from, from + len(u.Back), len(u.Gone) - len(u.Back)}
		shift += m[i].grown
	}
	return m
}

// Range follows a range of bytes. It reports false where the change reaches into it, or put something in just where an
// empty range is: before or after it, nobody can say.
func (m Map) Range(start, end int) (int, int, bool) {
	shift := 0
	for _, s := range m {
		switch {
		case start == end && s.from == start && s.to == start:
			return 0, 0, false
		case s.to <= start:
			shift += s.grown
		case s.from < end:
			return 0, 0, false
		}
	}
	return start + shift, end + shift, true
}

// Offset follows a place between bytes; what was put in at it stands before it.
func (m Map) Offset(at int) int {
	shift := 0
	for _, s := range m {
		if s.to > at {
			break
		}
		shift += s.grown
	}
	return at + shift
}

// Part follows where a part begins that stood at a range: a change in the part leaves its beginning where it was, and
// what is put in at its beginning stands before it. It reports whether the change took the place of the whole part.
func (m Map) Part(start, end int) (at int, replaced bool) {
	at = start
	for _, s := range m {
		if start < s.from || start == s.from && s.to > s.from && end > s.to {
			break
		}
		replaced = replaced || start < s.to && end <= s.to
		at += s.grown
	}
	return at, replaced
}
