// Package tries says how much a test tries. What is long by nature (all pages of a corpus, a thousand races, every kind of
// server) tries a little of it in every run, and all of it where MENDRY_LONG is set, as `make test-long` does.
package tries

import (
	"cmp"
	"os"
	"strconv"
	"sync"
	"time"
)

// Long reports whether everything is to be tried.
func Long() bool { return os.Getenv("MENDRY_LONG") != "" }

// Number is how often something is tried: few times, many where everything is to be tried, or as often as the
// environment says under a name of its own.
func Number(name string, few, many int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	if Long() {
		return many
	}
	return few
}

// Some reports whether the i-th of many is tried: one of every few, or each where everything is to be tried.
func Some(i, every int) bool { return Long() || i%every == 0 }

// day is when tests take place, unless MENDRY_NOW says another moment: a Tuesday on which the demo's dates are to come.
// The browser's tests have the same (e2e/demo.ts).
const day = "2026-12-01T10:00:00Z"

// Clock is the time as tests have it. It begins at a moment (RFC 3339) that is the same whenever they are run, so that no
// test holds today and falls on another day; MENDRY_NOW tries another one.
func Clock() time.Time { return time.Now().Add(ahead()) }

var ahead = sync.OnceValue(func() time.Duration {
	at, err := time.Parse(time.RFC3339, cmp.Or(os.Getenv("MENDRY_NOW"), day))
	if err != nil {
		panic("MENDRY_NOW: " + err.Error())
	}
	return time.Until(at)
})
