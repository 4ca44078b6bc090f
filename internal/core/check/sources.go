package check

import (
	"path"
	"regexp"
	"strconv"
	"strings"

	"mendry/internal/core/page"
)

// bySource gives each file of a picture the places in which a browser takes it: the first source that fits the window, or
// else the picture's own (HTML, 4.8.4.3, “Selecting an image source”). A place of which that cannot be told is left out.
func (s *Subject) bySource(own hung) []hung {
	var others []hung
	for _, other := range s.After.Sources(own.part) {
		if other.Start < own.part.Start { // what comes after it is not looked at
			others = append(others, s.ofSource(own.part, other))
		}
	}
	places := own.places
	own.places = nil
	for _, at := range places {
		to := &own
		for i := range others {
			fits, known := inWindow(others[i].media, at.At)
			if !known || fits && others[i].file.Width == 0 && others[i].media != "" {
				to = nil
				break
			}
			if fits && others[i].file.Width > 0 { // of another kind of file of the same picture is not known more
				to = &others[i]
				break
			}
		}
		if to != nil {
			to.places = append(to.places, at)
		}
	}
	all := []hung{own}
	for _, o := range others {
		if len(o.places) > 0 {
			all = append(all, o)
		}
	}
	return all
}

// ofSource is a picture as one of its sources has it.
func (s *Subject) ofSource(shown, source *page.Part) hung {
	src := largest(source)
	file, _ := s.Pictures.File(src)
	return hung{part: shown, name: path.Base(src), file: file, media: source.Attributes.Get("media")}
}

var (
	mediaType    = regexp.MustCompile(`^(?:only\s+)?(all|screen|print|speech)$`)
	mediaFeature = regexp.MustCompile(`^\(\s*(?:(min|max)-width\s*:|width\s*(<=|>=|<|>))\s*([\d.]+)(px|em|rem)\s*\)$`)
	mediaAnd     = regexp.MustCompile(`\s+and\s+`)
)

// inWindow reports whether a media query fits a window of a width in CSS pixels, and whether that can be told: of kinds
// of media and of widths it can (Media Queries 4, 2.4 and 4.1; em is 16 px, CSS Values 4, 6.1.1).
func inWindow(query string, width int) (fits, known bool) {
	if query = strings.ToLower(strings.TrimSpace(query)); query == "" {
		return true, true
	}
	known = true
	for one := range strings.SplitSeq(query, ",") {
		all := true
		for _, part := range mediaAnd.Split(strings.TrimSpace(one), -1) {
			m := mediaFeature.FindStringSubmatch(part)
			if m == nil {
				kind := mediaType.FindStringSubmatch(part)
				known = known && kind != nil
				all = all && kind != nil && (kind[1] == "all" || kind[1] == "screen")
				continue
			}
			than, err := strconv.ParseFloat(m[3], 64)
			known = known && err == nil
			if m[4] != "px" {
				than *= 16
			}
			w := float64(width)
			switch m[1] + m[2] {
			case "min", ">=":
				all = all && w >= than
			case "max", "<=":
				all = all && w <= than
			case "<":
				all = all && w < than
			case ">":
				all = all && w > than
			}
		}
		fits = fits || all
	}
	return fits, known
}
