package find

import (
	"path"
	"regexp"
	"slices"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// pictures are the words by which people mean a picture (common practice, no source).
var pictures = regexp.MustCompile(`(?i)\b(?:photo(?:graph)?s?|pictures?|images?|logo|poster|portrait)\b`)

// MeansPicture reports whether a phrase speaks of a picture.
func MeansPicture(phrase string) bool { return pictures.MatchString(phrase) }

// titleEnds are what sets a page's own title off from its site's name.
var titleEnds = regexp.MustCompile(`\s+[|·–—]\s+|:\s`)

// Names reports whether a phrase names a page: by all the words of its title, its site's name left out, or by the end
// of its address. How many words that are is how surely.
func Names(phrase, title, address string) int {
	said := stems(phrase)
	all := func(words []string) int {
		for _, w := range words {
			if !slices.Contains(said, stem(w)) {
				return 0
			}
		}
		return len(words)
	}
	short := titleEnds.Split(title, 2)[0]
	file := path.Base(strings.TrimSuffix(address, "/"))
	return max(all(Words(short)), all(Words(strings.TrimSuffix(file, path.Ext(file)))))
}

// least is how well a part has to answer: one word and a value of the kind, or two words.
const least = 2

// Likely finds the part of a page that a phrase most likely means, where the page is named in it by its title or
// address: one that shares words with it beyond the page's name, and holds a value of the same kind; of what speaks of
// a picture, a picture. It is nil where none does well enough.
func Likely(p *page.Page, phrase, title, address string) (likely *page.Part) {
	name := stems(titleEnds.Split(title, 2)[0] + " " + path.Base(strings.TrimSuffix(address, path.Ext(address))))
	said := slices.DeleteFunc(stems(phrase), func(w string) bool { return slices.Contains(name, w) })
	kinds := map[text.Kind]bool{}
	for _, v := range text.Values(phrase) {
		kinds[v.Kind] = true
	}
	picture := MeansPicture(phrase)
	best := least - 1
	for _, part := range p.All {
		isPicture := part.Kind == page.Picture
		if part.Locked != "" || part.Kind == page.Link || part.Kind == page.Button || isPicture != picture || !isPicture && !part.Kind.HasWords() {
			continue
		}
		words := part.Name + " " + part.Text + " " + part.Attributes.Get("alt")
		score := 0
		if isPicture {
			score = least
		}
		have := stems(words)
		for _, w := range said {
			if slices.Contains(have, w) {
				score++
			}
		}
		if score > 0 && slices.ContainsFunc(text.Values(part.Text), func(v text.Value) bool { return kinds[v.Kind] }) {
			score++
		}
		if score > best {
			likely, best = part, score
		}
	}
	return likely
}

// stems are the words of a text, without the s of plurals, each once.
func stems(s string) (all []string) {
	for _, w := range Words(s) {
		if w = stem(w); !slices.Contains(all, w) {
			all = append(all, w)
		}
	}
	return all
}

func stem(w string) string {
	if len(w) > 3 && strings.HasSuffix(w, "s") && !strings.HasSuffix(w, "ss") {
		return w[:len(w)-1]
	}
	return w
}
