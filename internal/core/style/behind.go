package style

import (
	"regexp"
	"strings"

	"golang.org/x/net/html"
)

// Behind is a picture that a style sheet puts behind a node.
type Behind struct {
	Src   string // as the sheet names it
	Sheet string // the sheet's public path; empty for a style element of the page
	value string // the layers of the background that are pictures (CSS Backgrounds 3, 2)
}

var inURL = regexp.MustCompile(`(?i)url\(\s*(?:"([^"]*)"|'([^']*)'|([^"')\s]*))\s*\)`)

// Behind tells which picture the sheets put behind a node. What its style attribute names is another matter: then, and
// where there is none, it reports false.
func (s *Sheet) Behind(n *html.Node) (b Behind, ok bool) {
	for _, a := range n.Attr {
		if a.Key == "style" && strings.Contains(strings.ToLower(a.Val), "background") {
			for _, d := range Declarations(a.Val) {
				if d.Property == "background" || d.Property == "background-image" {
					return b, false
				}
			}
		}
	}
	said := s.cascaded(n, "background-image")
	var layers []string
	for _, layer := range split(said.value) {
		if image := imageOf(layer); image != "" {
			layers = append(layers, image)
		}
	}
	b = Behind{Sheet: said.from, value: strings.Join(layers, ", ")}
	m := inURL.FindStringSubmatch(b.value)
	if m == nil {
		return b, false
	}
	b.Src = m[1] + m[2] + m[3]
	return b, b.Src != "" && !strings.HasPrefix(strings.ToLower(b.Src), "data:")
}

// PutsBehind reports whether the sheets put a picture behind anything.
func (s *Sheet) PutsBehind() bool {
	for _, i := range s.by["background-image"] {
		if inURL.MatchString(s.rules[i].says["background-image"]) {
			return true
		}
	}
	return false
}

// Image is the value of background-image with another picture in the place of the first; address gives the addresses
// of those that stay, as they are named from the page.
func (b Behind) Image(src string, address func(string) string) string {
	first := true
	return inURL.ReplaceAllStringFunc(b.value, func(whole string) string {
		to := src
		if !first {
			m := inURL.FindStringSubmatch(whole)
			to = address(m[1] + m[2] + m[3])
		}
		first = false
		return `url('` + inQuotes.Replace(to) + `')`
	})
}

// Filling are declarations that put a picture behind an element, so that it fills it from the middle (CSS Backgrounds
// 3, 2).
func Filling(src string) string {
	return "background-image:url('" + inQuotes.Replace(src) + "');background-size:cover;background-position:center"
}

var inQuotes = strings.NewReplacer(`'`, "%27", `"`, "%22", `\`, "%5C", "\n", "", ";", "%3B")

// split splits the layers of a background, or the values of a list, at their commas.
func split(value string) (layers []string) {
	depth, start := 0, 0
	var quoted rune
	for i, c := range value {
		switch {
		case quoted != 0:
			if c == quoted {
				quoted = 0
			}
		case c == '"' || c == '\'':
			quoted = c
		case c == '(':
			depth++
		case c == ')':
			depth--
		case c == ',' && depth == 0:
			layers, start = append(layers, value[start:i]), i+1
		}
	}
	return append(layers, value[start:])
}

var gradient = regexp.MustCompile(`(?i)(?:repeating-)?(?:linear|radial|conic)-gradient\(`)

// imageOf is the picture or the gradient in a layer of a background.
func imageOf(layer string) string {
	if m := inURL.FindString(layer); m != "" {
		return m
	}
	at := gradient.FindStringIndex(layer)
	if at == nil {
		return ""
	}
	depth := 0
	for i, c := range layer[at[0]:] {
		switch c {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				return layer[at[0] : at[0]+i+1]
			}
		}
	}
	return ""
}
