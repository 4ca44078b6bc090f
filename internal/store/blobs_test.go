package store

import (
	"context"
	"errors"
	"math/rand/v2"
	"testing"
	"testing/iotest"
)

// Kept bytes are read piece by piece as a reader and seeker reads them, which testing/iotest checks.
func TestBytesAreReadPieceByPiece(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	for _, size := range []int{0, 3, piece - 1, piece, 2*piece + 7} {
		b := make([]byte, size)
		_, _ = rand.NewChaCha8([32]byte{1}).Read(b)
		hash, err := s.KeepBytes(ctx, b)
		if err != nil {
			t.Fatal(err)
		}
		r, err := s.Blob(ctx, hash)
		if err != nil {
			t.Fatal(err)
		}
		if err := iotest.TestReader(r, b); err != nil {
			t.Errorf("%d bytes: %v", size, err)
		}
	}
	if _, err := s.Blob(ctx, "none"); !errors.Is(err, ErrNone) {
		t.Error(err)
	}
}
