package diff

// most is the edit distance past which a shortest script is no longer looked for within a stretch; such a stretch is
// gone and new as a whole.
const most = 30_000

// Script is a shortest edit script from a to b: E. W. Myers, "An O(ND) Difference Algorithm and Its Variations",
// Algorithmica 1 (1986), in its linear-space form (section 4b). Where gone and new meet, gone stands first.
func Script[T comparable](a, b []T) []Op {
	head := 0
	for head < len(a) && head < len(b) && a[head] == b[head] {
		head++
	}
	tail := 0
	for tail < len(a)-head && tail < len(b)-head && a[len(a)-1-tail] == b[len(b)-1-tail] {
		tail++
	}
	var s script
	s.add(Same, head)
	midA, midB := a[head:len(a)-tail], b[head:len(b)-tail]
	s.between(len(midA), len(midB), number(midA, midB))
	s.add(Same, tail)
	return s.ops
}

// numbers are the items of both sides that occur on both, as numbers, with their places.
type numbers struct{ a, b, atA, atB []int }

// number leaves out what occurs on one side only: it is gone or new in every script.
func number[T comparable](a, b []T) (n numbers) {
	if len(a) == 0 || len(b) == 0 {
		return n
	}
	name := make(map[T]int, len(b))
	for _, x := range b {
		if _, ok := name[x]; !ok {
			name[x] = len(name)
		}
	}
	used := make([]bool, len(name))
	n.a, n.atA = make([]int, 0, len(a)), make([]int, 0, len(a))
	for i, x := range a {
		if k, ok := name[x]; ok {
			used[k] = true
			n.a, n.atA = append(n.a, k), append(n.atA, i)
		}
	}
	n.b, n.atB = make([]int, 0, len(b)), make([]int, 0, len(b))
	for i, x := range b {
		if k := name[x]; used[k] {
			n.b, n.atB = append(n.b, k), append(n.atB, i)
		}
	}
	return n
}

type script struct{ ops []Op }

// between adds the script between la items and lb items, whose common ones are n.
func (s *script) between(la, lb int, n numbers) {
	m := matcher{a: n.a, b: n.b}
	m.match(0, len(n.a), 0, len(n.b))
	x, y := 0, 0
	for _, p := range m.pairs {
		i, j := n.atA[p[0]], n.atB[p[1]]
		s.add(Gone, i-x)
		s.add(New, j-y)
		s.add(Same, 1)
		x, y = i+1, j+1
	}
	s.add(Gone, la-x)
	s.add(New, lb-y)
}

func (s *script) add(is Is, n int) {
	if n == 0 {
		return
	}
	last := len(s.ops) - 1
	switch {
	case last >= 0 && s.ops[last].Is == is:
		s.ops[last].N += n
	case is == Gone && last >= 0 && s.ops[last].Is == New: // gone before new
		if last > 0 && s.ops[last-1].Is == Gone {
			s.ops[last-1].N += n
			return
		}
		s.ops = append(s.ops, s.ops[last])
		s.ops[last] = Op{Gone, n}
	default:
		s.ops = append(s.ops, Op{is, n})
	}
}

// matcher finds which items of a and b stay, in order.
type matcher struct {
	a, b     []int
	pairs    [][2]int
	fwd, bwd []int // furthest reaching paths, by diagonal
}

func (m *matcher) match(a0, a1, b0, b1 int) {
	for a0 < a1 && b0 < b1 && m.a[a0] == m.b[b0] {
		m.pairs = append(m.pairs, [2]int{a0, b0})
		a0, b0 = a0+1, b0+1
	}
	tail := 0
	for a0 < a1-tail && b0 < b1-tail && m.a[a1-1-tail] == m.b[b1-1-tail] {
		tail++
	}
	if ea, eb := a1-tail, b1-tail; a0 < ea && b0 < eb {
		if x, y, u, v, ok := m.middle(a0, ea, b0, eb); ok {
			m.match(a0, x, b0, y)
			for i := 0; i < u-x; i++ {
				m.pairs = append(m.pairs, [2]int{x + i, y + i})
			}
			m.match(u, ea, v, eb)
		}
	}
	for i := tail; i > 0; i-- {
		m.pairs = append(m.pairs, [2]int{a1 - i, b1 - i})
	}
}

// middle finds the middle snake of a shortest path, from (x, y) to (u, v). It reports false where it would take too
// long to say. Both stretches have items, and neither begins nor ends alike, so that the distance is at least two and
// both halves are shorter than the whole. A -1 stands for a diagonal that no path has reached.
func (m *matcher) middle(a0, a1, b0, b1 int) (x, y, u, v int, ok bool) {
	n, k := a1-a0, b1-b0
	delta := n - k
	odd := delta&1 != 0
	half := (n + k + 1) / 2
	limit := min(half, most/2)
	off := limit + 2
	if len(m.fwd) < 2*off+1 {
		m.fwd, m.bwd = make([]int, 2*off+1), make([]int, 2*off+1)
	}
	f, r := m.fwd, m.bwd
	f[off-1], f[off], f[off+1] = -1, -1, 0
	r[off-1], r[off], r[off+1] = -1, -1, 0
	var fLow, fHigh, rLow, rHigh int // diagonals that have left the grid
	for d := 0; d <= limit; d++ {
		if d > 0 {
			f[off-d-1], f[off+d+1], r[off-d-1], r[off+d+1] = -1, -1, -1, -1
		}
		for c := -d + fLow; c <= d-fHigh; c += 2 {
			s := reach(f, off, c, d)
			t := s - c
			s0, t0 := s, t
			for s < n && t < k && m.a[a0+s] == m.b[b0+t] {
				s, t = s+1, t+1
			}
			f[off+c] = s
			switch back := delta - c; {
			case s > n:
				fHigh += 2
			case t > k:
				fLow += 2
			case odd && back > -d && back < d && r[off+back] >= 0 && s+r[off+back] >= n:
				return a0 + s0, b0 + t0, a0 + s, b0 + t, true
			}
		}
		for c := -d + rLow; c <= d-rHigh; c += 2 {
			s := reach(r, off, c, d)
			t := s - c
			s0, t0 := s, t
			for s < n && t < k && m.a[a1-1-s] == m.b[b1-1-t] {
				s, t = s+1, t+1
			}
			r[off+c] = s
			switch fore := delta - c; {
			case s > n:
				rHigh += 2
			case t > k:
				rLow += 2
			case !odd && fore >= -d && fore <= d && f[off+fore] >= 0 && s+f[off+fore] >= n:
				return a1 - s, b1 - t, a1 - s0, b1 - t0, true
			}
		}
	}
	return 0, 0, 0, 0, false
}

// reach is where a path of d edits first stands on diagonal c: one step on from the better neighbour.
func reach(v []int, off, c, d int) int {
	if c == -d || c != d && v[off+c-1] < v[off+c+1] {
		return v[off+c+1]
	}
	return v[off+c-1] + 1
}
