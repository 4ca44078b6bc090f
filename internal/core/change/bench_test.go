package change_test

import (
	"bytes"
	"fmt"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"golang.org/x/net/html"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/foreign"
)

// The pages that ship with the tests, nobody here wrote them.
func benchPages(b *testing.B) (all [][]byte, size int64) {
	sources := foreign.Pages(b)
	for _, name := range slices.Sorted(maps.Keys(sources)) {
		for _, f := range sources[name] {
			raw, err := os.ReadFile(f)
			if err != nil {
				b.Fatal(err)
			}
			if _, err := page.Parse(raw, ""); err != nil {
				continue
			}
			all = append(all, raw)
			size += int64(len(raw))
		}
	}
	return all, size
}

// Yardstick of BenchmarkPageToParts: the bare parse of the same pages.
func BenchmarkBareParse(b *testing.B) {
	all, size := benchPages(b)
	b.SetBytes(size)
	for b.Loop() {
		for _, raw := range all {
			if _, err := html.Parse(bytes.NewReader(raw)); err != nil {
				b.Fatal(err)
			}
		}
	}
}

func BenchmarkPageToParts(b *testing.B) {
	all, size := benchPages(b)
	b.SetBytes(size)
	for b.Loop() {
		for _, raw := range all {
			if _, err := page.Parse(raw, ""); err != nil {
				b.Fatal(err)
			}
		}
	}
}

// The two in turn, some pages of each at a time, so that a machine that is busy elsewhere is busy for both: "of-bare"
// is the speed of page to parts as a share of the bare parse's.
func BenchmarkPageToPartsBesideBareParse(b *testing.B) {
	all, _ := benchPages(b)
	var bare, parts time.Duration
	for b.Loop() {
		for some := range slices.Chunk(all, 8) {
			start := time.Now()
			for _, raw := range some {
				if _, err := html.Parse(bytes.NewReader(raw)); err != nil {
					b.Fatal(err)
				}
			}
			between := time.Now()
			for _, raw := range some {
				if _, err := page.Parse(raw, ""); err != nil {
					b.Fatal(err)
				}
			}
			bare += between.Sub(start)
			parts += time.Since(between)
		}
	}
	b.ReportMetric(bare.Seconds()/parts.Seconds(), "of-bare")
}

// large is a page of 500 kB, made of one of the pages that ship with the tests.
func large(b *testing.B) []byte {
	all, _ := benchPages(b)
	body := string(all[0])
	i, j := strings.Index(body, "<body"), strings.Index(body, "</body>")
	i += strings.Index(body[i:], ">") + 1
	n := 500_000 / (j - i)
	return []byte(body[:i] + strings.Repeat(body[i:j], n+1) + body[j:])
}

// Yardstick of BenchmarkOneChange: the same page to its parts.
func BenchmarkLargePageToParts(b *testing.B) {
	raw := large(b)
	b.SetBytes(int64(len(raw)))
	for b.Loop() {
		if _, err := page.Parse(raw, ""); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkOneChange(b *testing.B) {
	raw := large(b)
	p, err := page.Parse(raw, "")
	if err != nil {
		b.Fatal(err)
	}
	var part *page.Part
	for _, q := range p.All[len(p.All)/2:] {
		if q.Kind == page.Words && q.Locked == "" {
			part = q
			break
		}
	}
	b.SetBytes(int64(len(raw)))
	i := 0
	for b.Loop() {
		i++
		if _, err := change.Apply(p, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: fmt.Sprintf("Other words, %d", i)}}); err != nil {
			b.Fatal(err)
		}
	}
}
