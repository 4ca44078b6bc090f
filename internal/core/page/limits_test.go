package page

import (
	"runtime"
	"strings"
	"testing"

	"mendry/internal/core/refusal"
)

// leastMemory is what any page may use, enough for a small page of a hundred thousand elements; above it, a page uses
// at most twenty times its own size.
const leastMemory = 192 << 20 // bytes

// Pages that are hard on the reader, up to the limits of what is read. What is counted is all memory that was taken,
// also what was given back meanwhile, so it is more than was ever in use at once.
func TestTimeAndMemoryAreBounded(t *testing.T) {
	const mb = 1 << 20
	long := func(s string, size int) []byte { return []byte(strings.Repeat(s, size/len(s))) }
	for name, b := range map[string][]byte{
		"plain text":             long("words and words and ", 9*mb),
		"one attribute":          []byte("<p title='" + strings.Repeat("x&amp;", mb) + "'>"),
		"many elements":          long("<i>a</i>", 8*90_000),
		"deep and wide":          []byte(strings.Repeat(strings.Repeat("<div>", 480)+"x"+strings.Repeat("</div>", 480), 200)),
		"wrappers with words":    []byte(strings.Repeat("<div><h2>a</h2><p>", 250) + string(long("words ", 4*mb)) + strings.Repeat("</p></div>", 250)),
		"cells":                  []byte("<table>" + strings.Repeat("<tr>"+strings.Repeat("<td>x", 300), 300) + "</table>"),
		"paragraphs without end": long("<p>a", 4*95_000),
		"links in a list":        []byte("<ul>" + strings.Repeat("<li><a href=x>a</a>", 49_000) + "</ul>"),
		"questions":              long("<h2>a?</h2><p>b</p>", 20*24_000),
		"one question in many":   []byte("<h2>a?</h2><p>b</p>" + strings.Repeat("<h2>a</h2><p>b</p>", 24_000) + "<h3>a?</h3><p>b</p>"),
		"terms":                  []byte("<dl>" + strings.Repeat("<dt>a<dd>b", 45_000) + "</dl>"),
		"sections":               long("<section class=c><h2>a</h2><p>b</p></section>", 46*24_000),
		"tabs":                   []byte("<ul class=tabs>" + strings.Repeat("<li><a data-tab=x href=#x>a</a>", 45_000) + "</ul>"),
		"sliders":                long("<div class=carousel><p><ol class=dots><li data-slide-to=0><li data-slide-to=1></ol><div class=slides><b>a</b><b>b</b></div></div>", 120*12_000),
		"rows in rows":           []byte(strings.Repeat(strings.Repeat("<div class=row>", 14)+strings.Repeat("<div><p>a</p><p>b</p></div></div>", 14), 1_600)),
		"a grid of grids":        []byte(grid(15)),
		"codes":                  long("[a_b c=\"d\"]{{ x }}", mb),
		"brackets":               long("[", mb),
		"references":             long("&amp;&lt;&#x41;", 4*mb),
		"comments":               long("<!-- x -->", 6*mb),
		"unclosed":               long("<b><i><a href=x>", 16*30_000),
		"another encoding":       append([]byte("<meta charset=windows-1252>"), long("caf\xe9 <b>\xe9</b> ", 3*mb)[:500_000]...),
	} {
		for _, markdown := range []bool{false, true} {
			var before, after runtime.MemStats
			runtime.GC()
			runtime.ReadMemStats(&before)
			var err error
			if markdown {
				_, err = ParseMarkdown(b)
			} else {
				_, err = Parse(b, "")
			}
			runtime.ReadMemStats(&after)
			used, bound := after.TotalAlloc-before.TotalAlloc, max(uint64(20*len(b)), leastMemory)
			t.Logf("%-24s markdown %-5v %8d bytes: %5.1f times its size, %d MB, %v", name, markdown, len(b), float64(used)/float64(len(b)), used>>20, err)
			if _, refused := err.(*refusal.Refusal); err != nil && !refused {
				t.Errorf("%s: %v", name, err)
			}
			if used > bound {
				t.Errorf("%s (markdown %v): used %d MB of %d MB", name, markdown, used>>20, bound>>20)
			}
		}
	}
}

// grid is a div with two like it in it, so many deep.
func grid(deep int) string {
	if deep == 0 {
		return "<img src=a.jpg>"
	}
	in := grid(deep - 1)
	return "<div class=row>" + in + in + "</div>"
}
