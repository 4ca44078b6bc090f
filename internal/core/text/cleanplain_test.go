package text

import (
	"fmt"
	"strings"
	"testing"
)

// What comes from a PDF, a plain mail, a chat and a sheet. The forms of signatures and quotes are those of RFC 3676; the
// others are from memory, the words are invented.
func TestPlainWordsAreCleaned(t *testing.T) {
	t.Parallel()
	for _, tt := range []struct{ name, in, want, dropped string }{
		{"paragraphs", "One line\r\nand another.\r\n\r\nNext.", "<p>One line<br>and another.</p><p>Next.</p>", ""},
		{"a PDF", "The oﬃce is open for infor-\nmation on ﬂats.", "<p>The office is open for information on flats.</p>", "ligature 2, hyphen at the end of a line 1"},
		{"a hyphen that stays", "well-known, Monday-\nFriday", "<p>well-known, Monday-<br>Friday</p>", ""},
		{"a signature", "We open at nine.\n-- \nMaren\nLarkspur", "<p>We open at nine.</p>", "signature 1"},
		{"two dashes at the beginning", "--\nMaren", "<p>--<br>Maren</p>", ""},
		{"quoted lines", "Yes.\n> Is it nine?\n> Or ten?\nThanks", "<p>Yes.<br>Thanks</p>", "quoted mail 1"},
		{"nothing but what is quoted", "> Is it nine?\n>> Or ten?\n", "<p>Is it nine?<br>Or ten?</p>", ""},
		{"an answer", "Yes, nine.\n\nFrom: Ines Oakley <ines@studio.example>\nSent: 1 December 2026 10:00\nTo: Maren\nSubject: Hours\n\nIs it nine?", "<p>Yes, nine.</p>", "quoted mail 1"},
		{"an answer in German", "Ja, neun.\n\nVon: Ines\nGesendet: Dienstag\nAn: Maren\nBetreff: Zeiten\n\nUm neun?", "<p>Ja, neun.</p>", "quoted mail 1"},
		{"an answer below a line", "Yes.\nOn Tue, 1 Dec 2026 at 10:00, Ines wrote:\n> x", "<p>Yes.</p>", "quoted mail 1"},
		{"from the quay", "From: the quay\nGo left.", "<p>From: the quay<br>Go left.</p>", ""},
		{"a chat", "[10:42, 01/12/2026] Maren Quayle: The single is £7.40\n01/12/2026, 10:43 - Maren Quayle: And the child £3.70", "<p>Maren Quayle: The single is £7.40<br>Maren Quayle: And the child £3.70</p>", "time of a message 2"},
		{"glued", "Maren 10:42The single is £7.40", "<p>Maren 10:42 The single is £7.40</p>", ""},
		{"a time in a sentence", "Boats at 10:42am.", "<p>Boats at 10:42am.</p>", ""},
		{"a sheet", "Fares\n\nWho\tSingle\nAdult\t£7.40\n\t\n", "<p>Fares</p><table><tbody><tr><td>Who</td><td>Single</td></tr><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>", ""},
		{"a line that begins with a tab", "\tDear Ines,\nYes.", "<p>Dear Ines,<br>Yes.</p>", ""},
		{"a list", "Bring:\n- a lamp\n- a coat", "<p>Bring:</p><ul><li>a lamp</li><li>a coat</li></ul>", "typed bullet or number 2"},
		{"signs of markup", "a < b & c > d", "<p>a &lt; b &amp; c &gt; d</p>", ""},
	} {
		got, dropped := CleanPlain(tt.in, Everything)
		var said []string
		for _, d := range dropped {
			said = append(said, fmt.Sprintf("%s %d", d.What, d.Count))
		}
		if got != tt.want || strings.Join(said, ", ") != tt.dropped {
			t.Errorf("%s:\n got %s (%s)\nwant %s (%s)", tt.name, got, strings.Join(said, ", "), tt.want, tt.dropped)
		}
	}
	if got, _ := CleanPlain("Who\tSingle\nAdult\t£7.40\n\nYes.", Inline); got != "Who Single<br>Adult £7.40<br>Yes." {
		t.Errorf("in one run: %s", got)
	}
}

func FuzzCleanPlain(f *testing.F) {
	f.Add("a\tb\nc\td\n-- \nx")
	f.Add("From: a\nSent: b\nTo: c\n<p>")
	f.Fuzz(func(t *testing.T, s string) {
		out, _ := CleanPlain(s, Everything)
		if again, _ := Clean(out, Everything); strings.Contains(out, "<script") || len(again) > 4*len(out)+64 {
			t.Errorf("%q: %q", s, out)
		}
	})
}
