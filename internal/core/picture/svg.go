package picture

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// ofSVG reads how large a drawing is drawn.
func ofSVG(b []byte, i *Info) {
	i.Width, i.Height = drawnSize(b)
	i.Alpha = true
}

// drawn are the elements of a drawing that draw, or say how; everything else is left out: what runs, fetches, or holds
// HTML (SVG 2, chapter 5 to 16; SMIL's elements move only what attributes of a drawing say).
var drawn = set(
	`svg g defs symbol use title desc metadata path rect circle ellipse line polyline polygon text tspan textPath
	linearGradient radialGradient stop pattern clipPath mask marker image switch style filter feBlend feColorMatrix
	feComponentTransfer feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap feDistantLight feDropShadow feFlood
	feFuncA feFuncB feFuncG feFuncR feGaussianBlur feImage feMerge feMergeNode feMorphology feOffset fePointLight
	feSpecularLighting feSpotLight feTile feTurbulence a view animate animateMotion animateTransform mpath`,
)

func set(words string) map[string]bool {
	all := map[string]bool{}
	for _, w := range strings.Fields(words) {
		all[w] = true
	}
	return all
}

// within is a reference that stays in the drawing, or a picture with points that stands in it as data.
var within = regexp.MustCompile(`(?i)^\s*(?:#|data:image/(?:png|jpe?g|gif|webp);base64,)`)

// outside is what in a style leads out of the drawing, or ran in browsers that were.
var outside = regexp.MustCompile(
	`(?i)@import|expression\s*\(|javascript:|behavior\s*:|-moz-binding|\\|url\(\s*["']?\s*[^#"'\s)d]|url\(\s*["']?\s*d(?:[^a]|a[^t])`,
)

// CleanSVG takes out of a drawing what runs, fetches or tells of whoever drew it; the rest stays byte for byte.
// dropped says what it was. The error is a *refusal.Refusal.
func CleanSVG(b []byte) (out []byte, dropped []string, err error) {
	b = bytes.TrimPrefix(b, []byte("\ufeff"))
	d := xml.NewDecoder(bytes.NewReader(b))
	d.CharsetReader = func(label string, r io.Reader) (io.Reader, error) {
		if strings.EqualFold(label, "us-ascii") || strings.EqualFold(label, "iso-8859-1") {
			return r, nil // offsets stay; letters are copied as they are
		}
		return nil, errors.New(label)
	}
	gone := map[string]bool{}
	skip, depth, seen := 0, 0, false // skip: how deep inside of something that is left out
	style, styled := -1, []byte{}    // where the words of a style begin in out, and what they are together
	for {
		from := d.InputOffset()
		t, err := d.RawToken()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, nil, refuse(
				"The drawing is broken, or uses what Mendry does not read in drawings. Save it as plain SVG and send it again.",
			)
		}
		raw := b[from:d.InputOffset()]
		switch t := t.(type) {
		case xml.StartElement:
			if depth++; depth > deepest {
				return nil, nil, refuse("The drawing is nested more than %d deep. Save it as plain SVG and send it again.", deepest)
			}
			if skip > 0 {
				skip++
				continue
			}
			if !drawn[t.Name.Local] || t.Name.Space != "" && t.Name.Space != "svg" {
				gone[named(t.Name)] = true
				skip = 1
				continue
			}
			seen = seen || t.Name.Local == "svg"
			out = append(out, cleanStart(t, raw, gone)...)
			if t.Name.Local == "style" && style < 0 {
				style, styled = len(out), nil
			}
			continue
		case xml.EndElement:
			if depth--; skip > 0 {
				skip--
				continue
			}
			if t.Name.Local == "style" && style >= 0 {
				if outside.Match(styled) {
					out = append(out[:style], escapedStyle.Replace(string(withinOnly(styled)))...)
					gone["styles that lead outside"] = true
				}
				style = -1
			}
		case xml.CharData:
			if skip == 0 && style >= 0 {
				styled = append(styled, t...)
			}
		case xml.ProcInst:
			if t.Target != "xml" {
				gone["an instruction to programs"] = true
				continue
			}
		case xml.Directive, xml.Comment:
			if _, comment := t.(xml.Comment); !comment {
				gone["a document type"] = true
			}
			continue
		}
		if skip == 0 {
			out = append(out, raw...)
		}
	}
	if !seen || depth != 0 {
		return nil, nil, refuse("The drawing breaks off. Send it again.")
	}
	return out, slices.Sorted(maps.Keys(gone)), nil
}

// deepest is how deep the elements of a drawing may be nested: browsers' parsers stop at 256 or 512.
const deepest = 256

func named(n xml.Name) string {
	if n.Space != "" {
		return n.Space + ":" + n.Local
	}
	return n.Local
}

// cleanStart is a start tag without what runs or leads outside; raw is it as it stands.
func cleanStart(t xml.StartElement, raw []byte, gone map[string]bool) []byte {
	kept := slices.DeleteFunc(slices.Clone(t.Attr), func(a xml.Attr) bool {
		name := strings.ToLower(a.Name.Local)
		runs := strings.HasPrefix(name, "on")
		leads := name == "href" && !within.MatchString(a.Value) && t.Name.Local != "a"
		follows := name == "href" && t.Name.Local == "a" && !followed.MatchString(strings.TrimSpace(a.Value))
		moves := name == "attributename" && !mayMove.MatchString(a.Value)
		styles := (name == "style" || strings.Contains(a.Value, "url(")) && outside.MatchString(a.Value)
		base := a.Name.Space == "xml" && name == "base" || name == "src" || name == "srcdoc"
		// Programs for drawing leave names of theirs, with paths of files on somebody's machine.
		theirs := a.Name.Space != "" && a.Name.Space != "xlink" && a.Name.Space != "xml" && a.Name.Space != "xmlns"
		switch {
		case runs, leads, follows, moves, styles, base:
			gone[name+" on "+named(t.Name)] = true
			return true
		case theirs:
			gone["what a drawing program left"] = true
			return true
		}
		return false
	})
	if len(kept) == len(t.Attr) {
		return raw
	}
	var out bytes.Buffer
	out.WriteString("<" + named(t.Name))
	for _, a := range kept {
		out.WriteString(" " + named(a.Name) + `="`)
		_ = xml.EscapeText(&out, []byte(a.Value)) // a buffer takes everything
		out.WriteString(`"`)
	}
	if bytes.HasSuffix(raw, []byte("/>")) {
		out.WriteString("/")
	}
	out.WriteString(">")
	return out.Bytes()
}

// followed is an address that a visitor may be led to.
var followed = regexp.MustCompile(`(?i)^(?:https?:|mailto:|tel:|#|\.{0,2}/|[\w-]+(?:[./?#]|$))`)

// mayMove is an attribute that may be moved: no address, nothing that runs.
var mayMove = regexp.MustCompile(
	`(?i)^(?:x|y|x1|x2|y1|y2|cx|cy|r|rx|ry|d|points|width|height|transform|opacity|offset|fill|stroke|fill-opacity|stroke-opacity|stroke-width|stroke-dashoffset|stroke-dasharray|visibility|display|stop-color|stop-opacity|viewBox)$`,
)

// drawnSize is how large a drawing is drawn where nothing else says so: its width and height in CSS pixels, or those
// of its view box (SVG 2, 8.2); 0 where it says neither.
func drawnSize(b []byte) (w, h int) {
	d := xml.NewDecoder(io.LimitReader(bytes.NewReader(b), 1<<20))
	d.Strict = false
	for {
		t, err := d.Token()
		if err != nil {
			return 0, 0
		}
		e, ok := t.(xml.StartElement)
		if !ok {
			continue
		}
		var box []string
		for _, a := range e.Attr {
			switch a.Name.Local {
			case "width":
				w = pixels(a.Value)
			case "height":
				h = pixels(a.Value)
			case "viewBox":
				box = strings.FieldsFunc(
					a.Value,
					func(r rune) bool { return r == ',' || r == ' ' || r == '\n' || r == '\t' },
				)
			}
		}
		if (w == 0 || h == 0) && len(box) == 4 {
			w, h = pixels(box[2]), pixels(box[3])
		}
		return w, h
	}
}

// units are lengths of CSS in pixels (CSS Values 4, 6.2).
var units = map[string]float64{"": 1, "px": 1, "pt": 96. / 72, "pc": 16, "in": 96, "cm": 96 / 2.54, "mm": 96 / 25.4}

func pixels(s string) int {
	s = strings.TrimSpace(s)
	n := strings.TrimRight(s, "abcdefghijklmnopqrstuvwxyz%")
	v, err := strconv.ParseFloat(n, 64)
	by, known := units[s[len(n):]]
	if err != nil || !known || v <= 0 || v > 100_000 {
		return 0
	}
	return int(v*by + 0.5)
}
