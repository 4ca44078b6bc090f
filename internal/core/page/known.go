package page

import (
	"bytes"
	"slices"
	"strings"
	"time"

	"mendry/internal/core/text"
)

// Known is what can be told of a page's file when it is taken in.
type Known struct {
	Title       string
	Description string
	Encoding    string
	Locked      string // why it cannot be changed; empty where it can
	Words       string // that it is found by, a line a part
	Hidden      bool   // left out of searches
	Dated       time.Time
	Prints      []string // what Shared tells its parts by
}

const longestTitle = 200 // signs that are kept of a title

// Know tells what there is to know of a file. address is its public path. What cannot be read as a page is locked,
// with the reason.
func Know(path, address string, b []byte, media string) Known {
	k := Known{Title: path}
	if !IsMarkdown(path) && !looksLikePage(b) {
		k.Locked = "This is no HTML page, whatever its name says. It is shown as it is and kept as it is."
		return k
	}
	if putTogether(path, b) {
		k.Locked = "The host puts pieces into this page each time that somebody asks for it (<!--#…-->), so that Mendry would not see what visitors get. Change it where it is edited."
		return k
	}
	p, err := ParseFile(path, b, media)
	if err != nil {
		k.Locked = err.Error()
		return k
	}
	k.Title = Short(first(p.Facts.Title, path), longestTitle)
	k.Description, k.Encoding = p.Facts.Description, p.Doc.Encoding.Name
	k.Words, k.Hidden, k.Dated = wordsOf(p), p.Hidden(), p.Dated(address)
	for _, print := range p.Prints(address) {
		k.Prints = append(k.Prints, print.Sum)
	}
	slices.Sort(k.Prints)
	k.Prints = slices.Compact(k.Prints)
	return k
}

// putTogether reports whether a server puts a page together of several: by its name, and by a command in it (Apache,
// mod_include).
func putTogether(path string, b []byte) bool {
	path = strings.ToLower(path)
	return (strings.HasSuffix(path, ".shtml") || strings.HasSuffix(path, ".shtm")) && bytes.Contains(b, []byte("<!--#"))
}

func looksLikePage(b []byte) bool {
	if bytes.HasPrefix(b, []byte("\xff\xfe")) || bytes.HasPrefix(b, []byte("\xfe\xff")) {
		return true // UTF-16: refused with a reason of its own
	}
	head := strings.ToLower(string(b[:min(len(b), 4096)]))
	if strings.Contains(head, "\x00") {
		return false
	}
	for _, mark := range []string{"<!doctype html", "<html", "<head", "<body", "<title", "<p", "<h1", "<div"} {
		if strings.Contains(head, mark) {
			return true
		}
	}
	return false
}

// wordsOf are the words of a page that are searched.
func wordsOf(p *Page) string {
	var b strings.Builder
	for _, part := range p.All {
		if reached := reachedBy(part); reached != "" {
			b.WriteString(reached + "\n")
		}
		switch {
		case part.Kind == Picture:
			b.WriteString(part.Attributes.Get("alt"))
		case part.Kind.HasWords() && (part.Parent == nil || !part.Parent.Kind.HasWords()):
			b.WriteString(part.Text)
		default:
			continue
		}
		b.WriteByte('\n')
	}
	return b.String()
}

// reachedBy is whom a link dials or writes to, where its words do not show it.
func reachedBy(part *Part) string {
	if part.Kind != Link && part.Kind != Button {
		return ""
	}
	href := part.Attributes.Get("href")
	if shown, agrees := text.Contact(href, part.Text); shown != "" && agrees {
		return ""
	}
	return text.Reaches(href)
}
