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

// Bytes finds bytes by their hash.
func (q Queries) Bytes(ctx context.Context, hash string) (b []byte, err error) {
	return b, q.get(ctx, &b, `SELECT bytes FROM file_blob WHERE hash = ?`, hash)
}
