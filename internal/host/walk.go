package host

import (
	"context"
	"fmt"
	"path"
	"regexp"
	"slices"
	"sort"
	"strings"
)

// remnant are names of files that servers and programs write into before they are done: mod_dav_fs, ProFTPD, nginx
// (seen on them), rclone and two programs that people edit with (from memory).
var remnant = regexp.MustCompile(`^(?:\.davfs\.tmp\w+|\.in\..+|.+\.\d{10}|.+\.(?:partial|filepart|part))$`)

// folderHeld is what one folder holds: its files, its folders by their paths, and what of it was left out.
type folderHeld struct {
	files []File
	below []string
	left  []string
}

// walk lists a site's files, folder by folder. A folder below the site's own that fails with a problem of one of the
// kinds is left out; any other problem ends the walk.
func walk(
	ctx context.Context, found func(n int), members func(dir string) (folderHeld, error), leaveOut ...Kind,
) (Listing, error) {
	var all Listing
	folders := []inner{{}}
	for len(folders) > 0 {
		dir := folders[0]
		folders = folders[1:]
		held, err := members(dir.path)
		if err != nil {
			is := func(k Kind) bool { return Is(err, k) }
			if dir.path == "" || ctx.Err() != nil || !slices.ContainsFunc(leaveOut, is) {
				return all, err
			}
			all.Left = append(all.Left, fmt.Sprintf("The folder %s was left out: the host does not list it.", dir.path))
			continue
		}
		all.Left = append(all.Left, held.left...)
		held.files = slices.DeleteFunc(held.files, func(f File) bool {
			is := remnant.MatchString(path.Base(f.Path))
			if is {
				all.Left = append(all.Left, fmt.Sprintf("%s is what a write left that broke off. Have it taken away on the host.", f.Path))
			}
			return is
		})
		mark := printOf(held.files, held.below)
		if circle(dir, mark, len(held.below)) {
			all.Left = append(all.Left, fmt.Sprintf("The folder %s was left out: a link in it leads in a circle.", dir.path))
			continue
		}
		all.Files = append(all.Files, held.files...)
		for _, f := range held.below {
			folders = append(folders, inner{f, append(slices.Clip(dir.above), mark)})
		}
		if len(all.Files) > MaxFiles {
			return all, &Problem{
				Kind: Odd,
				Say:  fmt.Sprintf("The site has more than %d files. Point at the folder of one site.", MaxFiles),
			}
		}
		if found != nil {
			found(len(all.Files))
		}
	}
	sort.Slice(all.Files, func(i, j int) bool { return all.Files[i].Path < all.Files[j].Path })
	return all, nil
}

// deepest is how many folders stand in each other at most: deeper ones are a circle of links that was not known as
// one.
const deepest = 40

// inner is a folder that is to be listed, with the prints of those that it is in.
type inner struct {
	path  string // as members names it; empty for the site's own
	above []string
}

// printOf is what a folder is known by: the names and sizes of what is in it.
func printOf(files []File, inner []string) string {
	var b strings.Builder
	for _, f := range files {
		fmt.Fprintf(&b, "%s %d\n", path.Base(f.Path), f.Size)
	}
	for _, f := range inner {
		b.WriteString(path.Base(f) + "/\n")
	}
	return b.String()
}

// circle reports whether a folder is one that it is in: over WebDAV, and to some over FTP, a symbolic link looks like
// what it leads to. A folder that holds the same names and sizes as one above it, a folder among them, is taken for
// it.
func circle(f inner, mark string, folders int) bool {
	if len(f.above) > deepest {
		return true
	}
	for _, a := range f.above {
		if folders > 0 && a == mark {
			return true
		}
	}
	return false
}
