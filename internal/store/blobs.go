package store

import (
	"context"

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
