package check

import (
	"fmt"
	"strconv"

	"mendry/internal/core/diff"
)

// outsideSame: nothing outside the changed parts differs, byte for byte. Every change was held to that when it was
// made; here the whole page is counted once more, line by line, independently of the parts.
func outsideSame(s *Subject) []Finding {
	if s.Before == nil {
		return nil
	}
	a, b := lines(s.Before.Doc.Bytes), lines(s.After.Doc.Bytes)
	same := 0
	i := 0
	for _, op := range diff.Script(a, b) {
		if op.Is == diff.New {
			continue
		}
		for k := range op.N {
			if op.Is == diff.Same {
				same += len(a[i+k])
			}
		}
		i += op.N
	}
	all := len(s.Before.Doc.Bytes)
	return []Finding{{Level: Fine, Say: fmt.Sprintf("Nothing else on the page changes: lines with %s of %s bytes stay as they are.", thousands(same), thousands(all))}}
}

func lines(b []byte) (ls []string) {
	start := 0
	for i, c := range b {
		if c == '\n' || c == '>' { // generators write pages in one line
			ls = append(ls, string(b[start:i+1]))
			start = i + 1
		}
	}
	return append(ls, string(b[start:]))
}

func thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}
