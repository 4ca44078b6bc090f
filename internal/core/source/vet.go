package source

import (
	"bytes"
	"io"
	"sync"

	"golang.org/x/net/html"
)

// vetted hands bytes to the parser as far as the tokens in them have been counted, so that tree and tokens can be made
// side by side and no tree is begun that would grow past the limits.
type vetted struct {
	b       []byte
	at      int
	mu      sync.Mutex
	more    *sync.Cond
	upTo    int
	refused error
}

// parse makes the tree of b and its tokens.
func parse(b []byte, from int) (*html.Node, []token, error) {
	v := &vetted{b: b, at: from, upTo: from}
	v.more = sync.NewCond(&v.mu)
	if len(b) < besides {
		toks, err := tokenise(b, from, func(int) {})
		if err != nil {
			return nil, nil, err
		}
		tree, err := html.Parse(bytes.NewReader(b[from:]))
		return tree, toks, err
	}
	var toks []token
	done := make(chan struct{})
	go func() {
		defer close(done)
		var err error
		toks, err = tokenise(b, from, v.pass)
		v.mu.Lock()
		v.upTo, v.refused = len(b), err
		v.mu.Unlock()
		v.more.Broadcast()
	}()
	tree, err := html.Parse(v)
	<-done
	if v.refused != nil {
		return nil, nil, v.refused
	}
	return tree, toks, err
}

// besides is from how many bytes on it pays to make tree and tokens side by side: waking a second thread takes as long
// as cutting some 20 kB into tokens.
const besides = 48 << 10

// vetStep is how many bytes are vetted before the parser may go on.
const vetStep = 8 << 10

// pass says that the tokens before an offset have been counted.
func (v *vetted) pass(upTo int) {
	v.mu.Lock()
	v.upTo = upTo
	v.mu.Unlock()
	v.more.Signal()
}

// Read implements io.Reader.
func (v *vetted) Read(p []byte) (int, error) {
	v.mu.Lock()
	defer v.mu.Unlock()
	for v.upTo <= v.at && v.refused == nil && v.at < len(v.b) {
		v.more.Wait()
	}
	if v.refused != nil {
		return 0, v.refused
	}
	if v.at >= len(v.b) {
		return 0, io.EOF
	}
	n := copy(p, v.b[v.at:v.upTo])
	v.at += n
	return n, nil
}
