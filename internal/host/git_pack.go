package host

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"errors"
	"io"

	"github.com/go-git/go-git/v5/plumbing"
	"github.com/go-git/go-git/v5/plumbing/format/packfile"
	"github.com/go-git/go-git/v5/storage/memory"
)

// What a pack (gitformat-pack) may ask for. A pack is made by whoever runs the host: 17 kB of deltas can stand for any
// number of gigabytes, so that what an object takes is known before it is made.
const (
	mostPack     = 512 << 20     // bytes of a pack
	mostUnpacked = 1 << 30       // bytes of its objects
	freePacked   = 64 << 20      // bytes that the objects of any pack may have
	mostPacked   = 8             // bytes of objects for each of the pack's, above these: text packs to a quarter
	mostObjects  = 20 * MaxFiles // of a pack, and entries of its folders
	mostNamed    = 128 << 20     // bytes of the paths of its files
)

var errMuch = errors.New("too much")

// pack is one that is being read into the memory.
type pack struct {
	in      *io.LimitedReader
	store   *memory.Storage
	spent   int64 // bytes of objects so far
	at      map[int64]*packed
	waiting map[packBase][]delta // whose base has not come yet
}

// packBase is what a delta is made upon: an object by where it stands in the pack, or by its name.
type packBase struct {
	offset int64
	name   plumbing.Hash
}

// delta is what makes an object out of another one (gitformat-pack, "Deltified representation").
type delta struct {
	offset int64
	base   packBase
	steps  []byte
}

// unpack reads a pack, and keeps its objects but those that are larger than a file may be, of which it keeps the size.
// The error is errMuch where it would take too much memory.
func unpack(r io.Reader) (*memory.Storage, error) {
	p := &pack{
		in: &io.LimitedReader{R: r, N: mostPack}, store: memory.NewStorage(),
		at: map[int64]*packed{}, waiting: map[packBase][]delta{},
	}
	err := p.read(packfile.NewScanner(bufio.NewReader(p.in)))
	if err != nil && p.in.N <= 0 {
		err = errMuch
	}
	return p.store, err
}

func (p *pack) read(s *packfile.Scanner) error {
	_, n, err := s.Header()
	if err != nil {
		return err
	}
	if n > mostObjects {
		return errMuch
	}
	for range n {
		h, err := s.NextObjectHeader()
		if err != nil {
			return err
		}
		if err := p.readObject(s, h); err != nil {
			return err
		}
	}
	_, err = s.Checksum()
	return err
}

func (p *pack) readObject(s *packfile.Scanner, h *packfile.ObjectHeader) error {
	in := &body{pack: p, most: h.Length}
	if !h.Type.IsDelta() {
		sum := plumbing.NewHasher(h.Type, h.Length)
		in.sum = &sum
	}
	if _, _, err := s.NextObject(in); err != nil {
		return err
	}
	if in.n != h.Length {
		return packfile.ErrMalformedPackFile
	}
	whole := bytes.Clone(in.Bytes()) // without the room that it grew into
	if h.Type.IsDelta() {
		if in.n > MaxFile {
			return nil // it makes something larger
		}
		return p.takeDelta(delta{h.Offset, packBase{h.OffsetReference, h.Reference}, whole})
	}
	return p.take(&packed{h.Type, in.sum.Sum(), in.n, whole}, h.Offset)
}

// spend counts bytes of objects, before they are made where their number is known.
func (p *pack) spend(n int64) error {
	p.spent += n
	if p.spent > mostUnpacked || p.spent > freePacked+mostPacked*(mostPack-p.in.N) {
		return errMuch
	}
	return nil
}

// takeDelta makes an object as soon as its base is there.
func (p *pack) takeDelta(d delta) error {
	base := p.at[d.base.offset]
	if !d.base.name.IsZero() {
		base, _ = p.store.Objects[d.base.name].(*packed)
	}
	if base == nil {
		p.waiting[d.base] = append(p.waiting[d.base], d)
		return nil
	}
	o, err := p.made(base, d)
	if o == nil || err != nil {
		return err
	}
	return p.take(o, d.offset)
}

// take keeps an object, and makes what waited for it.
func (p *pack) take(o *packed, offset int64) error {
	type placed struct {
		*packed
		offset int64
	}
	for todo := []placed{{o, offset}}; len(todo) > 0; {
		o := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		p.keep(o.packed, o.offset)
		for _, b := range []packBase{{offset: o.offset}, {name: o.name}} {
			for _, d := range p.waiting[b] {
				next, err := p.made(o.packed, d)
				if err != nil {
					return err
				}
				if next != nil {
					todo = append(todo, placed{next, d.offset})
				}
			}
			delete(p.waiting, b)
		}
	}
	return nil
}

func (p *pack) keep(o *packed, offset int64) {
	p.at[offset] = o
	_, _ = p.store.SetEncodedObject(o) // fails for kinds alone that the scanner lets through nowhere
}

// made makes what a delta stands for; nil where that is larger than a file may be, or its base was.
func (p *pack) made(base *packed, d delta) (*packed, error) {
	_, n := binary.Uvarint(d.steps) // the size of what it is made upon
	if n <= 0 {
		return nil, packfile.ErrInvalidDelta
	}
	size, n := binary.Uvarint(d.steps[n:])
	switch {
	case n <= 0:
		return nil, packfile.ErrInvalidDelta
	case size > MaxFile || base.size > MaxFile:
		return nil, nil
	}
	if err := p.spend(int64(size)); err != nil {
		return nil, err
	}
	b, err := packfile.PatchDelta(base.bytes, d.steps)
	if err != nil {
		return nil, err
	}
	b = bytes.Clone(b) // without the room that it grew into
	return &packed{base.kind, plumbing.ComputeHash(base.kind, b), int64(len(b)), b}, nil
}

// body takes in what an object is packed as: whole up to what a file may have, its name alone above.
type body struct {
	bytes.Buffer
	pack *pack
	most int64            // as its header says
	n    int64            // so far
	sum  *plumbing.Hasher // of what is no delta
}

func (b *body) Write(part []byte) (int, error) {
	if err := b.pack.spend(int64(len(part))); err != nil {
		return 0, err
	}
	b.n += int64(len(part))
	if b.sum != nil {
		_, _ = b.sum.Write(part) // never fails (hash.Hash)
	}
	if b.most <= MaxFile {
		b.Buffer.Write(part)
	}
	return len(part), nil
}

// packed is an object of a pack, whole in memory. It never changes; go-git reads it as a plumbing.EncodedObject.
type packed struct {
	kind  plumbing.ObjectType
	name  plumbing.Hash
	size  int64
	bytes []byte // none where it is larger than a file may be
}

func (o *packed) Hash() plumbing.Hash             { return o.name }
func (o *packed) Type() plumbing.ObjectType       { return o.kind }
func (o *packed) SetType(plumbing.ObjectType)     {}
func (o *packed) Size() int64                     { return o.size }
func (o *packed) SetSize(int64)                   {}
func (o *packed) Reader() (io.ReadCloser, error)  { return io.NopCloser(bytes.NewReader(o.bytes)), nil }
func (o *packed) Writer() (io.WriteCloser, error) { return nil, errors.ErrUnsupported }
