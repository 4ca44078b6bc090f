package store

import (
	"context"
	"errors"
	"io"
	"maps"
	"slices"

	"mendry/internal/core/record"
)

// KeepBytes keeps bytes and returns their SHA-256 in hexadecimal digits. Bytes that are kept already are kept once.
func (q Queries) KeepBytes(ctx context.Context, b []byte) (string, error) {
	hash := record.Sum(b)
	return hash, q.KeepBlobs(ctx, map[string][]byte{hash: b})
}

// KeepBlobs is KeepBytes for several whose hashes are known.
func (q Queries) KeepBlobs(ctx context.Context, byHash map[string][]byte) error {
	if len(byHash) == 0 {
		return nil
	}
	hashes := slices.Sorted(maps.Keys(byHash))
	var have []string
	if err := q.in(ctx, &have, `SELECT hash FROM file_blob WHERE hash IN (?)`, hashes); err != nil {
		return err
	}
	var rows []any
	for _, hash := range hashes {
		if !slices.Contains(have, hash) {
			rows = append(rows, hash, byHash[hash])
		}
	}
	return q.fill(ctx, `INSERT IGNORE INTO file_blob (hash, bytes) VALUES `, "(?,?)", rows)
}

// piece is how much of kept bytes is read at a time: a film is not held in memory whole for each who plays it.
const piece = 2 << 20

// Blob reads kept bytes piece by piece. It is for one goroutine, and ends with its context.
type Blob struct {
	q    Queries
	ctx  context.Context
	hash string
	size int64
	at   int64
	have []byte // a piece
	from int64  // where it begins
}

// Blob finds kept bytes by their hash, to be read piece by piece; ErrNone where there are none.
func (q Queries) Blob(ctx context.Context, hash string) (*Blob, error) {
	b := &Blob{q: q, ctx: ctx, hash: hash}
	return b, q.get(ctx, &b.size, `SELECT LENGTH(bytes) FROM file_blob WHERE hash = ?`, hash)
}

// Read implements io.Reader.
func (b *Blob) Read(into []byte) (int, error) {
	if b.at >= b.size {
		return 0, io.EOF
	}
	if b.at < b.from || b.at >= b.from+int64(len(b.have)) {
		var next []byte
		err := b.q.get(b.ctx, &next, `SELECT SUBSTRING(bytes, ?, ?) FROM file_blob WHERE hash = ?`, b.at+1, piece, b.hash)
		if err != nil {
			return 0, err
		}
		if len(next) == 0 {
			return 0, io.ErrUnexpectedEOF
		}
		b.have, b.from = next, b.at
	}
	n := copy(into, b.have[b.at-b.from:])
	b.at += int64(n)
	return n, nil
}

// Seek implements io.Seeker.
func (b *Blob) Seek(offset int64, whence int) (int64, error) {
	switch whence {
	case io.SeekCurrent:
		offset += b.at
	case io.SeekEnd:
		offset += b.size
	}
	if offset < 0 {
		return b.at, errors.New("seek before the beginning of kept bytes")
	}
	b.at = offset
	return offset, nil
}

// Bytes finds bytes by their hash.
func (q Queries) Bytes(ctx context.Context, hash string) (b []byte, err error) {
	return b, q.get(ctx, &b, `SELECT bytes FROM file_blob WHERE hash = ?`, hash)
}
