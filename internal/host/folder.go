package host

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path"
	"path/filepath"
	"strings"
	"syscall"
)

// folder is a folder of this machine, as where a host is mounted.
type folder struct {
	root *os.Root
}

// NewFolder reaches a folder by its address, file:///srv/site/. The network says below which folders sites may lie.
func NewFolder(n Network, r Reach) (Host, error) {
	u, err := url.Parse(strings.TrimSpace(r.URL))
	if err != nil || u.Scheme != "file" || u.Host != "" && u.Host != "localhost" || !path.IsAbs(u.Path) {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("“%s” is no folder. Write it like file:///srv/site/.", r.URL)}
	}
	dir, err := filepath.EvalSymlinks(filepath.FromSlash(u.Path))
	if err != nil {
		return nil, fromOS(err, "folder "+u.Path)
	}
	if !n.mayHold(dir) {
		return nil, &Problem{
			Kind: Private,
			Say: fmt.Sprintf(
				"%s is no folder in which Mendry may keep sites. Whoever runs Mendry names those (--folders).",
				u.Path,
			),
		}
	}
	root, err := os.OpenRoot(dir)
	if err != nil {
		return nil, fromOS(err, "folder "+u.Path)
	}
	return newFiles(folder{root}, r.By), nil
}

// mayHold reports whether a folder lies in one of those that sites may lie in.
func (n Network) mayHold(dir string) bool {
	for _, f := range n.Folders {
		if at, err := filepath.EvalSymlinks(f); err == nil {
			if rel, err := filepath.Rel(at, dir); err == nil && filepath.IsLocal(rel) {
				return true
			}
		}
	}
	return false
}

func (f folder) Beside() bool { return true }

func (f folder) Say(err error, name string) error { return fromOS(err, name) }

func (f folder) ReadDir(_ context.Context, dir string) ([]fs.FileInfo, error) {
	d, err := f.root.Open(cmp.Or(dir, "."))
	if err != nil {
		return nil, err
	}
	defer d.Close()
	return d.Readdir(-1)
}

func (f folder) Lstat(_ context.Context, name string) (fs.FileInfo, error) { return f.root.Lstat(name) }

func (f folder) ReadFile(_ context.Context, name string) ([]byte, error) {
	r, err := f.root.Open(name)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return readLimited(r)
}

// readLimited reads a file that may have grown since it was looked at.
func readLimited(r io.Reader) ([]byte, error) {
	b, err := io.ReadAll(io.LimitReader(r, MaxFile+1))
	if err == nil && len(b) > MaxFile {
		return nil, tooLarge()
	}
	return b, err
}

func (f folder) write(name string, b []byte, flags int) error {
	w, err := f.root.OpenFile(name, os.O_WRONLY|flags, 0o644)
	if err != nil {
		return err
	}
	_, err = w.Write(b)
	if err == nil {
		err = w.Sync()
	}
	if e := w.Close(); err == nil {
		err = e
	}
	return err
}

func (f folder) Create(_ context.Context, name string, b []byte) error {
	return f.write(name, b, os.O_CREATE|os.O_EXCL)
}

func (f folder) Overwrite(_ context.Context, name string, b []byte) error {
	return f.write(name, b, os.O_TRUNC)
}

func (f folder) Like(_ context.Context, name string, like fs.FileInfo) error {
	if s, ok := like.Sys().(*syscall.Stat_t); ok {
		if err := f.root.Lchown(name, int(s.Uid), int(s.Gid)); err != nil {
			return err
		}
	}
	return f.root.Chmod(name, like.Mode().Perm()) // after the owner, whose change takes bits away
}

func (f folder) Chmod(_ context.Context, name string, mode fs.FileMode) error {
	return f.root.Chmod(name, mode)
}

func (f folder) Link(_ context.Context, old, name string) error   { return f.root.Link(old, name) }
func (f folder) Rename(_ context.Context, old, name string) error { return f.root.Rename(old, name) }
func (f folder) Unlink(_ context.Context, name string) error      { return f.root.Remove(name) }
func (f folder) Mkdir(_ context.Context, name string) error       { return f.root.Mkdir(name, 0o755) }
