package desk

import (
	"context"
	"fmt"
	"os"
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/spell"
	"mendry/internal/store"
)

// wordLists are where Debian's wordlist packages put their lists, by language.
var wordLists = map[string]string{"en": "/usr/share/dict/british-english", "en-us": "/usr/share/dict/american-english"}

// dictionaries reads each word list once; nil stands for one that is not on the machine.
var dictionaries = map[string]func() *spell.Dictionary{}

func init() {
	for lang, path := range wordLists {
		dictionaries[lang] = sync.OnceValue(func() *spell.Dictionary {
			f, err := os.Open(path)
			if err != nil {
				return nil
			}
			defer f.Close()
			d, err := spell.Read(f)
			if err != nil {
				return nil
			}
			return d
		})
	}
}

// dictionaryFor is the word list for a page's language; nil where there is none.
func dictionaryFor(lang string) *spell.Dictionary {
	lang = strings.ToLower(lang)
	switch {
	case lang == "en-us":
		return dictionaries[lang]()
	case lang == "", lang == "en", strings.HasPrefix(lang, "en-"):
		return dictionaries["en"]()
	}
	return nil
}

// spelling answers which words are right on a site: those of the dictionary, those that somebody said are, and those
// that the site writes on other pages, a name on one and another word on three.
type spelling struct {
	ctx  context.Context
	q    store.Queries
	dict *spell.Dictionary
	site int64
	page int64
	own  []string
	err  error
}

const manyPages = 3

func (s *spelling) Right(word string) bool {
	if s.err != nil || s.dict.Knows(word) || slices.Contains(s.own, word) {
		return true
	}
	n, err := s.q.PagesSaying(s.ctx, s.site, s.page, word)
	if err != nil {
		s.err = err
		return true
	}
	first, _ := utf8.DecodeRuneInString(word)
	return n >= manyPages || unicode.IsUpper(first) && n > 0
}

const mostMeant = 3

func (s *spelling) Suggest(word string) []string { return s.dict.Suggest(word, mostMeant) }

// spellingFor is how a draft's spelling is looked at; nil where no dictionary has its language.
func (d *Desk) spellingFor(ctx context.Context, dr *draft) (*spelling, error) {
	dict := dictionaryFor(dr.Page().Facts.Lang)
	if dict == nil {
		return nil, nil
	}
	own, err := d.store.SiteWords(ctx, dr.row.SiteID)
	return &spelling{ctx: ctx, q: d.store.Queries, dict: dict, site: dr.row.SiteID, page: dr.row.ID, own: own}, err
}

// unread says why a page's spelling is not looked at.
func unread(lang string) string {
	for known, path := range wordLists {
		if strings.EqualFold(lang, known) || known == "en" && (lang == "" || strings.HasPrefix(strings.ToLower(lang), "en-")) {
			return fmt.Sprintf("The word list %s is not on this machine; scripts/system.sh installs it.", path)
		}
	}
	return fmt.Sprintf("The page is in “%s”, and there is no word list for that.", lang)
}

var oneWord = regexp.MustCompile(`^[\p{L}\p{M}'’]{2,60}$`)

// LearnWord makes a word right on a site.
func (d *Desk) LearnWord(ctx context.Context, who Who, site int64, word string) error {
	if !oneWord.MatchString(word) || len(word) > 60 {
		return refused("“%s” is not one word.", word)
	}
	if _, err := d.store.SiteRow(ctx, site); err != nil {
		return missing(err, "site")
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.AddSiteWord(ctx, site, word, who.ID, d.now()); err != nil {
			return err
		}
		return d.note(ctx, q, site, nil, nil, event{Who: who.Name, What: "word learnt", Say: fmt.Sprintf("“%s” is right on this site", word)})
	})
}

// ForgetWord takes a word from a site's own.
func (d *Desk) ForgetWord(ctx context.Context, who Who, site int64, word string) error {
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.DropSiteWord(ctx, site, word); err != nil {
			return err
		}
		return d.note(ctx, q, site, nil, nil, event{Who: who.Name, What: "word forgotten", Say: fmt.Sprintf("“%s” is no longer taken for right on this site", word)})
	})
}

// Mend gives a part the words that a finding offers, as the draft is now.
func (d *Desk) Mend(ctx context.Context, who Who, number int64, f api.MendForm) error {
	dr, err := d.draftOf(ctx, d.store.Queries, number, f.PageID)
	if err != nil {
		return err
	}
	_, err = d.Keep(ctx, who, number, f.PageID, Ask{Draft: dr.Hash(), Act: &act.Words{Part: f.Part, Words: f.Words}})
	return err
}
