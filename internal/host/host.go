// Package host reads and writes sites where they live. One file a kind of host. Write does what a host can; Put and
// TakeAway keep the law of writing on any of them: never over somebody else's edit, and whole or said.
package host

import (
	"context"
	"fmt"
	"time"
)

// MaxFile is the largest file that is read from a host, in bytes.
const MaxFile = 32 << 20

// MaxFiles is how many files of a site are listed at most.
const MaxFiles = 60_000

// File is a file on a host.
type File struct {
	Path string // below the site's folder, without a slash at the beginning
	Size int64  // bytes
	Odd  string // why it cannot be read or written, in words; empty where it can
	Page bool   // it was seen to be a page; otherwise its name tells
	Mute bool   // it did not answer just now, Odd says why: what is known of it may hold on
}

// noUTF8 is why a file is odd whose name cannot be asked for again.
const noUTF8 = "Its name on the host is no name that Mendry can write (it is not UTF-8). Rename it there."

// Listing is what a site's folder holds.
type Listing struct {
	Files []File
	Left  []string // folders that were left out, each with the reason, in words
}

// Content is a file as it was read.
type Content struct {
	Bytes []byte
	Tag   string // a strong entity tag; empty where there is none that a write can depend on
	Weak  bool   // there is one, but a weak one
	Media string
	Kept  time.Duration // how long caches may still give this to visitors, where that is known
}

// Host is where a site's files live. Its errors are Problems, but for what ended with its context. Several goroutines
// may use it.
type Host interface {
	// List lists the files of the site, folders walked; found is called as it goes on and may be nil.
	List(ctx context.Context, found func(n int)) (Listing, error)
	// Read reads a file as it lies there.
	Read(ctx context.Context, file string) (Content, error)
	// Write writes a file over the one that was read, or as a new one where over is nil. It depends on what was read
	// as far as the host can; an edit by others that the host noticed is a Problem of kind Changed. Missing folders
	// are made.
	Write(ctx context.Context, file string, b []byte, over *Content) error
	// Remove removes the file that was read.
	Remove(ctx context.Context, file string, over Content) error
	// Hold keeps others from writing a file until it is let go, where the host can do that; held says whether it does.
	// A file that others hold is a Problem of kind Locked.
	Hold(ctx context.Context, file string) (free func(), held bool, err error)
	// Try finds out what the host does, with files of Mendry's own that are taken away again.
	Try(ctx context.Context) (Knows, error)
}

// Reach is how a host is reached.
type Reach struct {
	Kind       string // as in kinds
	URL        string
	User, Pass string // the password, or the passphrase of the key
	Key        string // a private key, in the form of OpenSSH or PEM; empty where a password signs in
	Pinned     string // the host's own key, as it was seen first (known_hosts); empty where none was
	Public     string // where visitors find the site
	Unheld     bool   // the host was seen to honour no locks: none is asked for
	By         string // names Mendry to others who find a file held; one name for each installation
}

// kinds are the kinds of hosts, one file each.
var kinds = map[string]func(Network, Reach, time.Duration) (Host, error){
	"webdav": func(n Network, r Reach, timeout time.Duration) (Host, error) { return NewWebDAV(n, r, timeout) },
	"sftp":   NewSFTP,
	"ftp":    NewFTP,
	"folder": func(n Network, r Reach, _ time.Duration) (Host, error) { return NewFolder(n, r) },
	"git":    NewGit,
	"hand":   NewHand,
}

// Open reaches a host.
func Open(n Network, r Reach, timeout time.Duration) (Host, error) {
	open := kinds[r.Kind]
	if open == nil {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("Mendry knows no kind of host “%s”.", r.Kind)}
	}
	return open(n, r, timeout)
}

// standing is what stands at a path; nil where nothing does.
func standing(ctx context.Context, h Host, file string) (*Content, error) {
	c, err := h.Read(ctx, file)
	for try := 0; Is(err, Short) && try < 3; try++ { // it was written just then; lighttpd knows its length a second later
		time.Sleep(100 * time.Millisecond << (2 * try))
		c, err = h.Read(ctx, file)
	}
	if Is(err, Gone) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	if c.Bytes == nil {
		c.Bytes = []byte{}
	}
	return &c, nil
}
