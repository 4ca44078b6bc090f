package change_test

import (
	"bytes"
	"os"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/foreign"
)

func parsed(t testing.TB, s string) *page.Page {
	t.Helper()
	p, err := page.Parse([]byte(s), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func TestTheEditorsWordsGoIntoTheMarkupThatIsThere(t *testing.T) {
	for _, tt := range []struct{ name, inner, edited, want string }{
		{"nothing changed", `a &amp; b&nbsp;<B class=x>c</B>` + "\n  d", `a &amp; b&nbsp;<strong>c</strong> d`, `a &amp; b&nbsp;<B class=x>c</B>` + "\n  d"},
		{"a word", `Read <b class=x>the winter</b> page&hellip;`, `Read <strong>the summer</strong> page…`, `Read <b class=x>the summer</b> page&hellip;`},
		{"bold to italic, as the page writes it", `Our <b>Larkspur</b> sails. <i>Old</i>`, `Our <em>Larkspur</em> sails. <em>Old</em>`, `Our <i>Larkspur</i> sails. <i>Old</i>`},
		{"bold goes", `a <b>c</b> d`, `a c d`, `a c d`},
		{"bold grows", `a <b class=x>c</b> d`, `a <strong>c d</strong>`, `a <b class=x>c d</b>`},
		{"a link with a title", `See the page here.`, `See <a href="/fares.html" title="All fares">the page</a> here.`, `See <a href="/fares.html" title="All fares">the page</a> here.`},
		{"a link's target, its class stays", `<a class=btn href="/a">Go on</a> now`, `<a href="/a">Go off</a> now`, `<a class=btn href="/a">Go off</a> now`},
		{"wrapper and icon stay", `<span class=p>£6 <i class=ic></i></span> each`, `<span data-keep="0">£7 <span data-seal="0">i</span></span> each`, `<span class=p>£7 <i class=ic></i></span> each`},
		{"a code is moved whole", `Sold in [shops n="3"] now`, `Now in <span data-seal="0">x</span> sold`, `Now in [shops n="3"] sold`},
		{"a line break as the page writes it", `one<br />two`, `one<br>two<br>three`, `one<br />two<br />three`},
		{"less than and more", `a`, `a &lt;b&gt; &amp; c`, `a &lt;b&gt; &amp; c`},
		{"a mark in the same mark stays", `Set <code><em><code>path</code></em>=1</code>`, `Set <code><em><span data-keep="0">path</span></em>=2</code>`, `Set <code><em><code>path</code></em>=2</code>`},
		{"typed before a reference in a link", `<a class=p href="/a">&lt;-back</a> b`, `<a href="/a">Go &lt;-back</a> b`, `<a class=p href="/a">Go &lt;-back</a> b`},
		{"typed between a line's end and a link", "See\n  <a class=p href=\"/a\">it</a> &amp; more", `See now <a href="/a">it</a> &amp; more`, "See\n  now <a class=p href=\"/a\">it</a> &amp; more"},
		{"a wrapper in a mark in a wrapper", `<span class=t><i><tt>x</tt></i>:</span> y`, `<span data-keep="0"><em><span data-keep="1">x</span></em>:</span> z`, `<span class=t><i><tt>x</tt></i>:</span> z`},
		{"marks nested both ways", `<b><i>x</i></b> <i><b>y</b></i> z`, `<strong><em>x</em></strong> <em><strong>y</strong></em> q`, `<b><i>x</i></b> <i><b>y</b></i> q`},
		{"an abbreviation and a language are pasted", `Open daily.`, `Open <abbr title="from Monday to Sunday">daily</abbr>, <span lang="fr">sauf lundi</span>.`, `Open <abbr title="from Monday to Sunday">daily</abbr>, <span lang="fr">sauf lundi</span>.`},
		{"words that run the other way and a mark are pasted", `Open daily.`, `<mark>Open</mark> daily, <span lang="he" dir="rtl">שלום</span>.`, `<mark>Open</mark> daily, <span lang="he" dir="rtl">שלום</span>.`},
		{"what words are said to be, twice", `A <abbr title="x">B</abbr> and <abbr title="x">C</abbr> <mark>d</mark>.`, `A <abbr title="x">B</abbr> and <abbr title="x">C</abbr> <mark>d</mark>!`, `A <abbr title="x">B</abbr> and <abbr title="x">C</abbr> <mark>d</mark>!`},
		{"a mark in an abbreviation, as an editor nests them", `A <abbr title="x">b c</abbr> d`, `A <abbr title="x">b </abbr><strong><abbr title="x">c</abbr></strong> d`, `A <abbr title="x">b <strong>c</strong></abbr> d`},
		{"an abbreviation that is dressed", `A <abbr class="y" title="x">b</abbr> d`, `A <span data-keep="0">c</span> d`, `A <abbr class="y" title="x">c</abbr> d`},
		{"a way that is none", `Open daily.`, `Open <span dir="up">daily</span>.`, `Open daily.`},
		{"a language that is none", `Open daily.`, `Open <span lang="x&quot; onclick=1">daily</span>.`, `Open daily.`},
		{"a comment stays", `a <!-- x --> b`, `a big b`, `a <!-- x --> big b`},
	} {
		p := parsed(t, "<p id=x>"+tt.inner+"</p>")
		part := p.All[0]
		got, err := change.Rewrite(p, part, tt.edited)
		if err != nil || got != tt.want {
			t.Errorf("%s: %q %v, want %q (editor had %s)", tt.name, got, err, tt.want, change.Editable(p, part))
		}
	}
}

// On pages nobody here wrote: opened and left, a part's bytes stay; one letter more is one letter more in the bytes,
// and without it they are what they were. Otherwise the part is locked, or refused with a reason.
// Editors know what words are said to be by tags of their own, where the page writes these as Mendry does.
func TestWhatWordsAreSaidToBeIsToldToEditors(t *testing.T) {
	for inner, want := range map[string]string{
		`<abbr title="x">a</abbr> <mark>b</mark>`:                     `<abbr title="x">a</abbr> <mark>b</mark>`,
		`<span lang="he" dir="rtl">a</span> <span dir="ltr">b</span>`: `<span lang="he" dir="rtl">a</span> <span dir="ltr">b</span>`,
		`<span class="x" lang="fr">a</span>`:                          `<span data-keep="0-`,
		`<MARK>a</MARK>`:                                              `<span data-keep="0-`,
		`<abbr title="a & b">a</abbr>`:                                `<span data-keep="0-`,
		`<abbr title="x" onclick="y">a</abbr>`:                        `<span data-keep="0-`,
		`<span lang="fr" dir="up">a</span>`:                           `<span data-keep="0-`,
	} {
		p := parsed(t, "<main><h1>H</h1><p>"+inner+"</p></main>")
		part, _ := p.Part("words-1")
		if got := change.Editable(p, part); !strings.HasPrefix(got, want) {
			t.Errorf("%s is %s, want %s", inner, got, want)
		}
	}
}

func TestOneLetterTypedAndDeletedOnPagesNobodyHereWrote(t *testing.T) {
	var tried, same, refused int
	for _, files := range foreign.Pages(t) {
		for _, f := range files {
			b, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			p, err := page.Parse(b, "")
			if err != nil {
				continue
			}
			step := max(len(p.All)/120, 1)
			for i := 0; i < len(p.All); i += step {
				part := p.All[i]
				if part.Locked != "" || !part.Kind.HasWords() || part.Text == "" || strings.Contains(part.HTML, "<pre") {
					continue
				}
				raw := p.Doc.Markup(b[part.InnerStart:part.InnerEnd])
				edit := change.Editable(p, part)
				letter := letterNotIn(edit)
				typed := withLetter(edit, letter)
				if typed == edit {
					continue // all of it is a template's mark
				}
				tried++
				left, err := change.Rewrite(p, part, edit)
				if err != nil || left != raw {
					t.Errorf("%s: %s opened and left: %v\n%q\n%q", f, part.ID, err, raw, left)
					continue
				}
				got, err := change.Rewrite(p, part, typed)
				if err != nil {
					t.Logf("%s: %v: %q", part.ID, err, raw)
					refused++
					continue
				}
				r, err := change.Apply(p, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: got}})
				if err != nil {
					t.Errorf("%s: %s: %v", f, part.ID, err)
					continue
				}
				if len(r.Bytes) != len(b)+1 {
					t.Errorf("%s: %s: one letter more, %d bytes more\n%q\n%q", f, part.ID, len(r.Bytes)-len(b), raw, got)
					continue
				}
				now := r.Page.All[i]
				without := strings.Replace(change.Editable(r.Page, now), letter, "", 1)
				if back, err := change.Rewrite(r.Page, now, without); err != nil || back != raw {
					t.Errorf("%s: %s: deleted again: %v\n%q\n%q", f, part.ID, err, raw, back)
					continue
				}
				same++
			}
		}
	}
	t.Logf("%d parts: %d kept their bytes, %d refused", tried, same, refused)
	if tried < 200 || 100*same < 99*tried {
		t.Errorf("%d of %d parts", same, tried)
	}
}

// letterNotIn is a letter that markup does not hold, so that it is found again.
func letterNotIn(edit string) string {
	for _, letter := range strings.Split("QXZJKVWYq", "") {
		if !strings.Contains(edit, letter) {
			return letter
		}
	}
	return "Q"
}

// withLetter types a letter at the beginning of the first text.
func withLetter(edit, letter string) string {
	z := html.NewTokenizer(strings.NewReader(edit))
	var b bytes.Buffer
	done := false
	sealed := false
	for z.Next() != html.ErrorToken {
		raw := string(z.Raw())
		tok := z.Token()
		if tok.Type == html.TextToken && !done && !sealed && strings.TrimSpace(raw) != "" {
			at := len(raw) - len(strings.TrimLeft(raw, " "))
			raw = raw[:at] + letter + raw[at:]
			done = true
		}
		sealed = tok.Type == html.StartTagToken && strings.Contains(raw, "data-seal")
		b.WriteString(raw)
	}
	return b.String()
}
