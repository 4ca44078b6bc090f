// Package host reads and writes sites where they live. One file a kind of host.
package host

import (
	"context"
	"fmt"
	"time"
)

// File is a file on a host.
type File struct {
	Path string // below the site's folder, without a slash at the beginning
	Size int64  // bytes
}

// Content is a file as it was read.
type Content struct {
	Bytes []byte
	ETag  string // empty where the host gives none
	Media string
}

// Host is where a site's files live. Its errors are Problems, but for what ended with its context.
type Host interface {
	// List lists the files of the site, folders walked; found is called as it goes on and may be nil.
	List(ctx context.Context, found func(n int)) ([]File, error)
	// Read reads a file.
	Read(ctx context.Context, file string) (Content, error)
	// Write writes a file over the one that was last read with this tag, or as a new one where tag is empty, and returns
	// the new tag, empty where the host gives none. An edit by others in between is a Problem of kind Changed.
	Write(ctx context.Context, file string, b []byte, tag string) (string, error)
	// Remove removes the file that was last read with this tag.
	Remove(ctx context.Context, file, tag string) error
	// Knows says what can be relied on.
	Knows() Knows
}

// Knows is what can be relied on with a host.
type Knows struct {
	Conditional bool // a write can be made to depend on the tag of what was read (RFC 9110, 13.1)
}

// Reach is how a host is reached.
type Reach struct {
	Kind       string // as in kinds
	URL        string
	User, Pass string
}

// kinds are the kinds of hosts, one file each.
var kinds = map[string]func(Network, Reach, time.Duration) (Host, error){
	"webdav": func(n Network, r Reach, timeout time.Duration) (Host, error) {
		return NewWebDAV(n, r.URL, r.User, r.Pass, timeout)
	},
}

// Open reaches a host.
func Open(n Network, r Reach, timeout time.Duration) (Host, error) {
	open := kinds[r.Kind]
	if open == nil {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("Mendry knows no kind of host “%s”.", r.Kind)}
	}
	return open(n, r, timeout)
}
