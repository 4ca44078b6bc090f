package host_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"mendry/internal/host"
)

// A file of a site is written by the law: over what it was, and not over what somebody else made of it.
func ExamplePut() {
	dir, err := os.MkdirTemp("", "site")
	if err != nil {
		fmt.Println(err)
		return
	}
	defer os.RemoveAll(dir)
	_ = os.WriteFile(filepath.Join(dir, "fares.html"), []byte("<p>£6.90</p>"), 0o600)

	ctx := context.Background()
	h, err := host.Open(
		host.Network{Folders: []string{dir}},
		host.Reach{Kind: "folder", URL: "file://" + dir + "/"},
		time.Minute,
	)
	if err != nil {
		fmt.Println(err)
		return
	}
	now, err := host.Put(ctx, h, "fares.html", []byte("<p>£6.90</p>"), []byte("<p>£7.40</p>"), false)
	fmt.Printf("%s %v\n", now.Bytes, err)
	_, err = host.Put(ctx, h, "fares.html", []byte("<p>£6.90</p>"), []byte("<p>£7.80</p>"), false)
	fmt.Println(err)
	// Output:
	// <p>£7.40</p> <nil>
	// fares.html was changed by somebody else since it was last read. Nothing was overwritten.
}
