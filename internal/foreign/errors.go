package foreign

import (
	"bytes"
	"encoding/json"
	"os/exec"
	"strconv"
	"strings"
	"testing"
)

// counting reads pages, one JSON string a line, and prints how many parse errors each has (HTML, 13.2), as html5lib
// counts them.
const counting = `
import sys, json, html5lib
for line in sys.stdin:
    parser = html5lib.HTMLParser()
    parser.parse(json.loads(line))
    print(len(parser.errors))
`

// ParseErrors counts the parse errors of pages by html5lib, from Debian's packages.
func ParseErrors(t testing.TB, pages []string) (counts []int) {
	t.Helper()
	var lines bytes.Buffer
	for _, p := range pages {
		b, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		lines.Write(append(b, '\n'))
	}
	cmd := exec.Command("/usr/bin/python3", "-c", counting)
	cmd.Stdin = &lines
	out, err := cmd.Output()
	if err != nil {
		t.Fatalf("html5lib: %v; run scripts/system.sh", err)
	}
	for _, line := range strings.Fields(string(out)) {
		n, err := strconv.Atoi(line)
		if err != nil {
			t.Fatal(err)
		}
		counts = append(counts, n)
	}
	if len(counts) != len(pages) {
		t.Fatalf("%d pages, %d counts", len(pages), len(counts))
	}
	return counts
}
