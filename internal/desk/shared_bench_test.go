package desk

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/host"
	"mendry/internal/standin"
)

// sharedFooter is a page of some 20 kB with a menu and a footer that all pages of its site have; n is its number.
func sharedFooter(n int) string {
	var b strings.Builder
	fmt.Fprintf(&b, "<!doctype html>\n<html lang=\"en\"><head><title>Page %d of the guide</title><meta name=\"description\" content=\"What page %d tells of.\"></head><body>\n<nav><ul>", n, n)
	for i := range 8 {
		fmt.Fprintf(&b, `<li><a href="/p%d.html">Chapter %d</a></li>`, i, i)
	}
	fmt.Fprintf(&b, "</ul></nav>\n<main><h1>Page %d</h1>\n", n)
	for i := range 40 {
		fmt.Fprintf(&b, "<p>Paragraph %d of page %d says a little about boats, ropes, tides and lanterns, and <a href=\"/p%d.html\">goes on</a> about them until the line is full; then it begins anew with other boats, longer ropes, higher tides and brighter lanterns than before. Whoever has read so far may rest. It is %d o’clock.</p>\n", i, n, (n+i)%8, i%12+1)
	}
	b.WriteString("</main>\n<footer class=\"foot\"><p>Old Ropeworks, Tanner Street</p><p>Call <a href=\"tel:+441632960142\">01632 960142</a></p></footer></body></html>\n")
	return b.String()
}

// A footer on 500 pages: from the change to the drafts of all of them, their checks and the proof; then its release
// beside a bare loop that gets, puts and gets each of the pages, as many at once, on the same host, which takes some
// time to answer.
func BenchmarkSharedFooterOn500Pages(b *testing.B) {
	b.Run("host with locks", func(b *testing.B) { sharedFooterBeside(b, nil) })
	b.Run("host without", func(b *testing.B) {
		sharedFooterBeside(b, []standin.Fault{{Method: "LOCK", Status: http.StatusMethodNotAllowed}})
	})
}

func sharedFooterBeside(b *testing.B, lacks []standin.Fault) {
	b.Helper()
	ctx := context.Background()
	pages := madeOf500()
	w := newWorld(b, true, "index")
	for n := range pages {
		w.must(os.WriteFile(filepath.Join(w.dir, fmt.Sprintf("p%d.html", n)), []byte(sharedFooter(n)), 0o600))
	}
	w.takeIn()
	h, err := w.d.liveHost(ctx, w.site.ID)
	w.must(err)
	answer := func(slow time.Duration) {
		w.host.SetFaults(append(slices.Clone(lacks), standin.Fault{Slow: slow})...)
	}
	for b.Loop() {
		b.StopTimer()
		v, err := w.d.Site(ctx, w.site.ID)
		w.must(err)
		for _, p := range v.Pages {
			w.pages[p.Address] = p.ID
		}
		n := w.request("The phone")
		bench, p := w.part(n, "/p7.html", "link", "01632")
		_, err = w.d.ChooseShared(ctx, w.who, n, w.pages["/p7.html"], p.ID, true)
		w.must(err)
		b.StartTimer()
		began := time.Now()
		_, err = w.d.Keep(ctx, w.who, n, w.pages["/p7.html"], Ask{Draft: bench.Draft, Act: &act.Words{Part: p.ID, Words: fmt.Sprintf("01632 9601%02d", b.N%100)}})
		w.must(err)
		b.ReportMetric(time.Since(began).Seconds(), "s-kept")
		for {
			proof, err := w.d.Proof(ctx, n)
			w.must(err)
			if proof.Spreading == nil {
				if proof.OtherPages != pages-1 {
					b.Fatalf("on %d pages: %s", proof.OtherPages, proof.WhyNotSend)
				}
				break
			}
			w.d.DoNext(ctx)
		}
		b.ReportMetric(time.Since(began).Seconds(), "s-proven")
		began = time.Now()
		w.clear(n)
		b.ReportMetric(time.Since(began).Seconds(), "s-cleared")
		began = time.Now()
		rel, err := w.d.Publish(ctx, w.who, n, nil)
		w.must(err)
		b.ReportMetric(time.Since(began).Seconds(), "s-opened")
		answer(20 * time.Millisecond)
		began = time.Now()
		var ours time.Duration // until all is written; that it arrived is looked at afterwards
		for {
			r, err := w.d.Release(ctx, rel.ID)
			w.must(err)
			if r.State == api.ReleaseStateLive || r.State == api.ReleaseStateSure {
				ours = r.DoneAt.Sub(began)
				b.ReportMetric(time.Since(began).Seconds(), "s-sure")
				break
			}
			if r.State == api.ReleaseStateStopped {
				b.Fatal(r.Said)
			}
			w.d.DoNext(ctx)
		}
		began = time.Now()
		bare(ctx, b, h, pages)
		loop := time.Since(began)
		answer(0)
		b.ReportMetric(ours.Seconds(), "s-release")
		b.ReportMetric(loop.Seconds(), "s-bare")
		b.ReportMetric(ours.Seconds()/loop.Seconds(), "of-bare")
		w.settle(rel.ID)
	}
}

// bare gets, puts and gets each page, as many at once as a release writes.
func bare(ctx context.Context, b *testing.B, h host.Host, pages int) {
	b.Helper()
	todo := make(chan int)
	var all sync.WaitGroup
	for range 4 { // as many as package release writes
		all.Go(func() {
			for n := range todo {
				file := fmt.Sprintf("p%d.html", n)
				c, err := h.Read(ctx, file)
				if err == nil {
					err = h.Write(ctx, file, c.Bytes, &c)
				}
				if err == nil {
					_, err = h.Read(ctx, file)
				}
				if err != nil {
					b.Error(err)
				}
			}
		})
	}
	for n := range pages {
		todo <- n
	}
	close(todo)
	all.Wait()
}

// madeOf500 is how many pages share the footer: MENDRY_PAGES, else 500.
func madeOf500() int {
	if n, err := strconv.Atoi(os.Getenv("MENDRY_PAGES")); err == nil {
		return n
	}
	return 500
}
