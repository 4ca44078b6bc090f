package record

import (
	"bytes"
	"encoding/json"
	"testing"
	"time"

	"github.com/gowebpki/jcs"
)

func chain(t *testing.T) []Entry {
	t.Helper()
	var es []Entry
	var prev *Entry
	for i, say := range []string{"letter received", "Adult, single: £6.90 becomes £7.40", "signed"} {
		e, err := Next(prev, time.Date(2026, 11, 24, 9, i, 0, 123456789, time.UTC), map[string]any{"what": say, "n": 4.50})
		if err != nil {
			t.Fatal(err)
		}
		es = append(es, e)
		prev = &es[i]
	}
	return es
}

func TestAWholeChainIsAccepted(t *testing.T) {
	es := chain(t)
	if err := Verify(es); err != nil {
		t.Error(err)
	}
	if es[0].At != "2026-11-24T09:00:00.123456Z" {
		t.Errorf("time %s", es[0].At)
	}
	es[1].Body = nil // left out of an export
	if err := Verify(es); err != nil {
		t.Errorf("with a body left out: %v", err)
	}
}

// Every single byte of an exported record, altered, must be noticed.
func TestAnyAlteredByteIsNoticed(t *testing.T) {
	file := File{Format: Format, Site: "x", About: "y", Made: "z", Entries: chain(t)}
	b, err := json.Marshal(file)
	if err != nil {
		t.Fatal(err)
	}
	if file.Digest, err = Digest(b); err != nil {
		t.Fatal(err)
	}
	if b, err = json.Marshal(file); err != nil {
		t.Fatal(err)
	}
	if _, _, err := Read(bytes.NewReader(b)); err != nil {
		t.Fatal(err)
	}
	for i := range b {
		alt := bytes.Clone(b)
		alt[i] ^= 1
		if _, _, err := Read(bytes.NewReader(alt)); err == nil {
			t.Errorf("byte %d (%q) altered to %q was not noticed: …%s…", i, b[i], alt[i], alt[max(0, i-20):min(len(alt), i+20)])
		}
	}
}

func TestMissingAndMovedEntriesAreNoticed(t *testing.T) {
	es := chain(t)
	if Verify(es[1:]) == nil || Verify([]Entry{es[0], es[2]}) == nil || Verify([]Entry{es[1], es[0], es[2]}) == nil {
		t.Error("a chain with a gap was accepted")
	}
}

// RFC 8785 §3.2.2 and §3.2.3: the standard's own example, in and out.
func TestCanonicalFormIsTheStandards(t *testing.T) {
	in := `{"numbers": [333333333.33333329, 1E30, 4.50, 2e-3, 0.000000000000000000000000001],
		"string": "\u20ac$\u000F\u000aA'\u0042\u0022\u005c\\\"\/", "literals": [null, true, false]}`
	want := `{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],` +
		`"string":"€$\u000f\nA'B\"\\\\\"/"}`
	got, err := jcs.Transform([]byte(in))
	if err != nil || string(got) != want {
		t.Errorf("%s %v", got, err)
	}
}
