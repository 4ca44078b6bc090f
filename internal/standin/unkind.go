package standin

import (
	"compress/gzip"
	"crypto/md5"
	"encoding/hex"
	"net/http"
	"regexp"
	"strings"
)

// Unkind is how a host is less than the standards ask, as many are.
type Unkind struct {
	Tags    string `json:"tags"`     // weak, suffixed (with what compresses), missing, ignored in conditions; empty: as they should be
	InPlace bool   `json:"in_place"` // a write empties the file first
	Digest  bool   `json:"digest"`   // asks for Digest (RFC 7616) and takes no Basic
	Gzip    bool   `json:"gzip"`     // compresses what it gives to who asks for it
	Missing int    `json:"missing"`  // the answer to a write into a folder that is not there; 0: 409 (RFC 4918, 9.7.1)
}

// SetUnkind says how the host is from now on.
func (h *Host) SetUnkind(u Unkind) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.unkind = u
}

func (h *Host) how() Unkind {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.unkind
}

// tagged sets the entity tag of an answer, as the host gives it.
func (u Unkind) tagged(w http.ResponseWriter, tag string, zipped bool) {
	switch {
	case tag == "" || u.Tags == "missing":
		return
	case u.Tags == "weak":
		tag = "W/" + tag
	case u.Tags == "suffixed" && zipped:
		tag = strings.TrimSuffix(tag, `"`) + `-gzip"`
	}
	w.Header().Set("ETag", tag)
}

// zips reports whether an answer is compressed.
func (u Unkind) zips(r *http.Request) bool {
	return u.Gzip && strings.Contains(r.Header.Get("Accept-Encoding"), "gzip")
}

func zipped(w http.ResponseWriter, b []byte) {
	z := gzip.NewWriter(w)
	_, _ = z.Write(b) // who asked may have gone
	_ = z.Close()
}

var inDigest = regexp.MustCompile(`(\w+)=(?:"([^"]*)"|([^\s,]+))`)

// nonce is one that stays good: a stand-in keeps no list of those that were used.
const nonce = "7b1f0c5e"

// digested reports whether a request is signed by name and password (RFC 7616, 3.4.1, MD5 with qop auth).
func digested(r *http.Request, user, pass string) bool {
	head, ok := strings.CutPrefix(r.Header.Get("Authorization"), "Digest ")
	if !ok {
		return false
	}
	p := map[string]string{}
	for _, m := range inDigest.FindAllStringSubmatch(head, -1) {
		p[m[1]] = m[2] + m[3]
	}
	sum := func(parts ...string) string {
		s := md5.Sum([]byte(strings.Join(parts, ":"))) //nolint:gosec // what the standard asks for
		return hex.EncodeToString(s[:])
	}
	want := sum(sum(user, "stand-in host", pass), nonce, p["nc"], p["cnonce"], "auth", sum(r.Method, p["uri"]))
	return p["username"] == user && p["nonce"] == nonce && p["response"] == want
}
