package desk

import (
	"context"
	"fmt"
	"os"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"mendry/internal/core/act"
)

// largePage is a page of about 100 kB as agencies have them: sections with headings, paragraphs, lists and a table.
func largePage() string {
	var b strings.Builder
	b.WriteString("<!doctype html>\n<html lang=\"en\"><head><title>Large</title></head>\n<body>\n<h1>Large</h1>\n<p>Typed here.</p>\n")
	for i := 0; b.Len() < 100_000; i++ {
		fmt.Fprintf(&b, "<section class=\"band\">\n<h2>Section %d</h2>\n<p>On a lead, dogs travel free of charge on every sailing of line %d, and so do cats in a basket.</p>\n"+
			"<ul><li>One thing</li><li>Another thing</li></ul>\n<table><tr><th>Who</th><th>Single</th></tr><tr><td>Adult</td><td>£%d.90</td></tr></table>\n</section>\n", i, i, i%20)
	}
	return b.String() + "</body></html>\n"
}

// textPage is a page of about 100 kB of running text: long paragraphs under headings.
func textPage() string {
	var b strings.Builder
	b.WriteString("<!doctype html>\n<html lang=\"en\"><head><title>Text</title></head>\n<body>\n<h1>Text</h1>\n<p>Typed here.</p>\n")
	for i := 0; b.Len() < 100_000; i++ {
		fmt.Fprintf(&b, "<h2>Chapter %d</h2>\n", i)
		for range 4 {
			fmt.Fprintf(&b, "<p>%s</p>\n", strings.Repeat(fmt.Sprintf("On a lead, dogs travel <em>free of charge</em> on every sailing of line %d. ", i), 6))
		}
	}
	return b.String() + "</body></html>\n"
}

// Two hundred people type, each in a request of their own, on forty pages of 100 kB, and look at the
// proof, which checks it, at the end. What counts is the metric MB: the most that the process with the server and this
// test held resident.
func BenchmarkMemoryOfTwoHundredTyping(b *testing.B) {
	ctx := context.Background()
	w := newWorld(b, true, "a")
	for i := range 40 {
		w.write(fmt.Sprintf("large-%d.html", i), strings.ReplaceAll(largePage(), "Typed here.", fmt.Sprintf("Typed here on %d.", i)))
	}
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	var pages []int64
	for _, p := range v.Pages {
		if strings.HasPrefix(p.Address, "/large-") {
			pages = append(pages, p.ID)
		}
	}
	runtime.GC()
	b.ResetTimer()
	var wg sync.WaitGroup
	for n := range 200 {
		number, page := w.request("x"), pages[n%len(pages)]
		wg.Go(func() {
			v, err := w.d.Bench(ctx, number, page)
			for i := 0; err == nil && i < b.N; i++ {
				v, err = w.d.Keep(ctx, w.who, number, page, Ask{Draft: v.Draft, Act: &act.Words{Part: "words-1", Words: fmt.Sprintf("Typed here %d.", i)}})
			}
			if err == nil {
				_, err = w.d.Proof(ctx, number)
			}
			if err != nil {
				b.Error(err)
			}
		})
	}
	wg.Wait()
	b.ReportMetric(mostResident(b), "MB")
}

// mostResident is the most memory that the process held, in MB (proc(5), VmHWM).
func mostResident(b *testing.B) float64 {
	b.Helper()
	status, err := os.ReadFile("/proc/self/status")
	if err != nil {
		b.Fatal(err)
	}
	for line := range strings.Lines(string(status)) {
		if kB, ok := strings.CutPrefix(line, "VmHWM:"); ok {
			n, err := strconv.Atoi(strings.TrimSuffix(strings.TrimSpace(kB), " kB"))
			if err != nil {
				b.Fatal(err)
			}
			return float64(n) / 1024
		}
	}
	b.Fatal("no VmHWM")
	return 0
}

// Fifty people type on a page of 100 kB, each in a request of their own, beside a bare transaction that locks a row
// and inserts two. The metric of-bare is what counts.
func BenchmarkKeepBesideABareTransaction(b *testing.B) {
	ctx := context.Background()
	const workers = 50
	w := newWorld(b, true, "a")
	w.write("large.html", largePage())
	w.write("text.html", textPage())
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	for _, p := range v.Pages {
		w.pages[p.Address] = p.ID
	}
	if _, err := w.s.DB().Exec(`CREATE TABLE bare (id INT AUTO_INCREMENT PRIMARY KEY, request INT NOT NULL, words VARCHAR(200) NOT NULL)`); err != nil {
		b.Fatal(err)
	}
	var numbers []int64
	for range workers {
		numbers = append(numbers, w.request("x"))
	}
	spread := func(b *testing.B, do func(worker, i int) error) float64 {
		b.Helper()
		var next atomic.Int64
		var wg sync.WaitGroup
		start := time.Now()
		for n := range workers {
			wg.Go(func() {
				for i := next.Add(1); i <= int64(b.N); i = next.Add(1) {
					if err := do(n, int(i)); err != nil {
						b.Error(err)
						return
					}
				}
			})
		}
		wg.Wait()
		return float64(b.N) / time.Since(start).Seconds()
	}
	var bare float64
	b.Run("bare", func(b *testing.B) {
		bare = spread(b, func(n, i int) error {
			tx, err := w.s.DB().BeginTx(ctx, nil)
			if err != nil {
				return err
			}
			defer tx.Rollback() // says that it is over, once it is committed
			if err := tx.QueryRowContext(ctx, `SELECT id FROM request WHERE id = ? FOR UPDATE`, numbers[n]).Scan(new(int64)); err != nil {
				return err
			}
			for range 2 {
				if _, err := tx.ExecContext(ctx, `INSERT INTO bare (request, words) VALUES (?, 'On a leash.')`, numbers[n]); err != nil {
					return err
				}
			}
			return tx.Commit()
		})
		b.ReportMetric(bare, "a-second")
	})
	for _, address := range []string{"/large.html", "/text.html"} {
		drafts := make([]string, workers) // what each has before them, from their last answer
		for n, number := range numbers {
			v, err := w.d.Bench(ctx, number, w.pages[address])
			w.must(err)
			drafts[n] = v.Draft
		}
		b.Run("keep on "+address, func(b *testing.B) {
			got := spread(b, func(n, i int) error {
				v, err := w.d.Keep(ctx, w.who, numbers[n], w.pages[address], Ask{Draft: drafts[n], Act: &act.Words{Part: "words-1", Words: fmt.Sprintf("Typed here %d.", i)}})
				drafts[n] = v.Draft
				return err
			})
			b.ReportMetric(got, "a-second")
			b.ReportMetric(got/bare, "of-bare")
		})
	}
}
