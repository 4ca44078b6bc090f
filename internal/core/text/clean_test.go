package text

import (
	"fmt"
	"strings"
	"testing"

	"golang.org/x/net/html"
)

// Pasted fragments of the kinds that word processors, web pages and mail programs put on the clipboard. They were
// written for this test after the shape of such fragments (from memory, no source); the words are invented.
func TestPastedMarkupIsCleaned(t *testing.T) {
	for _, tt := range []struct{ name, in, want, dropped string }{
		{
			"nested spans with styles",
			`<p class="p1" style="margin:0"><span style="font-family:Calibri;color:#1F497D"><span lang="EN-GB" style="font-size:11pt;font-weight:bold">Winter</span> fares <span style="font-style:italic">start</span> soon</span></p>`,
			`<p><strong>Winter</strong> fares <em>start</em> soon</p>`,
			"class attribute 1, style attribute 4, other attribute 1",
		},
		{
			"conditional comments and a word processor's own tags",
			`<html xmlns:o="urn:x"><head><meta charset=utf-8><!--[if gte mso 9]><xml><o:x>1</o:x></xml><![endif]--><style>p.a{margin:0}</style></head><body><!--StartFragment--><p class=a>Open<o:p>&nbsp;</o:p></p><p class=a><o:p>&nbsp;</o:p></p><!--EndFragment--></body></html>`,
			`<p>Open</p>`,
			"other attribute 1, conditional comment 1, style sheet 1, comment 2, class attribute 2, word processor tag 2, empty paragraph 1",
		},
		{
			"lists made of paragraphs",
			`<p class=MsoListParagraph style='mso-list:l0 level1 lfo1'><span>·<span style='font:7pt'>&nbsp;&nbsp; </span></span>Soak</p><p style='mso-list:l0 level2 lfo1'>o&nbsp; overnight</p><p style='mso-list:l0 level1 lfo1'>· Sow</p><p>After.</p><p style='mso-list:l1 level1 lfo2'>1. One</p><p style='mso-list:l1 level1 lfo2'>2. Two</p>`,
			`<ul><li>Soak<ul><li>overnight</li></ul></li><li>Sow</li></ul><p>After.</p><ol><li>One</li><li>Two</li></ol>`,
			"",
		},
		{
			"a table for layout, and one of data",
			`<table width=600><tr><td><table><tr><td><p>Hello</p></td></tr></table></td></tr></table><table border=1><tr><th>Who</th><th>Fare</th></tr><tr><td style="padding:1px"><p>Adult</p></td><td>£7.40</td></tr></table>`,
			`<p>Hello</p><table><tbody><tr><th>Who</th><th>Fare</th></tr><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>`,
			"other attribute 2, table for layout 2, style attribute 1",
		},
		{
			"a picture inside the text, a script, a hidden counter",
			`<div>See <img src="data:image/png;base64,AAAA"> this<img src="https://x.example/open.gif" width=1><script>alert(1)</script><span style="display:none">spy</span></div>`,
			`<p>See this</p>`,
			"embedded picture 1, other attribute 1, picture 1, script 1, hidden text 1",
		},
		{
			"links that track, and links that lead nowhere",
			`<p><a href="https://x.example/a?id=3&amp;utm_source=mail&amp;fbclid=zz#b" target=_blank onclick="x()">one</a> <a href="javascript:alert(1)">two</a> <a href="file:///C:/x.doc">three</a> <a href="tel:+441632960110">four</a></p>`,
			`<p><a href="https://x.example/a?id=3#b">one</a> two three <a href="tel:+441632960110">four</a></p>`,
			"event handler 1, other attribute 1, tracking in a link 2, link that leads nowhere 2",
		},
		{
			"signs that cannot be seen",
			"<p>Call\u200b us\u00a0\u00a0 to\u00adday\ufeff</p>",
			`<p>Call us today</p>`,
			"invisible sign 3, non-breaking blank 1",
		},
		{
			"bold that is not bold, around everything",
			`<b style="font-weight:normal" id="docs-1"><p dir=ltr><span style="font-weight:400">Plain</span> <span style="font-weight:700">bold</span></p><br><p dir=ltr><span>Next</span></p></b>`,
			`<p>Plain <strong>bold</strong></p><p>Next</p>`,
			"anchor 1, style attribute 3, other attribute 2, empty paragraph 1",
		},
		{
			"a mail: lines with line breaks",
			`<div dir="ltr">Dear Ines,<div><br></div><div>We open at <u>nine</u>.</div></div>`,
			`<p>Dear Ines,</p><p>We open at <u>nine</u>.</p>`,
			"other attribute 1, empty paragraph 1",
		},
		{
			"a mail that answers another one, and one that is signed",
			`<p>Yes, nine.</p><p><b>From:</b> Ines Oakley<br><b>Sent:</b> 1 December 2026<br><b>To:</b> Maren<br><b>Subject:</b> Hours</p><p>Is it nine?</p>`,
			`<p>Yes, nine.</p>`,
			"quoted mail 1",
		},
		{
			"a signature",
			`<div>We open at nine.</div><div>-- </div><div>Maren, Larkspur</div>`,
			`<p>We open at nine.</p>`,
			"signature 1",
		},
		{
			"a letter that is from somebody to somebody",
			`<p>Fares</p><p>From: the quay</p><p>To: the island</p>`,
			`<p>Fares</p><p>From: the quay</p><p>To: the island</p>`,
			"",
		},
		{
			"a sheet whose last row is empty",
			`<table><tr><td>Adult</td><td>£7.40</td></tr><tr><td>Child</td><td>£3.70</td></tr><tr><td></td><td>&nbsp;</td></tr></table>`,
			`<table><tbody><tr><td>Adult</td><td>£7.40</td></tr><tr><td>Child</td><td>£3.70</td></tr></tbody></table>`,
			"empty row 1",
		},
	} {
		got, dropped := Clean(tt.in, Everything)
		if got != tt.want {
			t.Errorf("%s:\n got %s\nwant %s", tt.name, got, tt.want)
		}
		var said []string
		for _, d := range dropped {
			said = append(said, fmt.Sprintf("%s %d", d.What, d.Count))
		}
		if tt.dropped != "" && strings.Join(said, ", ") != tt.dropped {
			t.Errorf("%s: dropped %s", tt.name, strings.Join(said, ", "))
		}
		if again, _ := Clean(got, Everything); again != got {
			t.Errorf("%s: cleaned twice it becomes %s", tt.name, again)
		}
	}
}

func TestPastedMarkupFitsItsPlace(t *testing.T) {
	in := `<h1>Big</h1><p>One <b>two</b></p><ul><li>a<li>b</ul>`
	if got, _ := Clean(in, Allow{Blocks: true, Headings: "23", Links: true}); got != `<h2>Big</h2><p>One two</p><ul><li>a</li><li>b</li></ul>` {
		t.Errorf("blocks: %s", got)
	}
	if got, _ := Clean(in, Inline); got != `Big<br>One <strong>two</strong><br>a<br>b` {
		t.Errorf("one run: %s", got)
	}
	if got, _ := Plain(in); got != "Big\nOne two\na\nb" {
		t.Errorf("plain: %q", got)
	}
}

func FuzzClean(f *testing.F) {
	f.Add(`<p class=MsoListParagraph style='mso-list:l0 level3 lfo1'>· a</p><table><tr><td>x<td>y<tr><td><ul><li>z</table>`)
	f.Add(`<a href="x?utm_a=1&b=<i>">q<b>r</a>s`)
	f.Add(`<svg><p>x<li><style></li>`)
	f.Fuzz(func(t *testing.T, s string) {
		for _, allow := range []Allow{Everything, Inline} {
			out, _ := Clean(s, allow)
			root, err := html.Parse(strings.NewReader(out))
			if err != nil {
				continue // nested too deeply to be read: it was escaped
			}
			var walk func(*html.Node)
			walk = func(n *html.Node) {
				if hidden[n.Data] != "" && n.Type == html.ElementNode {
					t.Errorf("%q: %s came through: %q", s, n.Data, out)
				}
				for _, a := range n.Attr {
					if a.Key != "href" && a.Key != "title" && a.Key != "colspan" && a.Key != "rowspan" && a.Key != "lang" || a.Key == "href" && strings.HasPrefix(strings.ToLower(strings.TrimSpace(a.Val)), "javascript:") {
						t.Errorf("%q: attribute %s=%q came through: %q", s, a.Key, a.Val, out)
					}
				}
				for k := n.FirstChild; k != nil; k = k.NextSibling {
					walk(k)
				}
			}
			walk(root)
		}
	})
}
