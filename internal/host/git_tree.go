package host

import (
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/go-git/go-git/v5/plumbing"
	"github.com/go-git/go-git/v5/plumbing/filemode"
	"github.com/go-git/go-git/v5/plumbing/object"
	"github.com/go-git/go-git/v5/storage/memory"
)

// commit is one that is to be pushed.
type commit struct {
	head    plumbing.Hash
	files   map[string]object.TreeEntry
	store   *memory.Storage
	objects []plumbing.Hash // that the host does not have
}

// filesOf lists the files of a commit by their paths.
func filesOf(store *memory.Storage, head plumbing.Hash) (map[string]object.TreeEntry, error) {
	c, err := object.GetCommit(store, head)
	if err != nil {
		return nil, err
	}
	files := map[string]object.TreeEntry{}
	met, named := 0, 0
	var walk func(tree plumbing.Hash, at string, deep int) error
	walk = func(tree plumbing.Hash, at string, deep int) error {
		if deep > deepest {
			return fmt.Errorf("folders stand in each other more than %d deep", deepest)
		}
		t, err := object.GetTree(store, tree)
		if err != nil {
			return err
		}
		for _, e := range t.Entries {
			// Trees that hold one another twice name any number of files in a few bytes.
			met, named = met+1, named+len(at)+len(e.Name)
			if met > mostObjects || named > mostNamed {
				return errMuch
			}
			if e.Mode != filemode.Dir {
				files[at+e.Name] = e
				continue
			}
			if err := walk(e.Hash, at+e.Name+"/", deep+1); err != nil {
				return err
			}
		}
		return nil
	}
	return files, walk(c.TreeHash, "", 0)
}

func blobOf(store *memory.Storage, hash plumbing.Hash) ([]byte, error) {
	o, err := store.EncodedObject(plumbing.BlobObject, hash)
	if err != nil {
		return nil, &Problem{Kind: Odd, Say: "The repository does not hold the file's content. Tell whoever runs it."}
	}
	if o.Size() > MaxFile {
		return nil, tooLarge()
	}
	r, err := o.Reader()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return io.ReadAll(r)
}

// build makes the commit that does edits to the one in memory. The lock is held.
func (g *repository) build(by, words string, edits []Edit) (commit, error) {
	c := commit{files: maps.Clone(g.files), store: g.store}
	for _, e := range edits {
		name := g.folder + e.File
		if e.After == nil {
			delete(c.files, name)
			continue
		}
		hash, err := c.keep(plumbing.BlobObject, e.After)
		if err != nil {
			return c, err
		}
		entry, had := c.files[name]
		if entry.Hash = hash; !had {
			entry.Mode = filemode.Regular
		}
		c.files[name] = entry
	}
	tree, err := c.tree("", slices.Sorted(maps.Keys(c.files)))
	if err != nil {
		return c, err
	}
	who := object.Signature{Name: by, Email: "mendry@invalid", When: time.Now()} // a name that is nobody's (RFC 2606)
	o := c.store.NewEncodedObject()
	made := object.Commit{Author: who, Committer: who, Message: words, TreeHash: tree, ParentHashes: []plumbing.Hash{g.head}}
	if err := made.Encode(o); err != nil {
		return c, err
	}
	c.head, err = c.store.SetEncodedObject(o)
	c.objects = append(c.objects, c.head)
	return c, err
}

// keep stores an object and notes it as new where the host has none like it.
func (c *commit) keep(kind plumbing.ObjectType, b []byte) (plumbing.Hash, error) {
	o := c.store.NewEncodedObject()
	o.SetType(kind)
	w, err := o.Writer()
	if err != nil {
		return plumbing.ZeroHash, err
	}
	if _, err := w.Write(b); err != nil {
		return plumbing.ZeroHash, err
	}
	if err := w.Close(); err != nil {
		return plumbing.ZeroHash, err
	}
	c.objects = append(c.objects, o.Hash())
	return c.store.SetEncodedObject(o)
}

// tree stores the tree of the files below a folder; names are their paths, in order.
func (c *commit) tree(at string, names []string) (plumbing.Hash, error) {
	var t object.Tree
	for i := 0; i < len(names); {
		rest := strings.TrimPrefix(names[i], at)
		dir, _, below := strings.Cut(rest, "/")
		if !below {
			e := c.files[names[i]]
			e.Name = rest
			t.Entries = append(t.Entries, e)
			i++
			continue
		}
		j := i
		for j < len(names) && strings.HasPrefix(names[j], at+dir+"/") {
			j++
		}
		hash, err := c.tree(at+dir+"/", names[i:j])
		if err != nil {
			return hash, err
		}
		t.Entries = append(t.Entries, object.TreeEntry{Name: dir, Mode: filemode.Dir, Hash: hash})
		i = j
	}
	slices.SortFunc(t.Entries, func(a, b object.TreeEntry) int { return strings.Compare(sortName(a), sortName(b)) })
	o := c.store.NewEncodedObject()
	if err := t.Encode(o); err != nil {
		return plumbing.ZeroHash, err
	}
	c.objects = append(c.objects, o.Hash())
	return c.store.SetEncodedObject(o)
}

// sortName is what git sorts the entries of a tree by: folders as if a slash stood behind them (gitformat-index).
func sortName(e object.TreeEntry) string {
	if e.Mode == filemode.Dir {
		return e.Name + "/"
	}
	return e.Name
}
