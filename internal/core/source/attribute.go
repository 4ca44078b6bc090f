package source

import "golang.org/x/net/html"

// Attribute is one attribute of a start tag with its byte ranges in Doc.Bytes.
type Attribute struct {
	Name  string // lower case
	Value string // decoded
	Whole Span   // from the white space before the name to the end of the value
	Raw   Span   // the value without its quotes; empty where there is none
	Quote byte   // '"', '\'' or 0
	Bare  bool   // a name without "="
}

// Attributes lists the attributes of n's start tag as written, the first of each name only, as the standard's
// attribute states read them.
func (d *Doc) Attributes(n *Node) []Attribute {
	if n.Tag() == "" || !n.Placed || n.InnerStart() <= n.Start() {
		return nil
	}
	all := d.attributesAt(n.Start(), n.InnerStart(), 0)
	for i := range all {
		all[i].Value = d.Decode(d.Bytes[all[i].Raw.Start:all[i].Raw.End])
	}
	return all
}

// TagAttributes lists the attributes of a start tag that stands alone, in UTF-8. Their ranges speak of the tag.
func TagAttributes(tag []byte) []Attribute {
	d := &Doc{Bytes: tag, Encoding: Encoding{Name: "utf-8", utf8: true}}
	all := d.attributesAt(0, len(tag), 0)
	for i := range all {
		all[i].Value = d.Decode(tag[all[i].Raw.Start:all[i].Raw.End])
	}
	return all
}

// attributesAt reads the attributes of the start tag between two offsets, without their values.
func (d *Doc) attributesAt(start, end, name int) []Attribute {
	b := d.Bytes
	end-- // before ">"
	i := start + 1 + name
	for i < end && !isSpace(b[i]) && b[i] != '/' {
		i++
	}
	var all []Attribute
	seen := map[string]bool{}
	for i < end {
		gap := i
		for i < end && (isSpace(b[i]) || b[i] == '/') {
			i++
		}
		if i >= end {
			break
		}
		a := Attribute{}
		nameStart := i
		i++ // a name may begin with "="
		for i < end && !isSpace(b[i]) && b[i] != '/' && b[i] != '=' {
			i++
		}
		a.Name = lower(b[nameStart:i])
		nameEnd := i
		for i < end && isSpace(b[i]) {
			i++
		}
		if i >= end || b[i] != '=' {
			i = nameEnd
			a.Bare, a.Whole, a.Raw = true, Span{gap, nameEnd}, Span{nameEnd, nameEnd}
		} else {
			i++
			for i < end && isSpace(b[i]) {
				i++
			}
			i = d.value(&a, i, end)
			a.Whole = Span{gap, i}
		}
		if !seen[a.Name] {
			seen[a.Name] = true
			all = append(all, a)
		}
	}
	return all
}

// value reads an attribute's value from i and returns where it ends.
func (d *Doc) value(a *Attribute, i, end int) int {
	b := d.Bytes
	if i < end && (b[i] == '"' || b[i] == '\'') {
		a.Quote = b[i]
		start := i + 1
		for i = start; i < end && b[i] != a.Quote; i++ {
		}
		a.Raw = Span{start, i}
		return min(i+1, end)
	}
	start := i
	for i < end && !isSpace(b[i]) {
		i++
	}
	a.Raw = Span{start, i}
	return i
}

// Attribute finds one attribute of n by its name.
func (d *Doc) Attribute(n *Node, name string) (Attribute, bool) {
	for _, a := range d.Attributes(n) {
		if a.Name == name {
			return a, true
		}
	}
	return Attribute{}, false
}

// Value is the value of n's attribute as the tree has it, empty where there is none.
func (d *Doc) Value(n *Node, name string) string {
	for _, a := range n.HTML.Attr {
		if a.Key == name {
			return d.decodeTree(a.Val)
		}
	}
	return ""
}

// Text is the text of a text node, decoded.
func (d *Doc) Text(n *Node) string {
	if !n.Placed && n.runs == nil || d.Format == Markdown {
		return d.decodeTree(n.HTML.Data)
	}
	if n.Placed && d.Encoding.utf8 {
		return n.HTML.Data
	}
	isRaw := n.isUnread()
	s := ""
	for _, r := range n.Runs() {
		raw := d.Encoding.decode(d.Bytes[r.Start:r.End])
		s += readText([]byte(raw), isRaw)
	}
	return s
}

// Decode reads raw bytes of the page, character references resolved.
func (d *Doc) Decode(raw []byte) string { return html.UnescapeString(d.Encoding.decode(raw)) }

// Markup reads raw bytes of the page as they are written, references kept.
func (d *Doc) Markup(raw []byte) string { return d.Encoding.decode(raw) }

// Read decodes a string of the tree.
func (d *Doc) Read(s string) string { return d.decodeTree(s) }

// decodeTree decodes a string of the tree, which the parser made from undecoded bytes.
func (d *Doc) decodeTree(s string) string {
	if d.Encoding.utf8 || isASCII(s) {
		return s
	}
	return d.Encoding.decode([]byte(s))
}

func isASCII(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] >= 0x80 {
			return false
		}
	}
	return true
}

func lower(b []byte) string {
	out := make([]byte, len(b))
	for i, c := range b {
		if 'A' <= c && c <= 'Z' {
			c += 'a' - 'A'
		}
		out[i] = c
	}
	return string(out)
}
