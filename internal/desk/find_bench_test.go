package desk

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/host"
	"mendry/internal/store"
)

// madeWords are words that nobody says, more seldom the later they come, as in running text (Zipf).
func madeWords(random *rand.Rand) []string {
	syllables := strings.Fields("ba ke li mo nu ra se ti vo zu an er il on ur sta pre gra sli tho wen dor kal mir fen")
	seen := map[string]bool{}
	var words []string
	for len(words) < 20_000 {
		w := ""
		for range 2 + random.IntN(3) {
			w += syllables[random.IntN(len(syllables))]
		}
		if !seen[w] {
			seen[w] = true
			words = append(words, w)
		}
	}
	return words
}

func madePage(random *rand.Rand, zipf *rand.Zipf, words []string, n int) string {
	var b strings.Builder
	fmt.Fprintf(&b, "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>Page %d</title></head>\n<body>\n<nav><a href=\"/\">Home</a> <a href=\"/fares.html\">Fares</a></nav>\n<main>\n", n)
	for range 8 {
		b.WriteString("<h2>")
		for range 3 {
			b.WriteString(words[zipf.Uint64()] + " ")
		}
		b.WriteString("</h2>\n<p class=\"words\">")
		for range 60 {
			b.WriteString(words[zipf.Uint64()] + " ")
		}
		fmt.Fprintf(&b, "from £%d.%02d, call 0191 496 %04d.</p>\n", random.IntN(90), random.IntN(100), random.IntN(10_000))
	}
	b.WriteString("</main>\n<footer><p>Write to us.</p></footer>\n</body></html>\n")
	return b.String()
}

// Finding words over many made pages, against grep over the same files. MENDRY_PAGES sets how many pages, and
// MENDRY_DB_MEMORY how much of them MariaDB holds in memory, as the kernel holds the files for grep.
func BenchmarkFindBesideGrep(b *testing.B) {
	pages, _ := strconv.Atoi(os.Getenv("MENDRY_PAGES"))
	if pages == 0 {
		pages = 500
	}
	w := newWorld(b, false, "index")
	dir := b.TempDir()
	random := rand.New(rand.NewPCG(7, 11))
	words := madeWords(random)
	zipf := rand.NewZipf(random, 1.07, 4, uint64(len(words)-1))
	ctx := context.Background()
	for from := 0; from < pages; from += 200 {
		if err := w.s.Tx(ctx, func(q store.Queries) error {
			for n := from; n < min(from+200, pages); n++ {
				path := fmt.Sprintf("%03d/%s-%d.html", n%200, words[n%len(words)], n)
				html := madePage(random, zipf, words, n)
				if err := os.MkdirAll(filepath.Dir(filepath.Join(dir, path)), 0o700); err != nil {
					return err
				}
				if err := os.WriteFile(filepath.Join(dir, path), []byte(html), 0o600); err != nil {
					return err
				}
				row := store.Page{SiteID: w.site.ID, Path: path, Address: link.AddressOf(path), SeenAt: w.d.now()}
				c := host.Content{Bytes: []byte(html), Media: "text/html"}
				if err := w.d.keepPage(ctx, q, &row, page.Know(path, row.Address, c.Bytes, c.Media), c); err != nil {
					return err
				}
			}
			return nil
		}); err != nil {
			b.Fatal(err)
		}
	}
	for _, c := range []struct{ name, find, grep string }{
		{"rare", words[15_000] + " " + words[40], words[15_000]},
		{"usual", words[3] + " " + words[9], words[3] + " " + words[9]},
		{"unfinished", words[9_000][:5], words[9_000][:5]},
		{"price", "£41.07", "£41.07"},
		{"phone", "+44 191 4960123", "0191 496 0123"},
		{"address", words[44] + "-44.html", words[44] + "-44.html"},
		{"error", swapped(words[12_000]), words[12_000]},
	} {
		b.Run(c.name+"/find", func(b *testing.B) {
			for b.Loop() {
				if _, err := w.d.Find(ctx, Sought{Words: c.find}); err != nil {
					b.Fatal(err)
				}
			}
		})
		b.Run(c.name+"/grep", func(b *testing.B) {
			for b.Loop() {
				_ = exec.Command("grep", "-rlF", c.grep, dir).Run() // says with its code that nothing was found
			}
		})
	}
}

// swapped is a word with a typing error.
func swapped(w string) string { return w[:2] + w[3:4] + w[2:3] + w[4:] }
