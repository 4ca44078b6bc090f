package source

import (
	"bytes"
	"strings"

	"go.yaml.in/yaml/v4"
)

// Scalar is a value in front matter: what it says, and the bytes that say it.
type Scalar struct {
	Value string
	Span
	// Plain says that the value stands on one line, unquoted or in quotes, so that it can be written anew.
	Plain bool
}

// readFront reads the front matter once, as its keys and values in turn.
func (d *Doc) readFront() {
	var root yaml.Node
	if yaml.Unmarshal(d.Bytes[d.Front.Start:d.Front.End], &root) == nil && len(root.Content) > 0 && root.Content[0].Kind == yaml.MappingNode {
		d.front = root.Content[0].Content
	}
}

// FrontScalar finds the value of a key at the top of the front matter (YAML 1.2).
func (d *Doc) FrontScalar(key string) (Scalar, bool) {
	front, pairs := d.Bytes[d.Front.Start:d.Front.End], d.front
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i].Value != key || pairs[i+1].Kind != yaml.ScalarNode {
			continue
		}
		v := pairs[i+1]
		s := Scalar{Value: v.Value}
		start := offset(front, v.Line, v.Column)
		if start < 0 {
			return s, true
		}
		line := front[start:]
		if j := bytes.IndexByte(line, '\n'); j >= 0 {
			line = line[:j]
		}
		line = bytes.TrimRight(line, " \t\r")
		n := scalarLength(line)
		s.Span = Span{d.Front.Start + start, d.Front.Start + start + n}
		var again yaml.Node
		s.Plain = n > 0 && yaml.Unmarshal(line[:n], &again) == nil && len(again.Content) == 1 && again.Content[0].Value == v.Value
		return s, true
	}
	return Scalar{}, false
}

// FrontLine finds the line on which a key stands at the top of the front matter, with its line end.
func (d *Doc) FrontLine(key string) (Span, bool) {
	for i := 0; i+1 < len(d.front); i += 2 {
		if d.front[i].Value != key {
			continue
		}
		front := d.Bytes[d.Front.Start:d.Front.End]
		start := offset(front, d.front[i].Line, 1)
		if start < 0 {
			return Span{}, false
		}
		end := len(front)
		if j := bytes.IndexByte(front[start:], '\n'); j >= 0 {
			end = start + j + 1
		}
		return Span{d.Front.Start + start, d.Front.Start + end}, true
	}
	return Span{}, false
}

// offset is the byte offset of a line and column, both counted from one; columns count signs.
func offset(b []byte, line, column int) int {
	at := 0
	for ; line > 1; line-- {
		i := bytes.IndexByte(b[at:], '\n')
		if i < 0 {
			return -1
		}
		at += i + 1
	}
	for _, r := range string(b[at:]) {
		if column <= 1 {
			return at
		}
		column--
		at += len(string(r))
	}
	if column <= 1 {
		return at
	}
	return -1
}

// scalarLength is the length of the scalar at the beginning of a line, without a comment behind it.
func scalarLength(line []byte) int {
	if len(line) == 0 {
		return 0
	}
	switch q := line[0]; q {
	case '"', '\'':
		for i := 1; i < len(line); i++ {
			switch {
			case q == '"' && line[i] == '\\':
				i++
			case line[i] == q && q == '\'' && i+1 < len(line) && line[i+1] == q:
				i++
			case line[i] == q:
				return i + 1
			}
		}
		return 0
	case '|', '>', '&', '*', '!':
		return 0
	}
	if i := bytes.Index(line, []byte(" #")); i >= 0 {
		line = bytes.TrimRight(line[:i], " \t")
	}
	return len(line)
}

// ScalarOf writes a value as YAML, in the quotes that like has, or in none where it needs none.
func ScalarOf(value string, like []byte) string {
	single := "'" + strings.ReplaceAll(value, "'", "''") + "'"
	double := `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", `\n`, "\t", `\t`).Replace(value) + `"`
	switch {
	case strings.ContainsAny(value, "\n\t"), len(like) > 0 && like[0] == '"':
		return double
	case len(like) > 0 && like[0] == '\'':
		return single
	}
	var back yaml.Node
	if value != "" && yaml.Unmarshal([]byte("k: "+value), &back) == nil && len(back.Content) == 1 && len(back.Content[0].Content) == 2 {
		if v := back.Content[0].Content[1]; v.Kind == yaml.ScalarNode && v.Value == value && v.ShortTag() == "!!str" && v.LineComment == "" {
			return value
		}
	}
	return double
}
