package host

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"mendry/internal/core/release"
)

// The law of writing, on any host: what stands there is read, compared with what may be written over, written over
// with whatever condition the host honours, read again and compared again. What others wrote is never written over; a
// file is whole afterwards, or it is said what stands there.

// rewrites is how often a file that was not stored whole, or whose tag alone had changed, is written again.
const rewrites = 2

// settle is how long a weak tag is waited out: Apache gives one to a file for a second after it was written.
var settle = 1100 * time.Millisecond

// A file in pieces is looked at for a second before it counts as what a write of ours left: others' programs empty a
// file and then write it.
const (
	tornLooks = 5
	tornPause = 200 * time.Millisecond
)

// TheirsError is a Problem of kind Changed: what stands there is neither what was to be written over nor what was to
// be written.
type TheirsError struct {
	*Problem
	File  string
	Found *Content // nil where nothing stands there
}

// Unwrap gives the problem that it is.
func (e *TheirsError) Unwrap() error { return e.Problem }

// writing is one file that is written by the law.
type writing struct {
	h             Host
	file          string
	before, after []byte // nil: no file
	held          bool
	free          func()
}

// Put makes of before, at a path of a host, after; nil stands for no file. begun says that it may have been begun
// before: then what is left of a write that broke off is taken for that. It returns what stands there then. An edit by
// others is a TheirsError.
func Put(ctx context.Context, h Host, file string, before, after []byte, begun bool) (*Content, error) {
	if leaves, ok := h.(interface{ sweep(context.Context, string) }); ok && begun {
		leaves.sweep(ctx, file)
	}
	w := &writing{h: h, file: file, before: before, after: after, free: func() {}}
	defer func() { w.free() }()
	now, how, err := w.hold(ctx, begun)
	if err != nil || how == release.New {
		return now, err
	}
	for try := 0; ; try++ {
		if now, err = w.settled(ctx, now, begun); err != nil {
			return nil, err
		}
		wrote := w.write(ctx, now, after)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		// A write that was refused left nothing: what is in pieces there is being written by somebody else.
		seen, how, err := w.look(ctx, begun || !Is(wrote, Changed))
		switch {
		case err != nil && !Is(err, Changed): // whatever was answered: a line for data may be cut before the one for words
			return nil, w.unknown(cmp.Or(wrote, err))
		case err != nil || how == release.New:
			return seen, err
		case how == release.Old && wrote == nil:
			return nil, &Problem{
				Kind: Odd,
				Say: fmt.Sprintf(
					"The host says that it has stored %s, but still gives the old one: its disk may be read-only, or full. Ask whoever runs it; then go on.",
					file,
				),
			}
		case how == release.Old && (!Is(wrote, Changed) || try == rewrites):
			return nil, wrote
		case how == release.Torn && (try == rewrites || Is(wrote, Full)):
			return nil, w.putBack(ctx, seen, wrote)
		}
		now, begun = seen, begun || !Is(wrote, Changed)
		if try == 0 && how == release.Old && w.held { // the host may have lost what keeps others off
			w.free()
			if now, how, err = w.hold(ctx, begun); err != nil || how == release.New {
				return now, err
			}
		}
		if try > 0 && how == release.Old && now != nil {
			now.Tag = "" // twice refused over the same bytes: the host's tags cannot be relied on
		}
	}
}

// hold keeps others off the file, where the host can do that, and looks at it then.
func (w *writing) hold(ctx context.Context, begun bool) (*Content, release.Standing, error) {
	w.free, w.held = func() {}, false
	if f, ok := w.h.(FolderHolder); ok && f.Holds(w.file) {
		w.held = true
		return w.look(ctx, begun)
	}
	now, how, err := w.look(ctx, begun)
	if err != nil || how == release.New || w.before == nil { // a lock on a name that is free would make an empty file (RFC 4918, 7.3)
		return now, how, err
	}
	w.free, w.held, err = w.h.Hold(ctx, w.file)
	if err != nil {
		w.free = func() {}
		return nil, "", err
	}
	if !w.held {
		return now, how, nil
	}
	return w.look(ctx, begun) // somebody may have been faster
}

// look reads what stands there and judges it.
func (w *writing) look(ctx context.Context, begun bool) (*Content, release.Standing, error) {
	now, err := standing(ctx, w.h, w.file)
	if err != nil {
		return nil, "", err
	}
	how := release.Judge(bytesOf(now), w.before, w.after, begun)
	for again := 0; how == release.Torn && again < tornLooks; again++ { // somebody may be writing it just now
		select {
		case <-time.After(tornPause):
		case <-ctx.Done():
			return nil, "", ctx.Err()
		}
		if now, err = standing(ctx, w.h, w.file); err != nil {
			return nil, "", err
		}
		how = release.Judge(bytesOf(now), w.before, w.after, begun)
	}
	if how == release.Theirs {
		return now, how, &TheirsError{
			Problem: changed(w.file),
			File:    w.file,
			Found:   now,
		}
	}
	return now, how, nil
}

// settled waits until a tag that is weak for a moment is strong, where nothing else keeps others off.
func (w *writing) settled(ctx context.Context, now *Content, begun bool) (*Content, error) {
	if w.held || now == nil || !now.Weak {
		return now, nil
	}
	select {
	case <-time.After(settle):
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	now, _, err := w.look(ctx, begun)
	return now, err
}

func (w *writing) write(ctx context.Context, now *Content, b []byte) error {
	if b == nil {
		if now == nil {
			return nil
		}
		return w.h.Remove(ctx, w.file, *now)
	}
	return w.h.Write(ctx, w.file, b, now)
}

// UnsureError is a Problem over which the host was lost while files were being written: nothing can be told of them
// until it answers.
type UnsureError struct {
	*Problem
	Files []string
	lost  *Problem
}

// Unwrap gives the problem that it is.
func (e *UnsureError) Unwrap() error { return e.Problem }

// Unsure says that nothing can be told of files that were being written when the host was lost.
func Unsure(lost *Problem, files []string) *UnsureError {
	is := "is"
	if len(files) > 1 {
		is = "are"
	}
	return &UnsureError{lost: lost, Files: files, Problem: &Problem{
		Kind:   lost.Kind,
		Status: lost.Status,
		Say: fmt.Sprintf("%s Until it answers it cannot be told whether %s %s whole there: go on, or take the release back, as soon as it does.",
			lost.Say, strings.Join(files, ", "), is),
	}}
}

// With is the same of some more files.
func (e *UnsureError) With(more *UnsureError) *UnsureError {
	return Unsure(e.lost, append(slices.Clone(e.Files), more.Files...))
}

// unknown says that nothing can be told of a file that was being written when the host was lost.
func (w *writing) unknown(wrote error) error {
	var p *Problem
	if !errors.As(wrote, &p) {
		return wrote
	}
	return Unsure(p, []string{w.file})
}

// putBack puts the old file back in the place of one that was not stored whole, and says how that ended.
func (w *writing) putBack(ctx context.Context, seen *Content, wrote error) error {
	why := "The host did not store %s whole, its disk may be full"
	kind := Torn
	if Is(wrote, Full) {
		why, kind = "The host has no room left for %s", Full
	}
	_ = w.write(ctx, seen, w.before) // what stands there then says more
	now, how, lookErr := w.look(ctx, true)
	switch {
	case lookErr != nil && !Is(lookErr, Changed):
		return w.unknown(lookErr)
	case lookErr == nil && how == release.Old:
		return &Problem{
			Kind: kind,
			Say: fmt.Sprintf(
				why+". The old one was put back; visitors get that. Have room made there, then go on.",
				w.file,
			),
		}
	case lookErr == nil && how == release.New:
		return nil
	}
	return &Problem{
		Kind: kind,
		Say: fmt.Sprintf(
			why+", and did not take the old one back: %d of %d bytes stand there now, and visitors get a broken page. Have room made there at once, then go on or take the release back.",
			w.file,
			len(bytesOf(now)),
			len(w.after),
		),
	}
}

func bytesOf(c *Content) []byte {
	if c == nil {
		return nil
	}
	return c.Bytes
}
