package desk

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"testing"
)

// madeSite writes pages of made words into a world's folder, 200 folders wide. MENDRY_PAGES sets how many, else 500.
func madeSite(tb testing.TB, dir string) int {
	tb.Helper()
	pages, _ := strconv.Atoi(os.Getenv("MENDRY_PAGES"))
	if pages == 0 {
		pages = 500
	}
	random := rand.New(rand.NewPCG(7, 11))
	words := madeWords(random)
	zipf := rand.NewZipf(random, 1.07, 4, uint64(len(words)-1))
	for n := range pages {
		file := filepath.Join(dir, fmt.Sprintf("%03d", n%200), fmt.Sprintf("%s-%d.html", words[n%len(words)], n))
		if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
			tb.Fatal(err)
		}
		if err := os.WriteFile(file, []byte(madePage(random, zipf, words, n)), 0o600); err != nil {
			tb.Fatal(err)
		}
	}
	return pages
}

// Taking in a site of made pages, beside a bare loop over the same host that lists its files and reads them one after
// the other. "again" is taking it in a second time, when nothing has changed.
func BenchmarkTakeInBesideABareLoop(b *testing.B) {
	ctx := context.Background()
	w := newWorld(b, false, "index")
	pages := madeSite(b, w.dir)
	h, err := w.d.liveHost(ctx, w.site.ID)
	w.must(err)
	perPage := func(b *testing.B) {
		b.ReportMetric(float64(b.Elapsed().Microseconds())/1000/float64(pages*b.N), "ms/page")
	}
	b.Run("bare loop", func(b *testing.B) {
		for b.Loop() {
			all, err := h.List(ctx, nil)
			w.must(err)
			for _, f := range all.Files {
				_, err := h.Read(ctx, f.Path)
				w.must(err)
			}
		}
		perPage(b)
	})
	b.Run("take in", func(b *testing.B) {
		for b.Loop() {
			b.StopTimer()
			_, err := w.s.DB().ExecContext(ctx, `DELETE FROM page_word`)
			w.must(err)
			for _, table := range []string{"page_value", "shared_part", "word_near", "word", "page"} {
				_, err := w.s.DB().ExecContext(ctx, "DELETE FROM "+table)
				w.must(err)
			}
			w.must(w.s.BeginTakingIn(ctx, w.site.ID, w.d.now()))
			b.StartTimer()
			w.must(w.d.takeIn(ctx, w.site.ID, h))
		}
		perPage(b)
	})
	b.Run("again", func(b *testing.B) {
		for b.Loop() {
			w.must(w.s.BeginTakingIn(ctx, w.site.ID, w.d.now()))
			w.must(w.d.takeIn(ctx, w.site.ID, h))
		}
		perPage(b)
	})
}
