// Package cache tells why a visitor may not yet see a page as the host now has it (RFC 9111, HTTP Caching).
package cache

import (
	"net/textproto"
	"strconv"
	"strings"
	"time"
)

// Answer is what the head of a response says of its age. All durations are in whole seconds, as the standard counts.
type Answer struct {
	Age      time.Duration // how long a cache has held it (§4.2.3)
	Lifetime time.Duration // how long it counts as fresh (§4.2.1)
	Stored   bool          // it came out of a cache
	NoStore  bool
}

// Left is how long caches may still give out this answer without asking the host; 0 where they must ask.
func (a Answer) Left() time.Duration { return max(0, a.Lifetime-a.Age) }

// Read reads the head of a response that was received at now. shared is true for a cache that serves many visitors.
func Read(h map[string][]string, now time.Time, shared bool) Answer {
	get := textproto.MIMEHeader(h).Get
	cc := directives(strings.Join(textproto.MIMEHeader(h).Values("Cache-Control"), ","))
	var a Answer
	date, err := parseDate(get("Date"))
	if err != nil {
		date = now
	}
	if age, ok := seconds(get("Age")); ok {
		a.Age, a.Stored = age, true
	}
	a.Age = max(a.Age, now.Sub(date).Truncate(time.Second), 0) // apparent_age (§4.2.3)
	_, a.NoStore = cc["no-store"]
	if _, ok := cc["no-cache"]; ok || a.NoStore {
		return a
	}
	if s, ok := seconds(cc["s-maxage"]); ok && shared {
		a.Lifetime = s
		return a
	}
	if s, ok := seconds(cc["max-age"]); ok {
		a.Lifetime = s
		return a
	}
	if v := get("Expires"); v != "" {
		if at, err := parseDate(v); err == nil { // an invalid date, "0" above all, means already stale (§5.3)
			a.Lifetime = max(0, at.Sub(date))
		}
		return a
	}
	if at, err := parseDate(get("Last-Modified")); err == nil && date.After(at) { // heuristic (§4.2.2): a tenth of its age
		a.Lifetime = date.Sub(at) / 10
	}
	return a
}

func parseDate(s string) (time.Time, error) {
	return time.Parse("Mon, 02 Jan 2006 15:04:05 GMT", s)
}

func seconds(s string) (time.Duration, bool) {
	n, err := strconv.ParseInt(strings.TrimSpace(s), 10, 32)
	if err != nil || n < 0 {
		return 0, false
	}
	return time.Duration(n) * time.Second, true
}

func directives(s string) map[string]string {
	m := map[string]string{}
	for _, d := range strings.Split(s, ",") {
		name, value, _ := strings.Cut(strings.TrimSpace(d), "=")
		if name = strings.ToLower(name); name != "" {
			if _, seen := m[name]; !seen { // the first one counts (§4.2.1)
				m[name] = strings.Trim(value, `"`)
			}
		}
	}
	return m
}
