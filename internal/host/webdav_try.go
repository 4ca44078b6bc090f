package host

import (
	"bytes"
	"context"
	"net/http"
	"time"
)

// Try implements Host: in a folder of its own it writes a file, writes over it with a tag that no file has, holds it,
// and takes all of it away again.
func (w *WebDAV) Try(ctx context.Context) (k Knows, err error) {
	dir := tryName()
	file := dir + "/try.txt"
	one, two := []byte("one\n"), []byte("two, longer\n")
	if err := w.Write(ctx, file, one, nil); err != nil {
		if !ofWriting(err) {
			return k, err
		}
		k.WhyNot = err.Error()
		w.clear(ctx, dir, file, &k)
		return k, nil
	}
	defer w.clear(ctx, dir, file, &k)
	c, err := w.Read(ctx, file)
	if err != nil {
		return k, err
	}
	if !bytes.Equal(c.Bytes, one) {
		k.WhyNot = "The host gives back other bytes than it was given. Ask whoever runs it."
		return k, nil
	}
	status, _, err := w.answer(
		ctx,
		http.MethodPut,
		file,
		two,
		map[string]string{"If-Match": `"mendry-has-not-read-this"`},
	)
	if err != nil {
		return k, err
	}
	k.MayWrite = true
	if status == http.StatusPreconditionFailed && c.Weak { // Apache's is strong a second after a write
		select {
		case <-time.After(settle):
		case <-ctx.Done():
			return k, ctx.Err()
		}
		if c, err = w.Read(ctx, file); err != nil {
			return k, err
		}
	}
	k.Conditional = status == http.StatusPreconditionFailed && c.Tag != "" // a write needs a tag to depend on
	w.mu.Lock()
	w.plain = false
	w.mu.Unlock()
	free, held, err := w.Hold(ctx, file)
	if err != nil {
		return k, err
	}
	defer free()
	if held { // somebody who does not know of the lock
		status, _, err := w.answer(ctx, http.MethodPut, file, two, map[string]string{})
		k.Locks = err == nil && status == http.StatusLocked
	}
	w.mu.Lock()
	w.plain = !k.Locks
	w.mu.Unlock()
	return k, nil
}

// clear takes away what was tried.
func (w *WebDAV) clear(ctx context.Context, dir, file string, k *Knows) {
	ctx = context.WithoutCancel(ctx)
	for _, name := range []string{file, dir + "/"} {
		if status, _, err := w.answer(ctx, http.MethodDelete, name, nil, nil); err != nil ||
			status >= 300 && status != http.StatusNotFound {
			k.Left = dir
		}
	}
}
