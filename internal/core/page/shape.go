package page

import (
	"slices"
	"sync"

	"mendry/internal/core/source"
)

// shape is what an element is built of: the hashes of its tag paths and its classes.
type shape struct {
	paths, classes []uint32
	sum            uint64 // of both, in their order: most items of a set are built the same
	built          uint64 // of the paths alone
	elements       int
	sorted         bool // the hashes are sorted, each once
}

// Shares of common tag paths and classes from which two elements are alike, tried on some 31,000 real pages.
const (
	pathsAlike   = 0.5
	classesAlike = 0.34
	pathsCalled  = 0.2 // of elements that are called items, by eye on the templates of the tests
)

// pageShapes are those of a page's elements.
type pageShapes struct {
	of             []int32 // where in all an element's shape stands, by source.Node.Index; 0 for none
	all            []shape
	paths, classes []uint32 // of the element that is being looked at
	room           []uint32 // for the hashes to come
}

var spareShapes = sync.Pool{New: func() any { return &pageShapes{} }}

// newShapes makes ready for a page of so many nodes.
func newShapes(nodes int) *pageShapes {
	s := spareShapes.Get().(*pageShapes)
	s.of = slices.Grow(s.of[:0], nodes)[:nodes]
	clear(s.of)
	s.all = append(s.all[:0], shape{})
	return s
}

func (s *pageShapes) free() { spareShapes.Put(s) }

// keep copies hashes into the room for them.
func (s *pageShapes) keep(hashes []uint32) []uint32 {
	if len(s.room) < len(hashes) {
		s.room = make([]uint32, max(len(hashes), 1024))
	}
	kept := s.room[:len(hashes):len(hashes)]
	s.room = s.room[len(hashes):]
	copy(kept, hashes)
	return kept
}

const (
	deepestShape = 6
	mostPaths    = 96
)

// fold goes on with an FNV-1a hash.
func fold(h uint32, s string) uint32 {
	for i := 0; i < len(s); i++ {
		h = (h ^ uint32(s[i])) * fnvPrime
	}
	return (h ^ '/') * fnvPrime
}

// foldWords adds the hash of every word in s.
func foldWords(hashes []uint32, s string) []uint32 {
	for i := 0; i < len(s); {
		from := i
		for i < len(s) && s[i] > ' ' {
			i++
		}
		if i > from {
			hashes = append(hashes, fold(fnvStart, s[from:i]))
		}
		i++
	}
	return hashes
}

const (
	fnvStart = 2166136261
	fnvPrime = 16777619
)

// alike reports whether the shapes at two places in all are alike; called says that their elements are called the
// same.
func (s *pageShapes) alike(i, j int32, called bool) bool {
	a, b := &s.all[i], &s.all[j]
	if a.sum == b.sum {
		return true
	}
	a.sort()
	b.sort()
	small := a.elements <= smallShape || len(a.classes) > 0 && len(b.classes) > 0
	if a.built == b.built && small && (within(a.classes, b.classes) || within(b.classes, a.classes)) {
		return true // what one has more is a state that is called by no usual word
	}
	if called {
		return share(a.paths, b.paths) >= pathsCalled
	}
	return share(a.paths, b.paths) >= pathsAlike && share(a.classes, b.classes) >= classesAlike
}

// sort makes sets of the hashes.
func (s *shape) sort() {
	if s.sorted {
		return
	}
	for _, hashes := range []*[]uint32{&s.paths, &s.classes} {
		slices.Sort(*hashes)
		*hashes = slices.Compact(*hashes)
	}
	s.sorted = true
}

// sumOf goes on with a 64-bit FNV-1a hash.
func sumOf(sum uint64, hashes []uint32) uint64 {
	for _, h := range hashes {
		sum = (sum ^ uint64(h)) * 1099511628211
	}
	return sum
}

// shapeOf is where in all the shape of an element stands.
func (f *finder) shapeOf(n *source.Node) int32 {
	shapes := f.shapes
	at := shapes.of[n.Index]
	if at == 0 {
		shapes.paths, shapes.classes = shapes.paths[:0], shapes.classes[:0]
		f.walkShape(n, n.Is("li"), fnvStart, 0)
		at = int32(len(shapes.all))
		shapes.of[n.Index] = at
		built := sumOf(14695981039346656037, shapes.paths)
		shapes.all = append(shapes.all, shape{
			paths: shapes.keep(shapes.paths), classes: shapes.keep(shapes.classes),
			built: built, elements: len(shapes.paths), sum: sumOf(built*1099511628211, shapes.classes),
		})
	}
	return at
}

// walkShape gathers the tag paths and classes at and below n. entry says that a menu below it is not its own.
func (f *finder) walkShape(n *source.Node, entry bool, path uint32, depth int) {
	to := f.shapes
	if a := n.HTML.DataAtom; a != 0 {
		path = (path ^ uint32(a)) * fnvPrime
	} else {
		path = fold(path, n.HTML.Data)
	}
	to.paths = append(to.paths, path)
	to.classes = append(to.classes, f.classed(n).hashes...)
	if depth == deepestShape || len(to.paths) > mostPaths {
		return
	}
	for _, k := range n.Kids {
		if k.Tag() != "" && !f.p.traits[k.Index].is(isUnseen) && !(entry && k.Is("ul", "ol")) {
			f.walkShape(k, entry, path, depth+1)
		}
	}
}

const smallShape = 2 // elements of a link or an entry: such ones may be alike where only one of them has a class

const mostStates = 4 // classes by which two that are built the same may differ, as in their state or the space around them

// within reports whether all members of a sorted set are in another one, which has few more.
func within(a, b []uint32) bool {
	if len(b)-len(a) > mostStates {
		return false
	}
	i := 0
	for _, h := range b {
		if i < len(a) && a[i] == h {
			i++
		}
	}
	return i == len(a)
}

// share is the share of common members of two sorted sets.
func share(a, b []uint32) float64 {
	if len(a) == 0 && len(b) == 0 {
		return 1
	}
	both := 0
	for i, j := 0, 0; i < len(a) && j < len(b); {
		switch {
		case a[i] == b[j]:
			both, i, j = both+1, i+1, j+1
		case a[i] < b[j]:
			i++
		default:
			j++
		}
	}
	return float64(both) / float64(len(a)+len(b)-both)
}
