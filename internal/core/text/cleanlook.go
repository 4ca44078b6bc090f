package text

import (
	"net/url"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"
)

// look is what a style attribute says that words should keep, or that they are not what their element says.
type look struct {
	marks          []string
	plain, upright bool
}

var declaration = regexp.MustCompile(`(?i)(font-weight|font-style|font|text-decoration(?:-line)?|vertical-align)\s*:\s*([^;]+)`)

// attributes counts what an element loses and reads its style.
func (c *cleaner) attributes(n *html.Node) (l look) {
	for _, a := range n.Attr {
		switch {
		case a.Key == "style":
			c.drop("style attribute")
			for _, m := range declaration.FindAllStringSubmatch(a.Val, -1) {
				l.read(strings.ToLower(m[1]), strings.ToLower(strings.TrimSpace(m[2])))
			}
		case a.Key == "class":
			c.drop("class attribute")
		case strings.HasPrefix(a.Key, "on"):
			c.drop("event handler")
		case a.Key == "lang" && c.foreign(n), a.Key == "dir" && c.turned(n), a.Key == "title" && (n.Data == "abbr" || n.Data == "acronym"):
		case a.Key == "href" || a.Key == "src" || a.Key == "title" && n.Data == "a" || a.Key == "colspan" || a.Key == "rowspan":
		case strings.HasPrefix(a.Key, "data-"):
			c.drop("data attribute")
		case a.Key == "id" || a.Key == "name":
			c.drop("anchor")
		default:
			c.drop("other attribute")
		}
	}
	return l
}

func (l *look) read(name, value string) {
	weight, _ := strconv.Atoi(value)
	switch {
	case name == "font-weight" && (strings.HasPrefix(value, "bold") || weight >= 600):
		l.marks = append(l.marks, "strong")
	case name == "font-weight":
		l.plain = true
	case name == "font-style" && (strings.HasPrefix(value, "italic") || strings.HasPrefix(value, "oblique")):
		l.marks = append(l.marks, "em")
	case name == "font-style":
		l.upright = true
	case strings.HasPrefix(name, "text-decoration") && strings.Contains(value, "underline"):
		l.marks = append(l.marks, "u")
	case strings.HasPrefix(name, "text-decoration") && strings.Contains(value, "line-through"):
		l.marks = append(l.marks, "s")
	case name == "font":
		for _, word := range strings.Fields(value) {
			if n, _ := strconv.Atoi(word); word == "bold" || word == "bolder" || n >= 600 && n <= 900 {
				l.marks = append(l.marks, "strong")
			} else if word == "italic" || word == "oblique" {
				l.marks = append(l.marks, "em")
			}
		}
	case name == "vertical-align" && value == "super":
		l.marks = append(l.marks, "sup")
	case name == "vertical-align" && value == "sub":
		l.marks = append(l.marks, "sub")
	}
}

// tracking are parameters that tell who followed a link and from where (common practice, no source).
var tracking = regexp.MustCompile(`(?i)^(utm_.*|fbclid|gclid|dclid|gbraid|wbraid|msclkid|mc_[ce]id|mkt_tok|igshid|yclid|_hs(enc|mi)|vero_(id|conv)|oly_(anon|enc)_id|ref_src)$`)

// href cleans an address: one that a visitor cannot follow is left out, tracking is taken off.
func (c *cleaner) href(s string) (string, bool) {
	s = strings.TrimSpace(s)
	if s == "" {
		return "", false
	}
	u, err := url.Parse(s)
	if err != nil {
		c.drop("broken link")
		return "", false
	}
	switch strings.ToLower(u.Scheme) {
	case "", "http", "https", "mailto", "tel":
	default:
		c.drop("link that leads nowhere")
		return "", false
	}
	if to := straight(u); to != "" {
		c.drop("detour in a link")
		return c.href(to)
	}
	if u.RawQuery == "" {
		return s, true
	}
	var keep []string
	for _, p := range strings.Split(u.RawQuery, "&") {
		name, _, _ := strings.Cut(p, "=")
		if tracking.MatchString(name) {
			c.drop("tracking in a link")
			continue
		}
		keep = append(keep, p)
	}
	u.RawQuery = strings.Join(keep, "&")
	return u.String(), true
}
