package host

import (
	"bytes"
	"compress/zlib"
	"crypto/sha1" //nolint:gosec // gitformat-pack's own
	"encoding/binary"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime/metrics"
	"strings"
	"testing"
	"time"

	"github.com/go-git/go-git/v5/plumbing"
	"github.com/go-git/go-git/v5/plumbing/filemode"
	"github.com/go-git/go-git/v5/plumbing/object"
)

// packing writes a pack by hand (gitformat-pack), as a liar would.
type packing struct {
	bytes.Buffer
	n     uint32
	claim uint32 // objects that the header speaks of; all where it is 0
	z     *zlib.Writer
}

func (p *packing) add(kind plumbing.ObjectType, size int, before []byte, body func(w *zlib.Writer)) (offset int) {
	p.n++
	offset = 12 + p.Len()
	c := byte(kind)<<4 | byte(size&15)
	for size >>= 4; size > 0; size >>= 7 {
		p.WriteByte(c | 0x80)
		c = byte(size & 0x7f)
	}
	p.WriteByte(c)
	p.Write(before)
	if p.z == nil {
		p.z, _ = zlib.NewWriterLevel(p, zlib.BestSpeed) // a level that there is
	}
	z := p.z
	z.Reset(&p.Buffer)
	body(z)
	_ = z.Close()
	return offset
}

func (p *packing) whole(kind plumbing.ObjectType, b []byte) int {
	return p.add(kind, len(b), nil, func(z *zlib.Writer) { _, _ = z.Write(b) })
}

// zeros is an object of n zeros.
func (p *packing) zeros(kind plumbing.ObjectType, n int) int {
	return p.add(kind, n, nil, func(z *zlib.Writer) {
		part := make([]byte, 1<<16)
		for ; n > 0; n -= len(part) {
			_, _ = z.Write(part[:min(n, len(part))])
		}
	})
}

// again is a delta that makes the object at base, of a size, times over.
func (p *packing) again(base, size, times int) int {
	steps := binary.AppendUvarint(binary.AppendUvarint(nil, uint64(size)), uint64(size*times))
	for range times {
		steps = append(steps, 0x80|0x70, byte(size), byte(size>>8), byte(size>>16))
	}
	back, at := []byte{}, 12+p.Len()-base
	for back = append(back, byte(at&0x7f)); at > 0x7f; {
		at = at>>7 - 1
		back = append([]byte{0x80 | byte(at&0x7f)}, back...)
	}
	return p.add(plumbing.OFSDeltaObject, len(steps), back, func(z *zlib.Writer) { _, _ = z.Write(steps) })
}

func (p *packing) pack() []byte {
	head := append([]byte("PACK"), 0, 0, 0, 2)
	if p.claim == 0 {
		p.claim = p.n
	}
	all := append(binary.BigEndian.AppendUint32(head, p.claim), p.Bytes()...)
	sum := sha1.Sum(all) //nolint:gosec // gitformat-pack's own
	return append(all, sum[:]...)
}

// twice is a folder that names one object twice.
func twice(mode string, o plumbing.Hash) []byte {
	var b bytes.Buffer
	for _, name := range "ab" {
		fmt.Fprintf(&b, "%s %c\x00%s", mode, name, o[:])
	}
	return b.Bytes()
}

// What a repository's host may send to fill the memory, or to keep a processor for ever: 200 MB and 20 s at most.
func TestAHostilePackIsBounded(t *testing.T) {
	for name, fill := range map[string]func(p *packing){
		"deltas of deltas of 5 GB in 17 kB": func(p *packing) {
			at, size := p.zeros(plumbing.BlobObject, 1<<20), 1<<20
			for range 4 { // 16 MB
				at, size = p.again(at, size, 2), 2*size
			}
			for range 320 {
				p.again(at, size, 1)
			}
		},
		"a delta of 5 GB, and one made upon it": func(p *packing) {
			at := p.again(p.zeros(plumbing.TreeObject, 1<<23), 1<<23, 640)
			p.again(at, 1<<23, 1)
			p.claim = p.n + 1
		},
		"a file of 256 MB in 1 MB":   func(p *packing) { p.zeros(plumbing.BlobObject, 1<<28) },
		"a folder of 256 MB in 1 MB": func(p *packing) { p.zeros(plumbing.TreeObject, 1<<28) },
		"more than it says": func(p *packing) {
			p.add(plumbing.BlobObject, 10, nil, func(z *zlib.Writer) { _, _ = z.Write(make([]byte, 1<<26)) })
		},
		"less than it says": func(p *packing) {
			p.add(plumbing.BlobObject, 5<<30, nil, func(z *zlib.Writer) { _, _ = z.Write([]byte("a")) })
		},
		"four billion objects":  func(p *packing) { p.claim = 1<<32 - 1 },
		"objects that are none": func(p *packing) { p.claim = 1_000_000 },
		"a hundred times the same of 8 MB, made upon 8 MB": func(p *packing) {
			base := p.zeros(plumbing.BlobObject, 1<<23)
			for range 100 {
				p.again(base, 1<<23, 1)
			}
		},
		"a chain of 100,000 deltas": func(p *packing) {
			at := p.whole(plumbing.BlobObject, []byte("ab"))
			for range 100_000 {
				at = p.again(at, 2, 1)
			}
		},
		"folders that hold each other twice, 30 deep": func(p *packing) {
			blob := []byte("words")
			p.whole(plumbing.BlobObject, blob)
			at, mode := plumbing.ComputeHash(plumbing.BlobObject, blob), "100644"
			for range 30 {
				b := twice(mode, at)
				p.whole(plumbing.TreeObject, b)
				at, mode = plumbing.ComputeHash(plumbing.TreeObject, b), "40000"
			}
			p.whole(plumbing.CommitObject, fmt.Appendf(nil, "tree %s\n\nwords\n", at))
		},
	} {
		t.Run(name, func(t *testing.T) {
			var p packing
			fill(&p)
			b := p.pack()
			began := time.Now()
			peak := peakOf(func() {
				store, err := unpack(bytes.NewReader(b))
				for head := range store.Commits {
					_, err = filesOf(store, head)
				}
				if err == nil && name != "a chain of 100,000 deltas" {
					t.Error("it was taken in")
				}
			})
			t.Logf("%d kB: %d MB in %s", len(b)>>10, peak>>20, time.Since(began))
			if peak > 200<<20 {
				t.Errorf("%d MB of memory", peak>>20)
			}
			if took := time.Since(began); took > 20*time.Second {
				t.Errorf("it took %s", took)
			}
		})
	}
}

// peakOf is what the heap grows by while something is done, in bytes, as seen every millisecond.
func peakOf(do func()) (peak uint64) {
	heap := func() uint64 {
		s := []metrics.Sample{{Name: "/memory/classes/heap/objects:bytes"}}
		metrics.Read(s)
		return s[0].Value.Uint64()
	}
	before, done := heap(), make(chan struct{})
	go func() { defer close(done); do() }()
	for {
		peak = max(peak, heap())
		select {
		case <-done:
			return max(peak, heap()) - min(before, peak)
		case <-time.After(time.Millisecond):
		}
	}
}

// A pack that git itself makes holds what git itself reads from it: deltas both ways of naming their base, in any order.
func TestAPackOfGitsOwnIsReadAsGitReadsIt(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	git := func(in string, args ...string) string {
		c := exec.Command("git", append([]string{"-C", dir}, args...)...)
		c.Stdin = strings.NewReader(in)
		c.Env = append(os.Environ(), "GIT_CONFIG_GLOBAL=/dev/null", "GIT_CONFIG_NOSYSTEM=1", "GIT_ATTR_NOSYSTEM=1") // no filters
		out, err := c.Output()
		if err != nil {
			t.Fatal(args, err)
		}
		return string(out)
	}
	git("", "init", "-q")
	for i := range 40 { // alike, so that they are packed as deltas
		words := strings.Repeat(fmt.Sprintf("The boat %d sails at nine.\n", i/20), 200) + fmt.Sprint("Berths: ", i)
		if err := os.WriteFile(filepath.Join(dir, fmt.Sprintf("boat-%d.md", i)), []byte(words), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	large := bytes.Repeat([]byte("film "), MaxFile/5+1)
	if err := os.WriteFile(filepath.Join(dir, "film.bin"), large, 0o600); err != nil {
		t.Fatal(err)
	}
	git("", "add", ".")
	git("", "-c", "user.name=a", "-c", "user.email=a@b.example", "commit", "-qm", "All")
	names := git("", "rev-list", "--objects", "--no-object-names", "--all")
	for _, args := range [][]string{{"--delta-base-offset"}, {}, {"--window=0"}} {
		b := git(names, append([]string{"pack-objects", "--stdout", "-q", "--depth=50"}, args...)...)
		store, err := unpack(strings.NewReader(b))
		if err != nil {
			t.Fatal(args, err)
		}
		head := plumbing.NewHash(strings.TrimSpace(git("", "rev-parse", "HEAD")))
		files, err := filesOf(store, head)
		if err != nil || len(files) != 41 {
			t.Fatal(args, len(files), err)
		}
		for name, e := range files {
			if name == "film.bin" {
				o, err := store.EncodedObject(plumbing.BlobObject, e.Hash)
				if err != nil || o.Size() != int64(len(large)) {
					t.Error(args, "the film", o.Size(), len(large), err)
				}
				if _, err := blobOf(store, e.Hash); err == nil {
					t.Error("a film larger than a file may be is read")
				}
				continue
			}
			got, err := blobOf(store, e.Hash)
			lies, errThere := os.ReadFile(filepath.Join(dir, name))
			if err != nil || errThere != nil || !bytes.Equal(got, lies) {
				t.Errorf("%v, %s: %v", args, name, err)
			}
		}
		for cut := range 8 {
			if _, err := unpack(strings.NewReader(b[:len(b)*cut/8])); err == nil {
				t.Error("a pack that was cut off is taken for whole")
			}
		}
	}
}

// A base may come behind what is made upon it (gitformat-pack allows it; git index-pack reads such packs too).
func TestABaseMayComeBehindWhatIsMadeUponIt(t *testing.T) {
	t.Parallel()
	base := []byte("words of a page")
	name := plumbing.ComputeHash(plumbing.BlobObject, base)
	steps := binary.AppendUvarint(binary.AppendUvarint(nil, uint64(len(base))), 5)
	steps = append(steps, 0x80|0x10, 5) // its first five
	var p packing
	p.add(plumbing.REFDeltaObject, len(steps), name[:], func(z *zlib.Writer) { _, _ = z.Write(steps) })
	p.whole(plumbing.BlobObject, base)
	store, err := unpack(bytes.NewReader(p.pack()))
	if err != nil {
		t.Fatal(err)
	}
	if got, err := blobOf(store, plumbing.ComputeHash(plumbing.BlobObject, []byte("words"))); string(got) != "words" {
		t.Errorf("%q, %v", got, err)
	}
}

func FuzzUnpack(f *testing.F) {
	var p packing
	p.again(p.whole(plumbing.BlobObject, []byte("words")), 5, 3)
	p.whole(plumbing.TreeObject, twice(filemode.Regular.String(), plumbing.ComputeHash(plumbing.BlobObject, []byte("words"))))
	f.Add(p.pack())
	f.Fuzz(func(t *testing.T, b []byte) {
		store, err := unpack(bytes.NewReader(b))
		if err != nil {
			return
		}
		for name, o := range store.Objects {
			if o.Size() > MaxFile {
				continue
			}
			got, err := object.GetObject(store, name)
			if err == nil && got.ID() != name {
				t.Error("an object has another's name")
			}
			if errors.Is(err, plumbing.ErrObjectNotFound) {
				t.Error("an object is not found by its name")
			}
		}
	})
}
