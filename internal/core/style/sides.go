package style

import (
	"regexp"
	"strings"
)

// sideName is what sites call the classes that lay pictures among words (common practice, no source).
var sideName = regexp.MustCompile(
	`(?i)(?:^|[-_]|align|float|pull|img|pic|picture|figure)(left|right|cent(?:er|re)d?|middle)(?:$|[-_])`,
)

// Side is the side that a class lays a picture at, by its name; empty where it says none.
func Side(class string) string {
	m := sideName.FindStringSubmatch(class)
	if m == nil {
		return ""
	}
	if side := strings.ToLower(m[1]); side == "left" || side == "right" {
		return side
	}
	return "centre"
}

// Sides are the site's own classes that lay a picture at the left, at the right or in the centre, by their names and
// by what they say: float (CSS 2, 9.5), or margins that are the same at both sides.
func (s *Sheet) Sides() map[string]string {
	sides := map[string]string{}
	for _, r := range s.rules {
		side := Side(r.class)
		if side == "" || r.tag != "" && r.tag != "figure" {
			continue
		}
		margin := strings.Fields(r.says["margin"])
		centred := len(margin) > 1 && margin[1] == "auto" ||
			r.says["margin-left"] == "auto" && r.says["margin-right"] == "auto"
		if sides[side] == "" && (r.says["float"] == side || side == "centre" && centred) {
			sides[side] = r.class
		}
	}
	return sides
}
