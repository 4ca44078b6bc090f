package change

import (
	"strings"
	"testing"

	"golang.org/x/net/html"
)

// What is written as an attribute's value is read again as it was meant, whatever quotes it stands between. It is read
// by the HTML parser of golang.org/x/net.
func TestAValueInQuotesIsReadAsItWasMeant(t *testing.T) {
	for _, value := range []string{"", "plain", `he said "no"`, "it's", `both "of" 'them'`, "a & b &amp; c", "<b>", "a\nb", "ends in \\", "=`"} {
		for _, by := range []string{`"`, "'", ""} {
			quote := byte(0)
			if by != "" {
				quote = by[0]
			}
			tag := "<a one=1 class=" + by + string(Quoted(value, quote)) + by + " two=2>"
			z := html.NewTokenizerFragment(strings.NewReader(tag), "")
			z.Next()
			got := z.Token().Attr
			if len(got) != 3 || got[1].Key != "class" || got[1].Val != value || got[2].Key != "two" {
				t.Errorf("%s is read as %v", tag, got)
			}
		}
	}
}
