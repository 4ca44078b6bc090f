package cache

import (
	"testing"
	"time"
)

// RFC 9111 §4.2.1 (order of max-age, s-maxage, Expires), §4.2.3 (age), §5.3 (invalid Expires means expired).
func TestFreshnessByTheStandard(t *testing.T) {
	now := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	date := "Tue, 24 Nov 2026 09:59:00 GMT"
	tests := []struct {
		name   string
		h      map[string][]string
		shared bool
		left   time.Duration
	}{
		{"max-age less age", map[string][]string{"Cache-Control": {"max-age=600"}, "Age": {"90"}, "Date": {date}}, false, 510 * time.Second},
		{"age from the date", map[string][]string{"Cache-Control": {"max-age=600"}, "Date": {date}}, false, 540 * time.Second},
		{"s-maxage for shared caches", map[string][]string{"Cache-Control": {"max-age=600, s-maxage=100"}, "Date": {date}}, true, 40 * time.Second},
		{"s-maxage is not for browsers", map[string][]string{"Cache-Control": {"max-age=600, s-maxage=100"}, "Date": {date}}, false, 540 * time.Second},
		{"max-age overrides Expires", map[string][]string{"Cache-Control": {"max-age=60"}, "Expires": {"Tue, 24 Nov 2026 11:00:00 GMT"}, "Date": {date}}, false, 0},
		{"Expires", map[string][]string{"Expires": {"Tue, 24 Nov 2026 10:01:00 GMT"}, "Date": {date}}, false, 60 * time.Second},
		{"Expires 0", map[string][]string{"Expires": {"0"}, "Date": {date}, "Last-Modified": {"Mon, 23 Nov 2026 09:59:00 GMT"}}, false, 0},
		{"no-cache", map[string][]string{"Cache-Control": {"no-cache, max-age=600"}, "Date": {date}}, false, 0},
		{"the first directive counts", map[string][]string{"Cache-Control": {"max-age=70, max-age=600"}, "Date": {date}}, false, 10 * time.Second},
		{"heuristic", map[string][]string{"Last-Modified": {"Tue, 24 Nov 2026 09:39:00 GMT"}, "Date": {date}}, false, 60 * time.Second},
	}
	for _, tt := range tests {
		if got := Read(tt.h, now, tt.shared).Left(); got != tt.left {
			t.Errorf("%s: %v, want %v", tt.name, got, tt.left)
		}
	}
}
