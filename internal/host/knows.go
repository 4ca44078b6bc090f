package host

import (
	"crypto/rand"
	"strings"
)

// Knows is what was found out about a host with files of Mendry's own.
type Knows struct {
	MayWrite    bool   `json:"may_write"`
	WhyNot      string `json:"why_not,omitempty"` // in words, where it may not
	Conditional bool   `json:"conditional"`       // a write over what was changed meanwhile is refused (RFC 9110, 13.1)
	Locks       bool   `json:"locks"`             // a file can be held against others (RFC 4918, 6)
	Whole       bool   `json:"whole"`             // a file is replaced in one step
	Beside      bool   `json:"beside"`            // what others wrote into a file while it was replaced is kept and found
	Key         string `json:"key,omitempty"`     // by which the host is known (known_hosts)
	Left        string `json:"left,omitempty"`    // what of Mendry's own could not be taken away again
}

// ofWriting tells what keeps Mendry from writing on a host that lets it in, from what is wrong with reaching the host.
// That somebody holds its folder just now tells nothing of the host.
func ofWriting(err error) bool {
	for _, k := range []Kind{Forbidden, Full, Broken, Odd, Gone, Torn, Changed} {
		if Is(err, k) {
			return true
		}
	}
	return false
}

// tryName is a name of Mendry's own for what it tries on a host.
func tryName() string { return "mendry-try-" + strings.ToLower(rand.Text()[:12]) }

// Words say what can be relied on with the host, a sentence each.
func (k Knows) Words() []string {
	if !k.MayWrite {
		return []string{"Mendry may read here and not write. " + k.WhyNot}
	}
	var say []string
	switch {
	case k.Locks && k.Conditional:
		say = append(
			say,
			"The host keeps others off a file while Mendry writes it, and refuses a write over an edit that came in between.",
		)
	case k.Locks:
		say = append(
			say,
			"The host keeps others off a file while Mendry writes it. It would not notice an edit by itself: Mendry compares before and after each write.",
		)
	case k.Conditional:
		say = append(
			say,
			"The host refuses a write over an edit that came in between. Mendry compares before and after each write.",
		)
	case k.Beside:
		say = append(
			say,
			"Mendry compares before and after each write, and what others write into a file meanwhile is kept. Only somebody who replaces the whole file within the same moment would not be noticed.",
		)
	default:
		say = append(
			say,
			"The host neither locks files nor notices edits. Mendry compares before and after each write; an edit in the moment between would not be noticed. Agree with others who edit there when you publish.",
		)
	}
	if k.Whole {
		say = append(say, "A file is replaced in one step: visitors get the old or the new one.")
	} else {
		say = append(say, "A write that breaks off may leave part of a file. Mendry finds that out and writes it again, or puts the old one back.")
	}
	if k.Key != "" {
		say = append(
			say,
			"Known by its key "+Fingerprint(
				k.Key,
			)+". Whoever runs the host can tell you whether that is the right one.",
		)
	}
	if k.Left != "" {
		say = append(say, "Mendry could not take away what it tried there: "+k.Left+". You can.")
	}
	return say
}
