// Package record keeps what happened so that it cannot be altered unnoticed: every entry holds the hash of the one
// before it (SHA-256 over RFC 8785 canonical JSON).
package record

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"time"

	"github.com/gowebpki/jcs"
)

// Format names the form of an exported record.
const Format = "mendry-record/1"

// Start is what the first entry of a chain holds in place of a hash before it.
const Start = "0000000000000000000000000000000000000000000000000000000000000000"

// TimeForm is RFC 3339 in UTC with microseconds.
const TimeForm = "2006-01-02T15:04:05.000000Z"

// Entry is one thing that happened. Its hash covers N, At, Prev and BodyHash, so that a body can be left out of an
// export (another client's, say) and the chain still be checked.
type Entry struct {
	N        int64           `json:"n"` // 1, 2, 3 … in each site's chain
	At       string          `json:"at"`
	Prev     string          `json:"prev"`
	BodyHash string          `json:"body_hash"`
	Hash     string          `json:"hash"`
	Body     json.RawMessage `json:"body,omitempty"`
}

// File is an exported record: one site's chain, whole or with bodies left out.
type File struct {
	Format  string  `json:"format"`
	Site    string  `json:"site"`
	About   string  `json:"about"` // what the entries with a body are about
	Made    string  `json:"made"`
	Entries []Entry `json:"entries"`
	Digest  string  `json:"digest"` // SHA-256 of the file's canonical form without this field
}

// Next makes the entry that follows prev (nil at the start of a chain).
func Next(prev *Entry, at time.Time, body any) (Entry, error) {
	raw, err := json.Marshal(body)
	if err != nil {
		return Entry{}, fmt.Errorf("write a record entry: %w", err)
	}
	raw, err = jcs.Transform(raw)
	if err != nil {
		return Entry{}, fmt.Errorf("write a record entry in canonical form: %w", err)
	}
	e := Entry{N: 1, At: at.UTC().Format(TimeForm), Prev: Start, Body: raw, BodyHash: Sum(raw)}
	if prev != nil {
		e.N, e.Prev = prev.N+1, prev.Hash
	}
	e.Hash, err = e.hash()
	return e, err
}

func (e Entry) hash() (string, error) {
	raw, err := json.Marshal(map[string]any{"n": e.N, "at": e.At, "prev": e.Prev, "body_hash": e.BodyHash})
	if err != nil {
		return "", err
	}
	raw, err = jcs.Transform(raw)
	return Sum(raw), err
}

// Sum is the SHA-256 of b in hexadecimal.
func Sum(b []byte) string {
	h := sha256.Sum256(b)
	return hex.EncodeToString(h[:])
}

// Digest is what an exported record's digest has to be: the SHA-256 of the canonical form of the file without it.
func Digest(file []byte) (string, error) {
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(file, &fields); err != nil {
		return "", err
	}
	delete(fields, "digest")
	raw, err := json.Marshal(fields)
	if err != nil {
		return "", err
	}
	raw, err = jcs.Transform(raw)
	return Sum(raw), err
}

// Fault is the first entry of a record that is wrong; N is 0 for the head of an exported file.
type Fault struct {
	N      int64
	Reason string
}

func (f *Fault) Error() string {
	if f.N == 0 {
		return "the head of the file: " + f.Reason
	}
	return fmt.Sprintf("entry %d: %s", f.N, f.Reason)
}

// Verify checks a chain from its first entry. The error is a *Fault.
func Verify(entries []Entry) error {
	prev, n := Start, int64(0)
	for _, e := range entries {
		n++
		if e.N != n {
			return &Fault{n, fmt.Sprintf("entry %d stands here; entries are missing or out of order", e.N)}
		}
		if e.Prev != prev {
			return &Fault{n, "it does not follow from the entry before it"}
		}
		if len(e.Body) > 0 {
			raw, err := jcs.Transform(e.Body)
			if err != nil || Sum(raw) != e.BodyHash {
				return &Fault{n, "what it says was altered"}
			}
		}
		h, err := e.hash()
		if err != nil || h != e.Hash {
			return &Fault{n, "its time, place or hash was altered"}
		}
		prev = e.Hash
	}
	return nil
}

// Read reads an exported record and verifies it. It reports how many entries it has, and how many with a body.
func Read(r io.Reader) (f File, bodies int, err error) {
	raw, err := io.ReadAll(io.LimitReader(r, 1<<30))
	if err != nil {
		return f, 0, err
	}
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return f, 0, fmt.Errorf("this is no record: %w", err)
	}
	if f.Format != Format {
		return f, 0, fmt.Errorf("this is no record of a form that is known here: %q", f.Format)
	}
	if len(f.Entries) == 0 {
		return f, 0, fmt.Errorf("the record has no entries")
	}
	for _, e := range f.Entries {
		if len(e.Body) > 0 {
			bodies++
		}
	}
	if err := Verify(f.Entries); err != nil {
		return f, bodies, err
	}
	if digest, err := Digest(raw); err != nil || digest != f.Digest {
		return f, bodies, &Fault{0, "what the file says of itself was altered"}
	}
	return f, bodies, nil
}
