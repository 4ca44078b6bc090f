package desk

import (
	"sync"

	"mendry/internal/core/page"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// memory remembers values up to a weight, those that were used last.
type memory[V any] struct {
	mu     sync.Mutex
	last   *simplelru.LRU[string, V]
	weigh  func(V) int
	weight int
	most   int
}

// newMemory makes a memory for values that weigh no more than most together.
func newMemory[V any](most int, weigh func(V) int) *memory[V] {
	m := &memory[V]{most: most, weigh: weigh}
	m.last, _ = simplelru.NewLRU(1<<20, func(_ string, v V) { m.weight -= weigh(v) }) // fails for sizes below one only
	return m
}

// Get finds a value.
func (m *memory[V]) Get(key string) (V, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.last.Get(key)
}

// Add remembers a value, and forgets those that were not used for longest where it becomes too much.
func (m *memory[V]) Add(key string, v V) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.last.Remove(key)
	m.weight += m.weigh(v)
	m.last.Add(key, v)
	for m.weight > m.most && m.last.Len() > 1 {
		m.last.RemoveOldest()
	}
}

// nodeSize is about what a node of a parsed page takes in memory, with its share of the parts, in bytes (measured on
// pages of 100 kB: paragraphs, cards and table rows, 420 to 520).
const nodeSize = 500

func pageWeight(p *page.Page) int { return len(p.Doc.Bytes) + nodeSize*len(p.Doc.Nodes) }
