package style

import (
	"regexp"
	"strings"
)

// sideName is what sites call the classes that lay pictures among words (common practice, no source).
var sideName = regexp.MustCompile(
	`(?i)(?:^|[-_]|align|float|pull|img|pic|picture|figure)(left|right|cent(?:er|re)d?|middle)(?:$|[-_])`,
)

// Sides are the site's own classes that lay a picture at the left, at the right or in the centre, by their names and by
// what they say: float (CSS 2, 9.5), or margins that are the same at both sides.
func (s *Sheet) Sides() map[string]string {
	sides := map[string]string{}
	for _, r := range s.rules {
		m := sideName.FindStringSubmatch(r.class)
		if m == nil || r.tag != "" && r.tag != "figure" {
			continue
		}
		side := strings.ToLower(m[1])
		if side != "left" && side != "right" {
			side = "centre"
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
