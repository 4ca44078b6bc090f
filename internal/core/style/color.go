package style

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/image/colornames"
	"golang.org/x/net/html"
)

// Color is an sRGB colour. A is 1 where nothing shines through.
type Color struct {
	R, G, B uint8
	A       float64
}

// String writes c as CSS does, without its A.
func (c Color) String() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

var function = regexp.MustCompile(`^(rgb|hsl)a?\(([^()]*)\)$`)

// color reads a colour (CSS Color Level 4: names, hexadecimal, rgb() and hsl()).
func (s *Sheet) color(value string) (Color, bool) {
	value = strings.ToLower(strings.TrimSpace(value))
	for range 5 { // custom properties that stand for each other
		name, ok := strings.CutPrefix(value, "var(")
		if !ok || s.vars == nil {
			break
		}
		name, fallback, _ := strings.Cut(strings.TrimSuffix(name, ")"), ",")
		if value = strings.ToLower(s.vars[strings.TrimSpace(name)]); value == "" {
			value = strings.TrimSpace(fallback)
		}
	}
	if value == "transparent" {
		return Color{}, true
	}
	if c, ok := colornames.Map[value]; ok {
		return Color{c.R, c.G, c.B, 1}, true
	}
	if strings.HasPrefix(value, "#") {
		return hexadecimal(value[1:])
	}
	if m := function.FindStringSubmatch(value); m != nil {
		return functional(m[1], strings.FieldsFunc(m[2], func(r rune) bool { return r == ' ' || r == ',' || r == '/' }))
	}
	return Color{}, false
}

func hexadecimal(s string) (Color, bool) {
	if len(s) == 3 || len(s) == 4 {
		long := ""
		for _, r := range s {
			long += string(r) + string(r)
		}
		s = long
	}
	if len(s) == 6 {
		s += "ff"
	}
	n, err := strconv.ParseUint(s, 16, 32)
	if err != nil || len(s) != 8 {
		return Color{}, false
	}
	return Color{uint8(n >> 24), uint8(n >> 16), uint8(n >> 8), float64(n&255) / 255}, true
}

func functional(name string, values []string) (c Color, ok bool) {
	if len(values) < 3 || len(values) > 4 {
		return c, false
	}
	var n [4]float64
	n[3] = 1
	for i, v := range values {
		number, percent := strings.CutSuffix(v, "%")
		f, err := strconv.ParseFloat(strings.TrimSuffix(number, "deg"), 64)
		if err != nil || math.IsNaN(f) || math.IsInf(f, 0) {
			return c, false
		}
		switch {
		case percent && i == 3, percent && name == "hsl":
			f /= 100
		case percent:
			f *= 2.55
		}
		n[i] = f
	}
	if name == "hsl" {
		n[0], n[1], n[2] = fromHSL(n[0], n[1], n[2])
	}
	byte := func(f float64) uint8 { return uint8(math.Round(min(max(f, 0), 255))) }
	return Color{byte(n[0]), byte(n[1]), byte(n[2]), min(max(n[3], 0), 1)}, true
}

// fromHSL is CSS Color Level 4, 7.1.
func fromHSL(hue, saturation, light float64) (r, g, b float64) {
	f := func(n float64) float64 {
		k := math.Mod(n+hue/30, 12)
		if k < 0 {
			k += 12
		}
		a := saturation * min(light, 1-light)
		return 255 * (light - a*max(-1, min(k-3, 9-k, 1)))
	}
	return f(0), f(8), f(4)
}

// over is c seen on top of behind.
func (c Color) over(behind Color) Color {
	mix := func(a, b uint8) uint8 { return uint8(math.Round(float64(a)*c.A + float64(b)*(1-c.A))) }
	return Color{mix(c.R, behind.R), mix(c.G, behind.G), mix(c.B, behind.B), 1}
}

// luminance is the relative luminance of WCAG 2.2.
func (c Color) luminance() float64 {
	channel := func(v uint8) float64 {
		f := float64(v) / 255
		if f <= 0.04045 {
			return f / 12.92
		}
		return math.Pow((f+0.055)/1.055, 2.4)
	}
	return 0.2126*channel(c.R) + 0.7152*channel(c.G) + 0.0722*channel(c.B)
}

// Contrast is the contrast ratio of two colours, 1 to 21 (WCAG 2.2).
func Contrast(a, b Color) float64 {
	x, y := a.luminance(), b.luminance()
	if x < y {
		x, y = y, x
	}
	return (x + 0.05) / (y + 0.05)
}

var (
	black = Color{0, 0, 0, 1}
	white = Color{255, 255, 255, 1}
)

// Words tells the colours of a node's words and of what is behind them. ok is false where that cannot be told: a
// picture behind them, or a colour that is worked out in the browser.
func (s *Sheet) Words(n *html.Node) (words, behind Color, ok bool) {
	words, behind = black, white
	found := false
	var layers []Color
	for p := n; p != nil && p.Type == html.ElementNode; p = p.Parent {
		if v := s.Own(p, "color"); v != "" && !found && v != "inherit" {
			if words, ok = s.color(s.meant(p, v)); !ok {
				return words, behind, false
			}
			found = true
		}
		if len(layers) > 0 && layers[len(layers)-1].A == 1 {
			continue
		}
		if v := s.meant(p, s.Own(p, "background-image")); v != "" && v != "none" {
			return words, behind, false
		}
		if v := s.Own(p, "background-color"); v != "" && v != "inherit" {
			c, ok := s.color(s.meant(p, v))
			if !ok {
				return words, behind, false
			}
			layers = append(layers, c)
		}
	}
	for i := len(layers) - 1; i >= 0; i-- {
		behind = layers[i].over(behind)
	}
	return words.over(behind), behind, true
}

// size tells a size of letters beside that of the words around.
func size(value string) string {
	n, unit := 0.0, ""
	for _, u := range []string{"rem", "em", "%", "px"} {
		if number, ok := strings.CutSuffix(value, u); ok {
			f, err := strconv.ParseFloat(number, 64)
			if err == nil {
				n, unit = f, u
			}
			break
		}
	}
	switch unit {
	case "%":
		n /= 100
	case "px":
		n /= 16
	case "":
		return map[string]string{"larger": "larger", "smaller": "smaller", "large": "larger", "x-large": "much larger", "small": "smaller", "x-small": "much smaller"}[value]
	}
	switch {
	case n > 1.5:
		return "much larger"
	case n > 1:
		return "larger"
	case n < 0.75:
		return "much smaller"
	case n < 1:
		return "smaller"
	}
	return ""
}
