package host

import (
	"bytes"
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"mime"
	"path"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"
	"unicode/utf8"
)

// tree is a file system as a host gives it: what SFTP, FTP and a folder have in common. Names are below the site's
// folder and clean. Errors are those of package os.
type tree interface {
	ReadDir(ctx context.Context, dir string) ([]fs.FileInfo, error) // links are not followed
	Lstat(ctx context.Context, name string) (fs.FileInfo, error)
	ReadFile(ctx context.Context, name string) ([]byte, error)
	Create(ctx context.Context, name string, b []byte) error // fails where something of the name stands
	Overwrite(ctx context.Context, name string, b []byte) error
	Like(ctx context.Context, name string, like fs.FileInfo) error // gives a file the mode and the owner of another
	Chmod(ctx context.Context, name string, mode fs.FileMode) error
	// Link gives a file a second name; it fails where something has that.
	Link(ctx context.Context, old, name string) error
	Rename(ctx context.Context, old, name string) error // in one step, over what stands there
	Unlink(ctx context.Context, name string) error
	Mkdir(ctx context.Context, name string) error
	// Beside reports whether a file can be written beside another one and moved over it, its mode and owner kept.
	Beside() bool
	Say(err error, name string) error // in words
}

// own begins the names of files that Mendry makes for itself; they are hidden, and taken away.
const own = ".mendry-"

// staleAfter is how old a file of Mendry's own is that a killed process left.
const staleAfter = time.Hour

// files is a host with a file system.
type files struct {
	tree
	by   string
	left *left
}

// left are files of Mendry's own: those that could not be taken away, since the line was cut, and the lock.
type left struct {
	mu    sync.Mutex
	names map[string]bool
	using map[string]bool // by writes that go on

	links  bool // a second name was made, and seen to be there
	locks  sync.Mutex
	locked int // how many writes of this installation go on under the lock that lies there
}

func newFiles(t tree, by string) files {
	return files{t, cmp.Or(by, "Mendry"), &left{names: map[string]bool{}, using: map[string]bool{}}}
}

// own makes a name in a folder for a file of Mendry's own, which clear takes away.
func (h files) own(dir, kind string) string {
	name := path.Join(dir, own+kind+"-"+strings.ToLower(rand.Text()[:12]))
	h.left.mu.Lock()
	defer h.left.mu.Unlock()
	h.left.using[name] = true
	return name
}

// List implements Host. Symbolic links are not followed: one that leads to a file would be replaced by a file, one
// that leads to a folder may lead in a circle.
func (h files) List(ctx context.Context, found func(n int)) (Listing, error) {
	return walk(ctx, found, func(dir string) (folderHeld, error) { return h.members(ctx, dir) }, Forbidden, Gone)
}

// members lists one folder. What a process that was killed left in it is taken away.
func (h files) members(ctx context.Context, dir string) (held folderHeld, err error) {
	infos, err := h.ReadDir(ctx, dir)
	if err != nil {
		return held, h.Say(err, cmp.Or(dir, "the folder"))
	}
	for _, i := range infos {
		name := path.Join(dir, i.Name())
		switch {
		case strings.HasPrefix(i.Name(), own) && time.Since(i.ModTime()) > staleAfter:
			_ = h.Unlink(ctx, name)
		case strings.HasPrefix(i.Name(), ".") && !remnant.MatchString(i.Name()):
		case !utf8.ValidString(i.Name()):
			held.files = append(held.files, File{Path: strings.ToValidUTF8(name, "\uFFFD"), Size: i.Size(), Odd: noUTF8})
		case i.IsDir():
			held.below = append(held.below, name)
		case i.Mode()&fs.ModeSymlink != 0 && path.Ext(name) == "":
			held.left = append(held.left, fmt.Sprintf("%s is a link to something else and was left out.", name))
		case i.Mode()&fs.ModeSymlink != 0:
			held.files = append(held.files, File{Path: name, Odd: "It is a link to another file on the host. Edit that one."})
		case i.Mode().IsRegular():
			held.files = append(held.files, File{Path: name, Size: i.Size()})
		}
	}
	return held, nil
}

// Read implements Host.
func (h files) Read(ctx context.Context, file string) (Content, error) {
	name, err := clean(file)
	if err != nil {
		return Content{}, err
	}
	i, err := h.Lstat(ctx, name)
	if err != nil {
		return Content{}, h.Say(err, file)
	}
	if !i.Mode().IsRegular() {
		return Content{}, &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"%s is no file on the host, but a folder or a link. Mendry neither follows nor replaces it.",
				file,
			),
		}
	}
	if i.Size() > MaxFile {
		return Content{}, tooLarge()
	}
	b, err := h.ReadFile(ctx, name)
	if err != nil {
		return Content{}, h.Say(err, file)
	}
	return Content{Bytes: b, Media: mediaOf(name)}, nil
}

// mediaOf is the media type of a file whose host tells none.
func mediaOf(name string) string {
	media := mime.TypeByExtension(path.Ext(name))
	if strings.HasPrefix(media, "text/html") {
		return "text/html" // Go's own table says utf-8; the page says what it is in
	}
	return media
}

// clean is a path below the site's folder, and nothing else.
func clean(file string) (string, error) {
	name := path.Clean(strings.TrimPrefix(file, "/"))
	if name == "." || name == ".." || strings.HasPrefix(name, "../") || strings.ContainsRune(name, 0) {
		return "", &Problem{Kind: Odd, Say: fmt.Sprintf("“%s” is no name of a file of the site.", file)}
	}
	return name, nil
}

// Write implements Host: beside, and moved over in one step. A second name keeps hold of the file that is replaced, so
// that what somebody writes into it in between is found and put back.
func (h files) Write(ctx context.Context, file string, b []byte, over *Content) error {
	name, err := clean(file)
	if err != nil {
		return err
	}
	dir := path.Dir(name)
	if err := h.folders(ctx, dir); err != nil {
		return h.Say(err, file)
	}
	beside := h.own(dir, "new")
	defer h.clear(ctx, beside)
	if over == nil {
		if err := h.Create(ctx, beside, b); err != nil {
			return h.Say(err, file)
		}
		h.openAsItsLike(ctx, beside, name)
		if h.link(ctx, beside, name) {
			return nil
		}
		if _, err := h.Lstat(ctx, name); err == nil {
			return changed(file)
		}
		return h.Say(h.Rename(ctx, beside, name), file) // a host without links
	}
	was, err := h.Lstat(ctx, name)
	if err != nil {
		return h.Say(err, file)
	}
	if !was.Mode().IsRegular() {
		return &Problem{
			Kind: Odd,
			Say:  fmt.Sprintf("%s has become a link or a folder on the host. Mendry does not replace it.", file),
		}
	}
	if !h.Beside() || names(was) > 1 { // another one of them would go on with the old file
		return h.inPlace(ctx, name, file, b, over)
	}
	if err := h.Create(ctx, beside, b); err != nil {
		return h.Say(err, file)
	}
	if err := h.Like(ctx, beside, was); err != nil { // it would belong to somebody else: the file itself is written
		return h.inPlace(ctx, name, file, b, over)
	}
	aside := h.own(dir, "old")
	defer h.clear(ctx, aside)
	linked := h.link(ctx, name, aside)
	kept := name
	if linked {
		kept = aside
	}
	if now, err := h.ReadFile(ctx, kept); err != nil {
		return h.Say(err, file)
	} else if !bytes.Equal(now, over.Bytes) {
		return changed(file)
	}
	if err := h.Rename(ctx, beside, name); err != nil {
		return h.Say(err, file)
	}
	if !linked {
		return nil
	}
	select { // an opening that has found the old file by its name may be about to empty it
	case <-time.After(InFlight):
	case <-ctx.Done():
	}
	now, err := h.ReadFile(ctx, aside)
	if err != nil || bytes.Equal(now, over.Bytes) {
		return nil
	}
	if err := h.Rename(ctx, aside, name); err != nil { // what they wrote stands again
		return h.Say(err, file)
	}
	return changed(file)
}

// link gives a file a second name, and reports whether it has that: a host may say so and make none (rclone's SFTP).
func (h files) link(ctx context.Context, old, name string) bool {
	if h.Link(ctx, old, name) != nil {
		return false
	}
	h.left.mu.Lock()
	seen := h.left.links
	h.left.mu.Unlock()
	if !seen {
		if _, err := h.Lstat(ctx, name); err != nil {
			return false
		}
		h.left.mu.Lock()
		h.left.links = true
		h.left.mu.Unlock()
	}
	return true
}

// openAsItsLike lets those read a new file who may read its like in the same folder, best one with the same ending: a server's
// own mask may keep visitors off. Where that cannot be done, it shows when visitors are given the file.
func (h files) openAsItsLike(ctx context.Context, made, name string) {
	infos, err := h.ReadDir(ctx, strings.TrimPrefix(path.Dir(name), "."))
	if err != nil {
		return
	}
	var like fs.FileInfo
	for _, i := range infos {
		if !i.Mode().IsRegular() || i.Mode().Perm() == 0 || strings.HasPrefix(i.Name(), ".") {
			continue
		}
		if like == nil || path.Ext(like.Name()) != path.Ext(name) && path.Ext(i.Name()) == path.Ext(name) {
			like = i
		}
	}
	if like != nil {
		_ = h.Chmod(ctx, made, like.Mode().Perm()&^0o111) // a page need not be run, though its neighbour may
	}
}

// names is how many names a file has, where its host tells.
func names(i fs.FileInfo) uint64 {
	if s, ok := i.Sys().(*syscall.Stat_t); ok {
		return uint64(s.Nlink)
	}
	return 1
}

// inPlace writes into the file that is there, right after looking at it once more.
func (h files) inPlace(ctx context.Context, name, file string, b []byte, over *Content) error {
	now, err := h.ReadFile(ctx, name)
	if err != nil {
		return h.Say(err, file)
	}
	if !bytes.Equal(now, over.Bytes) {
		return changed(file)
	}
	return h.Say(h.Overwrite(ctx, name, b), file)
}

func changed(file string) *Problem {
	return &Problem{
		Kind: Changed,
		Say:  fmt.Sprintf("%s was changed by somebody else since it was last read. Nothing was overwritten.", file),
	}
}

func tooLarge() error {
	return &Problem{
		Kind: Odd,
		Say:  fmt.Sprintf("The file has more than %d MB; Mendry does not take in files of that size.", MaxFile>>20),
	}
}

// free says that no write goes on with a file of Mendry's own.
func (h files) free(name string) {
	h.left.mu.Lock()
	defer h.left.mu.Unlock()
	delete(h.left.using, name)
}

// sweep takes away what a process of this installation left beside a file when it was killed over it.
func (h files) sweep(ctx context.Context, file string) {
	name, err := clean(file)
	if err != nil {
		return
	}
	dir := path.Dir(name)
	infos, err := h.ReadDir(ctx, strings.TrimPrefix(dir, "."))
	if err != nil {
		return // what is to be done with the file tells why
	}
	for _, i := range infos {
		left := path.Join(dir, i.Name())
		h.left.mu.Lock()
		used := h.left.using[left] || left == lockFile
		h.left.mu.Unlock()
		if strings.HasPrefix(i.Name(), own) && !used {
			h.clear(ctx, left)
		}
	}
	h.left.locks.Lock()
	defer h.left.locks.Unlock()
	if who, err := h.ReadFile(ctx, lockFile); err == nil && h.left.locked == 0 && string(who) == h.by+"\n" {
		h.clear(ctx, lockFile)
	}
}

// clear takes away a file of Mendry's own, also when what it was for was left.
func (h files) clear(ctx context.Context, name string) {
	h.free(name)
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	err := h.Unlink(ctx, name)
	h.left.mu.Lock()
	defer h.left.mu.Unlock()
	if err == nil || errors.Is(err, fs.ErrNotExist) {
		delete(h.left.names, name)
	} else {
		h.left.names[name] = true // taken away at the next write, or when the site is listed
	}
}

// tidy takes away what a cut line has left.
func (h files) tidy(ctx context.Context) {
	h.left.mu.Lock()
	names := slices.Collect(maps.Keys(h.left.names))
	h.left.mu.Unlock()
	for _, n := range names {
		h.clear(ctx, n)
	}
}

// folders makes the folders that are missing.
func (h files) folders(ctx context.Context, dir string) error {
	if dir == "." || dir == "" {
		return nil
	}
	if _, err := h.Lstat(ctx, dir); err == nil || !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := h.folders(ctx, path.Dir(dir)); err != nil {
		return err
	}
	err := h.Mkdir(ctx, dir)
	if _, there := h.Lstat(ctx, dir); there == nil {
		return nil // somebody else may have been faster
	}
	return err
}

// Remove implements Host: the file is moved aside in one step, looked at, and only then removed.
func (h files) Remove(ctx context.Context, file string, over Content) error {
	name, err := clean(file)
	if err != nil {
		return err
	}
	aside := h.own(path.Dir(name), "old")
	defer h.free(aside)
	if err := h.Rename(ctx, name, aside); err != nil {
		if errors.Is(err, fs.ErrNotExist) {
			return nil
		}
		return h.Say(err, file)
	}
	if now, err := h.ReadFile(ctx, aside); err != nil || !bytes.Equal(now, over.Bytes) {
		if !h.link(ctx, aside, name) {
			_ = h.Rename(ctx, aside, name)
			return changed(file)
		}
		h.clear(ctx, aside)
		return changed(file)
	}
	return h.Say(h.Unlink(ctx, aside), file)
}

// lockFile is what other installations of Mendry find where this one writes.
const lockFile = own + "lock"

// A lock that is there and not whole is being written by another installation just now, or stands for a disk that took its
// name and nothing more: it is looked at again before it counts as either.
const (
	lockLooks = 4
	lockPause = 200 * time.Millisecond
)

// Hold implements Host with a file that other installations of Mendry know; others do not, and are found out by
// comparing.
func (h files) Hold(ctx context.Context, _ string) (func(), bool, error) {
	h.left.locks.Lock()
	defer h.left.locks.Unlock()
	if h.left.locked == 0 {
		if held, err := h.lock(ctx); !held {
			return func() {}, false, err
		}
	}
	h.left.locked++
	return func() {
		h.left.locks.Lock()
		defer h.left.locks.Unlock()
		if h.left.locked--; h.left.locked == 0 {
			h.clear(ctx, lockFile)
		}
	}, true, nil
}

// lock makes the lock, and reports whether it lies there.
func (h files) lock(ctx context.Context) (bool, error) {
	h.tidy(ctx)
	var failed error
	for look := range 2 * lockLooks {
		if failed = h.Create(ctx, lockFile, []byte(h.by+"\n")); failed == nil {
			return true, nil
		}
		i, err := h.Lstat(ctx, lockFile)
		if err != nil && (look >= rewrites || !errors.Is(err, fs.ErrNotExist)) {
			return false, nil // the host allows no such file
		}
		if err != nil {
			continue // it went away just now
		}
		who, _ := h.ReadFile(ctx, lockFile)
		by, whole := strings.CutSuffix(string(who), "\n")
		switch {
		case !whole && look%lockLooks < lockLooks-1:
			select {
			case <-time.After(lockPause):
			case <-ctx.Done():
				return false, ctx.Err()
			}
			continue
		case whole && by != h.by && time.Since(i.ModTime()) < heldFor*time.Second:
			return false, &Problem{
				Kind: Locked,
				Say: fmt.Sprintf(
					"The site is being written by %s just now. Nothing was written. Go on when they are done.",
					strings.ToValidUTF8(by, "?"),
				),
			}
		}
		h.clear(ctx, lockFile) // this installation left it when it was killed, or somebody did long ago
	}
	if said := h.Say(failed, lockFile); Is(said, Full) || Is(said, Forbidden) || Is(said, Down) || Is(said, Slow) {
		return false, said
	}
	return false, &Problem{
		Kind: Full,
		Say:  "The host takes the name of a small file and none of its bytes: its disk may be full, or read-only. Nothing was written. Ask whoever runs it, then go on.",
	}
}

// Try implements Host.
func (h files) Try(ctx context.Context) (k Knows, err error) {
	dir := tryName()
	one, two := []byte("one\n"), []byte("two\n")
	file, other := dir+"/try.txt", dir+"/other.txt"
	defer func() {
		ctx := context.WithoutCancel(ctx)
		for _, f := range []string{file, other} {
			_ = h.Unlink(ctx, f)
		}
		if err := h.Unlink(ctx, dir); err != nil && !errors.Is(err, fs.ErrNotExist) {
			k.Left = dir
		}
	}()
	defer func() {
		if shows, ok := h.tree.(interface{ Key() string }); ok {
			k.Key = shows.Key()
		}
	}()
	if err := h.Write(ctx, file, one, nil); err != nil {
		if !ofWriting(err) {
			return k, err
		}
		k.WhyNot = err.Error()
		return k, nil
	}
	if err := h.Write(ctx, file, two, &Content{Bytes: one}); err != nil {
		k.WhyNot = err.Error()
		return k, nil
	}
	c, err := h.Read(ctx, file)
	if err != nil {
		return k, err
	}
	if !bytes.Equal(c.Bytes, two) {
		k.WhyNot = "The host gives back other bytes than it was given. Ask whoever runs it."
		return k, nil
	}
	k.MayWrite, k.Whole = true, h.tree.Beside()
	k.Beside = h.link(ctx, file, other)
	return k, nil
}

// fromOS says in words what an error of a file system means.
func fromOS(err error, name string) error {
	var p *Problem
	switch {
	case err == nil || errors.As(err, &p) || errors.Is(err, context.Canceled):
		return err
	case errors.Is(err, fs.ErrNotExist):
		return fromStatus(404, name)
	case errors.Is(err, fs.ErrPermission) || errors.Is(err, syscall.EROFS):
		return fromStatus(403, name)
	case errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT) || errors.Is(err, syscall.EFBIG):
		return fromStatus(507, name)
	case errors.Is(err, syscall.ELOOP):
		return &Problem{Kind: Odd, Say: fmt.Sprintf("%s is a link that leads in a circle.", name)}
	case errors.Is(err, context.DeadlineExceeded):
		return fromStatus(504, name)
	}
	return &Problem{
		Kind: Broken,
		Say: fmt.Sprintf(
			"The host failed over %s. Try again in a few minutes; if it stays so, tell whoever runs the host.",
			name,
		),
	}
}
