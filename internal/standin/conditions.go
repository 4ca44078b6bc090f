package standin

import (
	"regexp"
	"strings"
)

// state is one condition of an If header: a lock token or an entity tag, or that there is no such.
type state struct {
	not   bool
	token string
	tag   string
}

var stateInIf = regexp.MustCompile(`(?i)(\bnot\s+)?(?:<([^>]*)>|\[((?:W/)?"[^"]*")\])`)

// conditions are the lists of an If header (RFC 4918, 10.4); resource tags are left out, since a write is to one
// resource.
func conditions(header string) (lists [][]state) {
	for _, part := range strings.Split(header, "(")[1:] {
		part, _, _ = strings.Cut(part, ")")
		var list []state
		for _, m := range stateInIf.FindAllStringSubmatch(part, -1) {
			list = append(list, state{m[1] != "", m[2], m[3]})
		}
		lists = append(lists, list)
	}
	return lists
}

// holds reports whether one of the lists holds, and the lock tokens of those that do.
func holds(lists [][]state, tag string, locked func(token string) bool) (tokens []string, ok bool) {
	for _, list := range lists {
		all := len(list) > 0
		var of []string
		for _, s := range list {
			is := s.tag != "" && s.tag == tag || s.token != "" && locked(s.token)
			if is == s.not {
				all = false
			}
			if is && s.token != "" {
				of = append(of, s.token)
			}
		}
		if all {
			tokens, ok = append(tokens, of...), true
		}
	}
	return tokens, ok
}
