package host

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/go-git/go-git/v5/plumbing"
	"github.com/go-git/go-git/v5/plumbing/filemode"
	"github.com/go-git/go-git/v5/plumbing/object"
	"github.com/go-git/go-git/v5/storage/memory"

	"mendry/internal/core/release"
)

// Committer is a host on which a release is one act: all of its files, or none.
type Committer interface {
	// Commit makes of each file's before its after, in one step, with words that say why and by whom. Files that are
	// as they are to be are left. An edit by others is a TheirsError that names its file; nothing is written then.
	Commit(ctx context.Context, by, words string, edits []Edit) error
}

// Edit is what a Commit does to one file; nil stands for no file.
type Edit struct {
	File          string
	Before, After []byte
}

// repository is a git repository from which a host builds its pages. Mendry keeps the last commit of one branch in
// memory, fetched without history, and pushes commits of its own. It speaks the protocol (gitprotocol-pack) by itself,
// on go-git's formats: git's own program may be missing, and would reach addresses that Mendry may not.
type repository struct {
	wire   wire
	branch string
	folder string // in which the site's files are, with a slash at its end; empty for the whole repository

	mu    sync.Mutex
	store *memory.Storage
	head  plumbing.Hash
	files map[string]object.TreeEntry // of the commit, by path
	asked time.Time                   // when the branch was asked for last
	drop  *time.Timer
}

const (
	freshFor  = time.Second     // how long a branch that was asked for counts as it was
	unusedFor = 2 * time.Minute // how long a repository that nobody uses is kept in memory
	mostRefs  = 16 << 20        // bytes of the names of its branches
	pushTries = 8               // when others push to the same branch
	pushPause = 40 * time.Millisecond
)

// NewGit reaches a repository by its address, ssh://git@host/site.git#main, with :folder/ behind the branch where the
// site is not at the top; https:// too.
func NewGit(n Network, r Reach, timeout time.Duration) (Host, error) {
	w, at, err := newWire(n, r, timeout)
	if err != nil {
		return nil, err
	}
	branch, folder, _ := strings.Cut(at, ":")
	if branch == "" {
		branch = "main"
	}
	if folder = strings.Trim(path.Clean("/"+folder), "/"); folder != "" {
		folder += "/"
	}
	return &repository{wire: w, branch: branch, folder: folder}, nil
}

func (g *repository) ref() plumbing.ReferenceName { return plumbing.NewBranchReferenceName(g.branch) }

// update brings the commit in memory up to what the branch is; the lock is held.
func (g *repository) update(ctx context.Context, fresh bool) error {
	if g.drop != nil {
		g.drop.Stop()
	}
	g.drop = time.AfterFunc(unusedFor, func() {
		g.mu.Lock()
		defer g.mu.Unlock()
		g.store, g.files, g.head = nil, nil, plumbing.ZeroHash
	})
	if !fresh && g.store != nil && time.Since(g.asked) < freshFor {
		return nil
	}
	store, head, err := g.wire.fetch(ctx, g.ref(), g.head)
	if err != nil {
		return err
	}
	g.asked = time.Now()
	if head == g.head && g.store != nil {
		return nil
	}
	files, err := filesOf(store, head)
	if errors.Is(err, errMuch) {
		return g.wire.tooMuch()
	}
	if err != nil {
		return &Problem{Kind: Odd, Say: "The repository cannot be read: " + err.Error() + ". Tell whoever runs it."}
	}
	g.store, g.head, g.files = store, head, files
	return nil
}

// List implements Host.
func (g *repository) List(ctx context.Context, found func(n int)) (Listing, error) {
	g.mu.Lock()
	defer g.mu.Unlock()
	var all Listing
	if err := g.update(ctx, true); err != nil {
		return all, err
	}
	for name, e := range g.files {
		file, in := strings.CutPrefix(name, g.folder)
		if !in || strings.HasPrefix(file, ".") || strings.Contains(file, "/.") {
			continue
		}
		f := File{Path: file}
		switch e.Mode {
		case filemode.Symlink:
			f.Odd = "It is a link to another file in the repository. Edit that one."
		case filemode.Submodule:
			all.Left = append(all.Left, fmt.Sprintf("%s is another repository and was left out.", file))
			continue
		default:
			b, err := g.store.EncodedObject(plumbing.BlobObject, e.Hash)
			if err != nil {
				f.Odd = "The repository does not hold it."
				break
			}
			f.Size = b.Size()
		}
		all.Files = append(all.Files, f)
	}
	if len(all.Files) > MaxFiles {
		return all, &Problem{Kind: Odd, Say: fmt.Sprintf("The repository has more than %d files. Name the folder of one site behind its branch, like #main:site/.", MaxFiles)}
	}
	slices.SortFunc(all.Files, func(a, b File) int { return strings.Compare(a.Path, b.Path) })
	if found != nil {
		found(len(all.Files))
	}
	return all, nil
}

// Read implements Host.
func (g *repository) Read(ctx context.Context, file string) (Content, error) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if err := g.update(ctx, false); err != nil {
		return Content{}, err
	}
	return g.read(file)
}

// read reads a file of the commit in memory; the lock is held.
func (g *repository) read(file string) (Content, error) {
	e, ok := g.files[g.folder+file]
	if !ok {
		return Content{}, fromStatus(404, file)
	}
	if e.Mode != filemode.Regular && e.Mode != filemode.Executable && e.Mode != filemode.Deprecated {
		return Content{}, &Problem{Kind: Odd, Say: file + " is no file in the repository, but a link. Mendry neither follows nor replaces it."}
	}
	b, err := blobOf(g.store, e.Hash)
	if err != nil {
		return Content{}, err
	}
	return Content{Bytes: b, Tag: e.Hash.String(), Media: mediaOf(file)}, nil
}

// Write implements Host.
func (g *repository) Write(ctx context.Context, file string, b []byte, over *Content) error {
	return g.Commit(ctx, "Mendry", "Change "+file, []Edit{{file, bytesOf(over), b}})
}

// Remove implements Host.
func (g *repository) Remove(ctx context.Context, file string, over Content) error {
	return g.Commit(ctx, "Mendry", "Take "+file+" away", []Edit{{file, over.Bytes, nil}})
}

// Hold implements Host: a push is refused where somebody was faster, so that nothing need be held.
func (g *repository) Hold(context.Context, string) (func(), bool, error) {
	return func() {}, false, nil
}

// Try implements Host: who may push is told how the branches stand (gitprotocol-pack, git-receive-pack).
func (g *repository) Try(ctx context.Context) (Knows, error) {
	k := Knows{Conditional: true, Whole: true}
	g.mu.Lock()
	defer g.mu.Unlock()
	if err := g.update(ctx, true); err != nil {
		return k, err
	}
	switch err := g.wire.mayPush(ctx); {
	case Is(err, Forbidden) || Is(err, Password):
		k.WhyNot = "The host lets Mendry read the repository and not push to it."
	case err != nil:
		return k, err
	default:
		k.MayWrite = true
	}
	k.Key = g.wire.key()
	return k, nil
}

// Commit implements Committer.
func (g *repository) Commit(ctx context.Context, by, words string, edits []Edit) error {
	g.mu.Lock()
	defer g.mu.Unlock()
	var refused error // by the last push, of a commit on top of was
	var was plumbing.Hash
	for try := 0; ; try++ {
		if err := g.update(ctx, true); err != nil {
			return cmp.Or(refused, err)
		}
		left, err := g.judge(edits) // after a refusal, or an answer that was lost, what the branch is now tells
		if err != nil || len(left) == 0 {
			return err
		}
		if refused != nil && (g.head == was && !Is(refused, Locked) || try > pushTries) {
			return refused
		}
		c, err := g.build(by, words, left) // on top of what others pushed to other files
		if err != nil {
			return err
		}
		was = g.head
		if refused = g.wire.push(ctx, g.ref(), was, c); refused == nil {
			g.head, g.files = c.head, c.files
			return nil
		}
		select {
		case <-time.After(time.Duration(try+1) * pushPause):
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

// judge tells which edits are still to be done. The lock is held.
func (g *repository) judge(edits []Edit) (left []Edit, err error) {
	for _, e := range edits {
		c, err := g.read(e.File)
		now := &c
		if Is(err, Gone) {
			now, err = nil, nil
		}
		if err != nil {
			return nil, err
		}
		switch release.Judge(bytesOf(now), e.Before, e.After, false) {
		case release.New:
		case release.Old:
			left = append(left, e)
		default:
			return nil, &TheirsError{Problem: changed(e.File), File: e.File, Found: now}
		}
	}
	return left, nil
}
