package check

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
)

// Which of header, byte order mark and meta counts: HTML Living Standard, 13.2.3.2 (encoding sniffing), and labels of
// the Encoding Standard, 4.2 (iso-8859-1 and latin1 are windows-1252).
func TestHostPageAndBytesSayTheSameOfTheEncoding(t *testing.T) {
	latin, utf := "<p>Caf\xe9</p>", "<p>Café</p>"
	for _, tt := range []struct{ name, media, html, want string }{
		{"both UTF-8", "text/html; charset=utf-8", "<meta charset=utf-8>" + utf, ""},
		{"two labels of one", "text/html; charset=iso-8859-1", "<meta charset=latin1>" + latin, ""},
		{"the page alone", "text/html", "<meta charset=windows-1252>" + latin, ""},
		{"the host alone", "text/html; charset=windows-1252", latin, ""},
		{"by http-equiv", "text/html; charset=utf-8", `<meta http-equiv=Content-Type content="text/html; charset=utf-8">` + utf, ""},
		{"they differ", "text/html; charset=ISO-8859-1", "<meta charset=utf-8>" + utf, "WINDOWS-1252, the page says UTF-8"},
		{"they differ, and all of it is ASCII", "text/html; charset=ISO-8859-1", "<meta charset=utf-8><p>Cafe</p>", ""},
		{"a mark settles it", "text/html; charset=ISO-8859-1", "\xef\xbb\xbf<meta charset=windows-1252>" + utf, ""},
		{"bytes that are none", "text/html; charset=utf-8", "<meta charset=utf-8>" + latin, "some of its bytes are not"},
		{"nobody says it", "text/html", latin, "browsers guess"},
		{"a label that nobody knows", "text/html; charset=klingon", "<meta charset=utf-8>" + utf, ""},
		{"a mistaken UTF-16", "text/html", "<meta charset=utf-16>" + utf, ""},
	} {
		p, err := page.Parse([]byte(tt.html), tt.media)
		if err != nil {
			t.Fatalf("%s: %v", tt.name, err)
		}
		say := ""
		for _, f := range encodingAgrees(&Subject{After: p, Media: tt.media}) {
			say += f.Say
		}
		if (tt.want == "") != (say == "") || !strings.Contains(say, tt.want) {
			t.Errorf("%s: %q, want %q", tt.name, say, tt.want)
		}
	}
}
