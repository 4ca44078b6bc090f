// Package tries says how much a test tries. What is long by nature (all pages of a corpus, a thousand races, every kind of
// server) tries a little of it in every run, and all of it where MENDRY_LONG is set, as `make test-long` does.
package tries

import (
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

// Clock is the time as tests have it: the machine's, or where MENDRY_NOW says another moment (RFC 3339) one that began
// there, so that what holds today is tried on the days on which it may not.
func Clock() time.Time { return time.Now().Add(ahead()) }

var ahead = sync.OnceValue(func() time.Duration {
	at, err := time.Parse(time.RFC3339, os.Getenv("MENDRY_NOW"))
	if err != nil {
		return 0
	}
	return time.Until(at)
})
