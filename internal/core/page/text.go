package page

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"mendry/internal/core/source"
)

// rendered is what a visitor reads of a page, in one string, with the place of every node in it.
type rendered struct {
	all  string
	from []int32 // by source.Node.Index
	to   []int32
}

// of is what a visitor reads of n: blanks collapsed, a line break where <br> or a block ends a line.
func (r *rendered) of(n *source.Node) string { return r.between(n, n) }

// between is what a visitor reads from one node to another.
func (r *rendered) between(first, last *source.Node) string {
	return strings.TrimSpace(r.all[r.from[first.Index]:r.to[last.Index]])
}

func render(d *source.Doc, traits []trait) *rendered {
	t := textWriter{d: d, traits: traits, from: make([]int32, len(d.Nodes)), to: make([]int32, len(d.Nodes))}
	t.b.Grow(len(d.Bytes) / 2)
	t.write(d.Root)
	return &rendered{t.b.String(), t.from, t.to}
}

type textWriter struct {
	d        *source.Doc
	traits   []trait
	base     int32 // the node that the first of traits is of, by its Index
	b        strings.Builder
	from, to []int32
	blank    bool // a blank stands before the next sign
	line     bool // a line ends before the next sign
	last     byte
}

func (t *textWriter) write(n *source.Node) {
	t.from[n.Index] = int32(t.b.Len())
	t.read(n)
	t.to[n.Index] = int32(t.b.Len())
}

func (t *textWriter) read(n *source.Node) {
	if n.IsText() {
		t.words(t.d.Text(n))
		return
	}
	is := &t.traits[n.Index-t.base]
	if is.is(isUnseen) {
		t.unread(n)
		return
	}
	if n.Is("br") {
		t.put("\n")
		t.blank, t.line = false, false
		return
	}
	block := is.is(isBlock)
	if block {
		t.line = true
	}
	for _, k := range n.Kids {
		t.write(k)
	}
	if block {
		t.line = true
	}
}

// unread gives what stands in an element that is not read a place all the same.
func (t *textWriter) unread(n *source.Node) {
	for _, k := range n.Kids {
		at := int32(t.b.Len())
		t.from[k.Index], t.to[k.Index] = at, at
		t.unread(k)
	}
}

func (t *textWriter) put(s string) {
	t.b.WriteString(s)
	t.last = s[len(s)-1]
}

func (t *textWriter) words(s string) {
	for i := 0; i < len(s); {
		if c := s[i]; c <= ' ' && (c == ' ' || c >= '\t' && c <= '\r') {
			t.blank = true
			i++
			continue
		}
		j := i
		for j < len(s) && s[j] < utf8.RuneSelf && (s[j] > ' ' || s[j] == ' ' && j > i && j+1 < len(s) && s[j+1] > ' ' && s[j+1] < utf8.RuneSelf) {
			j++ // words with single blanks between them are written in one go
		}
		if j == i {
			r, n := utf8.DecodeRuneInString(s[i:])
			if unicode.IsSpace(r) && r != '\u00a0' {
				t.blank = true
				i += n
				continue
			}
			if j = i + n; r < ' ' {
				j = i + 1
			}
		}
		t.gap()
		t.put(s[i:j])
		i = j
	}
}

// gap writes what stands between the last sign and the next one.
func (t *textWriter) gap() {
	if t.b.Len() > 0 {
		switch {
		case t.line:
			t.put("\n")
		case t.blank && t.last != '\n':
			t.put(" ")
		}
	}
	t.blank, t.line = false, false
}

func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// cut is Short for words with single blanks between them, of which nothing has to be built.
func cut(s string, n int) (string, bool) {
	if len(s) > 0 && (s[0] == ' ' || s[len(s)-1] == ' ') {
		return "", false
	}
	end, signs := 0, 0 // end is where the last whole word ends
	for i, r := range s {
		switch {
		case r == ' ' && s[i+1] == ' ', r != ' ' && (r < ' ' || r > '~') && unicode.IsSpace(r):
			return "", false
		case signs >= n:
			if r == ' ' {
				end = i
			}
			if end > n/2 {
				i = end
			}
			return strings.TrimRight(s[:i], " ,.;:–-") + "…", true
		case r == ' ':
			end = i
		}
		signs++
	}
	return s, true
}

// Short cuts s to about n signs at the end of a word, blanks collapsed.
func Short(s string, n int) string {
	if short, ok := cut(s, n); ok {
		return short
	}
	var room [160]byte
	b := room[:0]
	signs, end := 0, 0 // end is where the last whole word ends
	blank := false
	for _, r := range s {
		if unicode.IsSpace(r) {
			blank = signs > 0
			continue
		}
		if blank {
			end = len(b)
			b = append(b, ' ')
			signs++
			blank = false
		}
		if signs >= n {
			if end > n/2 {
				b = b[:end]
			}
			return strings.TrimRight(string(b), " ,.;:–-") + "…"
		}
		b = utf8.AppendRune(b, r)
		signs++
	}
	return string(b)
}
