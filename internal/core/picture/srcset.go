package picture

import (
	"strconv"
	"strings"
)

// Candidate is a file that a browser may choose, of those in a srcset attribute: by the width of the file in pixels,
// or by how dense the screen is.
type Candidate struct {
	URL     string
	Width   int     // of the file, in pixels; 0 where Density says which
	Density float64 // 0 where Width says which; 1 where neither is written
}

// ReadSrcset reads the value of a srcset attribute (HTML, 4.8.4.2.1 and "parse a srcset attribute"). What is no
// candidate is left out.
func ReadSrcset(s string) (all []Candidate) {
	const blank = " \t\r\n\f"
	for {
		s = strings.TrimLeft(s, blank+",")
		if s == "" {
			return all
		}
		end := strings.IndexAny(s, blank)
		if end < 0 {
			end = len(s)
		}
		c := Candidate{URL: s[:end], Density: 1}
		s = s[end:]
		if bare := strings.TrimRight(c.URL, ","); bare != c.URL {
			c.URL = bare
			all = append(all, c)
			continue
		}
		rest, deep := len(s), 0
		for i, r := range s {
			switch {
			case r == '(':
				deep++
			case r == ')' && deep > 0:
				deep--
			}
			if r == ',' && deep == 0 {
				rest = i
				break
			}
		}
		if c.describe(s[:rest]) && c.URL != "" {
			all = append(all, c)
		}
		s = s[rest:]
	}
}

// describe reads the descriptors of a candidate, and reports whether they make sense.
func (c *Candidate) describe(s string) bool {
	for _, d := range strings.Fields(s) {
		n, unit := d[:len(d)-1], d[len(d)-1]
		switch v, err := strconv.ParseFloat(n, 64); {
		case err != nil || v <= 0:
			return false
		case unit == 'w' && v == float64(int(v)):
			c.Width, c.Density = int(v), 0
		case unit == 'x':
			c.Density = v
		case unit != 'h':
			return false
		}
	}
	return true
}

// WriteSrcset writes the value of a srcset attribute.
func WriteSrcset(all []Candidate) string {
	var parts []string
	for _, c := range all {
		switch {
		case c.Width > 0:
			parts = append(parts, c.URL+" "+strconv.Itoa(c.Width)+"w")
		case c.Density != 1:
			parts = append(parts, c.URL+" "+strconv.FormatFloat(c.Density, 'g', -1, 64)+"x")
		default:
			parts = append(parts, c.URL)
		}
	}
	return strings.Join(parts, ", ")
}
