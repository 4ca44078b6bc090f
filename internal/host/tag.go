package host

import "strings"

// strong reads an entity tag (RFC 9110, 8.8.3) as a write can depend on it: a weak one, and one to which a server has
// added how it packed the answer (Apache's mod_deflate: "…-gzip", others: "…;gzip"), is none. weak says that there was
// one.
func strong(tag string) (s string, weak bool) {
	tag = strings.TrimSpace(tag)
	inner, whole := strings.CutPrefix(tag, `"`)
	inner, closed := strings.CutSuffix(inner, `"`)
	if !whole || !closed || strings.Contains(inner, `"`) {
		return "", tag != ""
	}
	for _, packed := range []string{"-gzip", "-br", "-deflate", "-zstd", ";gzip", ";br", "--gzip"} {
		if strings.HasSuffix(inner, packed) {
			return "", true
		}
	}
	return tag, false
}
