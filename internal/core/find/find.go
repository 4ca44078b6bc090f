// Package find reads what a person looks for and says how well a page answers it: by its address or the end of it, its
// title, words with typing errors, and prices, numbers, dates and phone numbers in any spelling. A store brings the
// pages that may hold it; Query.Rank puts them in order and marks the words.
package find

import (
	"net/url"
	"slices"
	"strings"
	"unicode"

	"mendry/internal/core/text"
)

// Query is what a person looks for.
type Query struct {
	Words  string   // as typed, with single blanks
	Host   string   // of the address that it names; empty where it names none or only a path
	Path   string   // the address or the end of one that it may name
	Terms  []string // its words, folded; stop words are left out
	Values []string // keys of the prices, numbers, dates and phone numbers in it
	value  bool     // the whole is one value
	sought text.Sought
	folded folded
}

// Read reads what a person typed.
func Read(s string) Query {
	q := Query{Words: strings.Join(strings.Fields(s), " ")}
	q.folded, q.sought = fold(q.Words), text.Seek(q.Words)
	q.Values, q.value = Keys(q.Words), text.IsValue(q.Words)
	for _, w := range Words(q.Words) {
		// The words of a value are but one spelling of it, and half of "6.90" is none; what is typed of a number is.
		spelled := q.value && (text.Values(q.Words)[0].Kind != text.Number || strings.Trim(q.Words, "0123456789") != "")
		if !spelled && !slices.Contains(q.Terms, w) {
			q.Terms = append(q.Terms, w)
		}
	}
	if !strings.Contains(q.Words, " ") {
		q.Path = q.Words
		if u, err := url.Parse(q.Words); err == nil && u.Host != "" {
			q.Host, q.Path = u.Host, u.Path
			if q.Path == "" {
				q.Path = "/"
			}
		} else if err == nil {
			q.Path = u.Path
		}
	}
	return q
}

// stopWords stand on nearly every page and tell none apart; they are those that MariaDB leaves out of its own
// full-text indexes (information_schema.INNODB_FT_DEFAULT_STOPWORD).
var stopWords = map[string]bool{}

func init() {
	for _, w := range strings.Fields("a about an are as at be by com de en for from how i in is it la of on or that the this to was what when where who will with und www") {
		stopWords[w] = true
	}
}

// Words lists the words of a text as they are looked for: folded, without stop words and single letters.
func Words(s string) []string {
	return slices.DeleteFunc(strings.FieldsFunc(fold(s).String(), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), func(w string) bool {
		return len(w) < 2 || stopWords[w]
	})
}

// Keys lists the values that stand in a text, each by a key that all its spellings share, each once.
func Keys(s string) (keys []string) {
	for _, v := range text.Values(s) {
		if k := string(v.Kind) + " " + v.Key; !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	return keys
}

// KeysOn lists the keys by which a page with some words is found: those of its values, and for each phone number what
// is dialled of it within its place.
func KeysOn(words string) []string {
	keys := Keys(words)
	for _, k := range keys {
		number, is := strings.CutPrefix(k, string(text.Phone)+" ")
		for n := 1; is && n < len(number); n++ {
			if end := string(text.Number) + " " + number[n:]; text.LocalPhone(number[n:]) && !slices.Contains(keys, end) {
				keys = append(keys, end)
			}
		}
	}
	return keys
}

// Asked lists the keys by which pages with the query's values are found: a date without a year is that day of any
// year, and a date with one is also promised where no year is said.
func (q Query) Asked() (keys []string) {
	for _, k := range q.Values {
		keys = append(keys, k)
		if day, ok := strings.CutPrefix(k, string(text.Day)+" "); ok {
			if i := strings.IndexByte(day, '-'); i > 0 {
				keys = append(keys, string(text.Day)+" "+day[i:])
			}
		}
	}
	return keys
}

// Page is a page that may hold what is looked for.
type Page struct {
	Host    string // of the site's public address
	Address string // the public path
	Title   string
	Words   string // one line a part
}

// NamesFile reports whether the query can hardly be anything but an address or the end of one.
func (q Query) NamesFile() bool {
	return q.Path != "" && (q.Host != "" || strings.HasPrefix(q.Path, "/") || strings.Contains(q.Path, "/") || strings.HasSuffix(q.Path, ".html") || strings.HasSuffix(q.Path, ".md")) && !q.value
}

// Line is a line of a page's words in which the query stands.
type Line struct {
	Text  string
	Marks []Span // where in Text, in bytes
}

// Span is a range of bytes.
type Span struct{ Start, End int }

// Answer says how well a page answers a query.
type Answer struct {
	Score  int    // 0: not at all
	ByName bool   // by its address or title
	Lines  []Line // the best first
}

// How much a place counts: what was named before what stands there, the whole before its words.
const (
	exactly   = 1000
	byEnd     = 500
	byTitle   = 300
	inTitle   = 200
	inAddress = 150
	together  = 120
	asValue   = 110
	inLine    = 60
	onPage    = 20
	mostLines = 50
)

// Rank says how well p answers q. near gives for a term the words with a typing error that are meant too.
func (q Query) Rank(p Page, near map[string][]string) (a Answer) {
	a.Score = q.name(p)
	a.ByName = a.Score > 0
	missing := map[string]bool{}
	for _, t := range q.Terms {
		missing[t] = true
	}
	best := 0
	type scored struct {
		Line
		score int
	}
	var lines []scored
	for line := range strings.SplitSeq(p.Words, "\n") {
		marks, score := q.line(line, near, missing)
		if score == 0 {
			continue
		}
		best = max(best, score)
		lines = append(lines, scored{Line{line, marks}, score})
	}
	slices.SortStableFunc(lines, func(a, b scored) int { return b.score - a.score })
	for _, l := range lines {
		if l.score < best || len(a.Lines) == mostLines {
			break
		}
		a.Lines = append(a.Lines, l.Line)
	}
	if len(missing) > 0 && best < together && !a.ByName {
		return Answer{}
	}
	a.Score += best
	return a
}

// name says how well a page's address or title is what is looked for.
func (q Query) name(p Page) (score int) {
	if q.Path != "" && (q.Host == "" || q.Host == p.Host) {
		path, address := strings.TrimSuffix(q.Path, "/"), strings.TrimSuffix(p.Address, "/")
		switch {
		case strings.EqualFold(path, address) && (q.Host != "" || strings.HasPrefix(q.Path, "/")):
			score = exactly
		case path != "" && strings.HasSuffix(strings.ToLower(address), strings.ToLower(path)):
			score = byEnd
		}
	}
	folded := q.folded.String()
	title := fold(p.Title).String()
	switch {
	case len(folded) < 2:
	case title == folded:
		score += byTitle
	case strings.Contains(title, folded):
		score += inTitle
	case strings.Contains(fold(p.Address).String(), folded):
		score += inAddress
	case len(q.Terms) > 0 && !slices.ContainsFunc(q.Terms, func(t string) bool { return !strings.Contains(title, t) }):
		score += inLine
	}
	return score
}

// line finds the query in a line: as it was typed, as a value in another spelling, or by its words. Words that stand
// in it are no longer missing.
func (q Query) line(line string, near map[string][]string, missing map[string]bool) (marks []Span, score int) {
	f := fold(line)
	if marks = f.all(q.folded.String(), false); len(marks) > 0 {
		clear(missing)
		return marks, together
	}
	if q.value {
		for _, v := range q.sought.In(line) {
			marks = append(marks, Span{v.Start, v.End})
		}
		if len(marks) > 0 {
			clear(missing)
			return marks, asValue
		}
	}
	have := 0
	for _, t := range q.Terms {
		found := f.all(t, true)
		for _, n := range near[t] {
			found = append(found, f.all(n, true)...)
		}
		if len(found) > 0 {
			delete(missing, t)
			have++
			marks = append(marks, found...)
		}
	}
	slices.SortFunc(marks, func(a, b Span) int { return a.Start - b.Start })
	switch {
	case have == 0:
		return nil, 0
	case have == len(q.Terms):
		return marks, inLine
	}
	return marks, onPage * have / len(q.Terms)
}
