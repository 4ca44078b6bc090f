package store

import (
	"context"
	"maps"
	"slices"

	"mendry/internal/core/record"
)

// KeepBytes keeps bytes and returns their SHA-256 in hexadecimal digits. Bytes that are kept already are kept once.
func (q Queries) KeepBytes(ctx context.Context, b []byte) (string, error) {
	hash := record.Sum(b)
	if err := q.get(ctx, new(int), `SELECT 1 FROM file_blob WHERE hash = ?`, hash); err != ErrNone {
		return hash, err
	}
	_, err := q.do(ctx, `INSERT IGNORE INTO file_blob (hash, bytes) VALUES (?, ?)`, hash, b)
	return hash, err
}

// Bytes finds bytes by their hash.
func (q Queries) Bytes(ctx context.Context, hash string) (b []byte, err error) {
	return b, q.get(ctx, &b, `SELECT bytes FROM file_blob WHERE hash = ?`, hash)
}

// KeepAll is KeepBytes for several, in fewer questions.
func (q Queries) KeepAll(ctx context.Context, bs [][]byte) (hashes []string, err error) {
	if len(bs) == 0 {
		return nil, nil
	}
	bytesOf := map[string][]byte{}
	for _, b := range bs {
		hash := record.Sum(b)
		hashes, bytesOf[hash] = append(hashes, hash), b
	}
	var have []string
	if err := q.in(ctx, &have, `SELECT hash FROM file_blob WHERE hash IN (?)`, hashes); err != nil {
		return nil, err
	}
	for _, h := range have {
		delete(bytesOf, h)
	}
	var rows []any
	for _, hash := range slices.Sorted(maps.Keys(bytesOf)) {
		rows = append(rows, hash, bytesOf[hash])
	}
	return hashes, q.fill(ctx, `INSERT IGNORE INTO file_blob (hash, bytes) VALUES `, "(?,?)", rows)
}
