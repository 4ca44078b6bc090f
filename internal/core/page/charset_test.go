package page_test

import (
	"bytes"
	"fmt"
	"testing"
	"unicode/utf8"

	"golang.org/x/text/encoding/htmlindex"

	"mendry/internal/core/page"
)

// Whatever a host says of a page's bytes (the labels of the WHATWG Encoding Standard, by golang.org/x/text), what is told of it
// is text: a host that says utf-8 over windows-1252 kept a whole site out.
func TestWhatIsToldOfAPageIsTextUnderEveryCharset(t *testing.T) {
	t.Parallel()
	labels := []string{
		"", "nonsense", "utf-7", "none", "\xff", "utf-8; charset=big5",
		"utf-8", "ibm866", "iso-8859-2", "iso-8859-3", "iso-8859-4", "iso-8859-5", "iso-8859-6", "iso-8859-7", "iso-8859-8", "iso-8859-8-i", "iso-8859-10",
		"iso-8859-13", "iso-8859-14", "iso-8859-15", "iso-8859-16", "koi8-r", "koi8-u", "macintosh", "windows-874", "windows-1250", "windows-1251", "windows-1252",
		"windows-1253", "windows-1254", "windows-1255", "windows-1256", "windows-1257", "windows-1258", "x-mac-cyrillic", "gbk", "gb18030", "big5", "euc-jp",
		"iso-2022-jp", "shift_jis", "euc-kr", "replacement", "utf-16be", "utf-16le", "x-user-defined", "us-ascii", "latin1",
	}
	bodies := map[string][]byte{"every byte": {}}
	for c := 0x80; c <= 0xff; c++ {
		bodies["every byte"] = append(bodies["every byte"], byte(c), ' ')
	}
	for _, name := range labels {
		if e, err := htmlindex.Get(name); err == nil {
			if b, err := e.NewEncoder().Bytes([]byte("Größe 12")); err == nil {
				bodies["in "+name] = b
			}
			if b, err := e.NewEncoder().Bytes([]byte("日本 Москва")); err == nil {
				bodies["also in "+name] = b
			}
		}
	}
	const shape = "<!doctype html><html lang=\"X\"><head><title>X</title><meta name=description content=\"X\"><link rel=canonical href=\"/X\"></head><body><h1>X</h1>" +
		"<p title=\"X\">X <b>X</b></p><img src=\"/X.png\" alt=\"X\"><table><tr><td>X</td><td>b</td></tr></table><ul><li><a href=\"/X\">X</a></li><li><a href=\"/b\">b</a></li></ul>" +
		"<script>\"X\"</script><!-- X --><div style=\"background:url(/X.png)\" class=\"X\">X</div></body></html>"
	for name, body := range bodies {
		b := bytes.ReplaceAll([]byte(shape), []byte("X"), body)
		for _, label := range labels {
			media := "text/html; charset=" + label
			k := page.Know("a.html", "/a.html", b, media)
			if s := k.Title + k.Description + k.Words + k.Locked + k.Encoding; !utf8.ValidString(s) {
				t.Errorf("%s as %q: %q", name, label, s)
			}
			p, err := page.ParseFile("a.html", b, media)
			if err != nil {
				continue
			}
			told := fmt.Sprint(p.Facts)
			for _, part := range p.All {
				told += part.Text + part.Name + part.HTML + part.Locked
				for _, a := range part.Attributes {
					told += a.Key + a.Val
				}
			}
			if !utf8.ValidString(told) {
				t.Errorf("%s as %q: its parts tell what is no text", name, label)
			}
		}
	}
}
