package link

import (
	"cmp"
	"path"
	"slices"
	"strings"
)

// Branch is a page in the tree of a site's pages.
type Branch struct {
	At     int    // which of the addresses
	Parent string // the address of the page that it lies under; empty at the top
	Depth  int    // pages above it
}

// Tree puts a site's pages in order: each under the page that its address lies under, those at one place as order
// says, which lists addresses as the menu does, and then by their addresses. The home page stands first, and nothing
// under it.
func Tree(addresses, order []string) []Branch {
	at := map[string]int{}
	for i, a := range addresses {
		at[plain(a)] = i
	}
	rank := map[string]int{}
	for i, a := range order {
		if _, ok := rank[plain(a)]; !ok {
			rank[plain(a)] = i
		}
	}
	kids := map[int][]int{}
	const top = -1
	for i, a := range addresses {
		parent := top
		for p := path.Dir(plain(a)); p != "/" && p != "."; p = path.Dir(p) {
			if k, ok := at[p]; ok && k != i {
				parent = k
				break
			}
		}
		kids[parent] = append(kids[parent], i)
	}
	place := func(i int) int {
		p := plain(addresses[i])
		if p == "/" {
			return -1
		}
		if r, ok := rank[p]; ok {
			return r
		}
		return len(order)
	}
	var all []Branch
	var add func(parent, depth int, name string)
	add = func(parent, depth int, name string) {
		some := kids[parent]
		slices.SortFunc(some, func(a, b int) int {
			return cmp.Or(cmp.Compare(place(a), place(b)), cmp.Compare(addresses[a], addresses[b]))
		})
		for _, i := range some {
			all = append(all, Branch{i, name, depth})
			add(i, depth+1, addresses[i])
		}
	}
	add(top, 0, "")
	return all
}

// plain is an address without what only says how its page is kept: the name of an index, the kind of file, a slash at
// the end.
func plain(address string) string {
	a := strings.TrimSuffix(address, "/")
	for _, end := range []string{".html", ".htm", ".xhtml"} {
		a = strings.TrimSuffix(a, end)
	}
	a = strings.TrimSuffix(a, "/index")
	if a == "" {
		return "/"
	}
	return a
}
