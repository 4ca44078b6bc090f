package act

import (
	"html"
	"slices"
	"strings"

	"mendry/internal/core/change"

	"mendry/internal/core/picture"
)

// Pick is a picture that is chosen, and what is done to it.
type Pick struct {
	Attachment int64        `json:"attachment_id,omitempty"` // one that came with the letter, or was added to the request
	Path       string       `json:"path,omitempty"`          // or one of the site, by its file
	Work       picture.Work `json:"work,omitzero"`
}

// PickOf is the picture that an act chooses, and the part that it names. The error is a refusal of one that chooses
// none.
func PickOf(a Act) (p Pick, part string, err error) {
	switch a := a.(type) {
	case *Picture:
		return a.pick(), a.Part, nil
	case *PutPicture:
		return a.pick(), a.Part, nil
	}
	return p, "", refuse("Only pictures are tried. Load the page again.")
}

// none reports whether nothing is chosen.
func (p Pick) none() bool { return p.Attachment == 0 && p.Path == "" }

// wide is the pick made so many pixels wide at most.
func (p Pick) wide(pixels int) Pick {
	p.Work.Width, p.Work.Percent = pixels, 0
	return p
}

// File is a picture that a change puts on a site, or one that stands there already.
type File struct {
	Path          string // its file on the host
	Src           string // as the page names it
	Media         string
	Width, Height int
	Size          int64
	Hash          string // SHA-256 of its bytes; empty for one that stands on the site
	Fixed         bool   // it cannot be made in other sizes: a drawing, a moving picture
}

// high is how high it stands where it is so wide, in the same unit; its own width is known.
func (f File) high(width int) int { return (width*f.Height + f.Width/2) / f.Width }

// named are those of the files that something names; a picture that is only there in other sizes is not written.
func (f *files) named(ops []change.Op) []File {
	return slices.DeleteFunc(slices.Clone(f.all), func(g File) bool {
		return !slices.ContainsFunc(ops, func(op change.Op) bool {
			said := op.HTML
			if op.Value != nil {
				said += *op.Value
			}
			return strings.Contains(said, html.EscapeString(g.Src)) || strings.Contains(said, g.Src) ||
				strings.Contains(said, "/"+g.Path)
		})
	})
}

// shown is the address of the picture that a change is of: the lead's, or where that is there in other sizes only,
// that of the first of them.
func shown(lead File, named []File) string {
	if lead.Hash != "" && len(named) > 0 {
		return named[0].Src
	}
	return lead.Src
}

// files are the pictures of one change, the one that it is of first.
type files struct {
	rest    Rest
	instead int64 // the change whose other wording it is; 0 for a new one
	all     []File
}

// make makes a file of a pick, in the folder of the picture at src.
func (f *files) make(p Pick, src string) (File, error) {
	made, err := f.rest.Picture(p, src, f.all, f.instead)
	if err != nil {
		return made, err
	}
	if made.Hash != "" && !slices.ContainsFunc(f.all, func(g File) bool { return g.Path == made.Path }) {
		f.all = append(f.all, made)
	}
	return made, nil
}
