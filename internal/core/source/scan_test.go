package source

import (
	"bytes"
	"testing"

	"golang.org/x/net/html"
)

// library cuts a page with golang.org/x/net/html's own tokenizer.
func library(b []byte) (toks []token) {
	z := html.NewTokenizer(bytes.NewReader(b))
	at, foreign := 0, 0
	for {
		kind := z.Next()
		n := len(z.Raw())
		t := token{kind: kind, start: at, end: at + n}
		at += n
		switch kind {
		case html.ErrorToken:
			if n > 0 {
				t.kind = html.CommentToken
				toks = append(toks, t)
			}
			return toks
		case html.StartTagToken, html.SelfClosingTagToken:
			t.name, t.is = tagName(b[t.start+1:])
			t.selfClosed, t.kind = kind == html.SelfClosingTagToken, html.StartTagToken
			switch {
			case t.name == "svg" || t.name == "math":
				if !t.selfClosed {
					foreign++
				}
			case foreign > 0 && t.name == "foreignobject":
				foreign = -foreign
			}
			if foreign > 0 {
				z.NextIsNotRawText()
			}
		case html.EndTagToken:
			t.name, t.is = tagName(b[t.start+2:])
			switch {
			case (t.name == "svg" || t.name == "math") && foreign > 0:
				foreign--
			case t.name == "foreignobject" && foreign < 0:
				foreign = -foreign
			}
		}
		z.AllowCDATA(foreign > 0)
		toks = append(toks, t)
	}
}

func sameTokens(t testing.TB, b []byte) {
	t.Helper()
	got, err := tokenise(b, 0, func(int) {})
	if err != nil {
		return
	}
	want := library(b)
	for i := range max(len(got), len(want)) {
		if i >= len(got) || i >= len(want) || got[i] != want[i] {
			t.Errorf("%q: token %d: got %+v, the library has %+v", b, i, got[min(i, len(got)-1):min(i+2, len(got))], want[min(i, len(want)-1):min(i+2, len(want))])
			return
		}
	}
}

func TestTokensAreTheLibrarys(t *testing.T) {
	for _, c := range html5lib(t) {
		sameTokens(t, []byte(c))
	}
	for _, c := range []string{
		"<", "</", "</>", "<a", "<a b='", "<a =b=c/>", "<a b=/>", "<a/b/>", "<br / >", "<!-->x-->", "<!--->", "<!-- a --!> b -->", "<!DocType x", "<!x", "<?x",
		"<script><!--<script></script>--></script>x", "<title>a</titl></title x>", "<svg><title>a<b></title><![CDATA[<b>]]></svg>", "<plaintext></plaintext>", "<textarea></textarea", "a<b", "1<2", "<p \"'=x'>",
	} {
		sameTokens(t, []byte(c))
	}
}

func FuzzTokens(f *testing.F) {
	f.Add([]byte("<a b=c/ d='e' /><svg/><script><!--x</script>--><!-- --!><![CDATA["))
	f.Fuzz(func(t *testing.T, b []byte) { sameTokens(t, b) })
}
