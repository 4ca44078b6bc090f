package change_test

import (
	"bytes"
	"os"
	"sort"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/foreign"
)

// Every picture of pages that nobody here wrote gets a link, a caption, both, and loses the link that it has: nothing
// else of the page changes, and each is undone to the same bytes. What is refused is counted by its reason.
func TestPicturesOfOthersPagesAreEnclosed(t *testing.T) {
	done, why := 0, map[string]int{}
	for _, files := range foreign.Pages(t) {
		for _, name := range files {
			b, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			p, err := page.ParseFile(name, b, "")
			if err != nil {
				continue
			}
			for _, part := range p.OfKind(page.Picture) {
				if !part.ShowsPicture() || part.Locked != "" {
					continue
				}
				for _, op := range []change.Op{
					{Op: change.Enclose, Part: part.ID, HTML: `<a href="/quay.html"></a>`},
					{Op: change.Enclose, Part: part.ID, HTML: `<figure class="wide"><figcaption>At noon</figcaption></figure>`},
				} {
					r, err := change.Apply(p, []change.Op{op})
					if no := refusal.Of(err); no != nil {
						why[strings.ReplaceAll(no.Say, part.Name, "…")]++
						continue
					}
					if err != nil {
						t.Fatalf("%s: %v", name, err)
					}
					done++
					at := change.WholeSpan(part)
					if !bytes.HasPrefix(r.Bytes, b[:at.Start]) || !bytes.HasSuffix(r.Bytes, b[at.End:]) {
						t.Errorf("%s: %s: bytes outside its place changed", name, part.Name)
					}
					if back, err := change.Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, b) {
						t.Errorf("%s: %s: not as it was: %v", name, part.Name, err)
					}
				}
				for up := part.Parent; up != nil; up = up.Parent {
					if !up.Node.Is("a") || up.Run != nil {
						continue
					}
					r, err := change.Apply(p, []change.Op{{Op: change.Open, Part: up.ID}})
					if no := refusal.Of(err); no != nil {
						why["open: "+strings.ReplaceAll(no.Say, up.Name, "…")]++
						break
					}
					done++
					if back, err := change.Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, b) {
						t.Errorf("%s: %s: not as it was: %v", name, up.Name, err)
					}
					break
				}
			}
		}
	}
	var reasons []string
	for say := range why {
		reasons = append(reasons, say)
	}
	sort.Strings(reasons)
	for _, say := range reasons {
		t.Logf("refused %d: %s", why[say], say)
	}
	if t.Logf("done %d", done); done < 50 {
		t.Errorf("only %d were done", done)
	}
	for say, n := range why {
		if strings.Contains(say, "read differently") {
			t.Errorf("%d times not in words: %s", n, say)
		}
	}
}
