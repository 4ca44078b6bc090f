package diff

import (
	"fmt"
	"math/rand"
	"strings"
	"testing"

	"github.com/sergi/go-diff/diffmatchpatch"
)

// versions are two versions of a text of some 4,000 words, of which about one in fifteen differs.
func versions() (a, b []string) {
	r := rand.New(rand.NewSource(3))
	for range 4000 {
		w := fmt.Sprintf("word%d", r.Intn(900))
		a = append(a, w)
		switch r.Intn(45) {
		case 0:
		case 1:
			b = append(b, w, "new")
		case 2:
			b = append(b, strings.ToUpper(w))
		default:
			b = append(b, w)
		}
	}
	return a, b
}

func BenchmarkWords(b *testing.B) {
	x, y := versions()
	for b.Loop() {
		Script(x, y)
	}
}

// Yardstick of BenchmarkWords: sergi/go-diff on the same words, each word a sign, as its line mode does it.
func BenchmarkWordsByGoDiff(b *testing.B) {
	x, y := versions()
	dmp := diffmatchpatch.New()
	dmp.DiffTimeout = 0
	for b.Loop() {
		p, q, _ := dmp.DiffLinesToRunes(strings.Join(x, "\n")+"\n", strings.Join(y, "\n")+"\n")
		dmp.DiffMainRunes(p, q, false)
	}
}
