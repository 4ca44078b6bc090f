package check

import (
	"fmt"
	"regexp"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// valuesAgree: a phone number or a price that a change brings agrees with its like on the page. Two phone numbers that
// differ in one or two digits are likely one of them a slip; a price whose currency stands nowhere else on the page
// is.
func valuesAgree(s *Subject) (fs []Finding) {
	read := map[string][]text.Value{} // most words are the same before and after, and reading them takes the longest
	values := func(words string) []text.Value {
		vs, ok := read[words]
		if !ok {
			vs = text.Values(words)
			read[words] = vs
		}
		return vs
	}
	brought := map[string]bool{} // kinds and keys that were on the page before
	if s.Before != nil {
		for _, p := range topWords(s.Before) {
			for _, v := range values(p.Text) {
				brought[string(v.Kind)+" "+v.Key] = true
			}
		}
	}
	type said struct {
		part  *page.Part
		value text.Value
		words string
	}
	var all []said
	for _, p := range topWords(s.After) {
		for _, v := range values(p.Text) {
			if v.Kind == text.Phone || v.Kind == text.Price {
				all = append(all, said{p, v, p.Text[v.Start:v.End]})
			}
		}
	}
	n := 0
	for _, p := range s.spoken() {
		for _, v := range values(p.Text) {
			if v.Kind != text.Phone && v.Kind != text.Price || brought[string(v.Kind)+" "+v.Key] {
				continue
			}
			n++
			words := p.Text[v.Start:v.End]
			switch v.Kind {
			case text.Phone:
				for _, other := range all {
					if other.value.Kind == text.Phone && oneMore(v.Key, other.value.Key) {
						fs = append(fs, Finding{Level: Look, Part: p.ID, Words: words, Say: fmt.Sprintf("“%s” stands here and “%s” in “%s”: one of them has a digit more. Look which is right.", words, other.words, page.Short(other.part.Name, 40))})
						break
					}
					if d := digitsApart(v.Key, other.value.Key); other.value.Kind == text.Phone && d > 0 && d <= 2 {
						fs = append(fs, Finding{Level: Look, Part: p.ID, Words: words, Say: fmt.Sprintf("“%s” stands here and “%s” in “%s”: they differ in %s. Look which is right.", words, other.words, page.Short(other.part.Name, 40), digits(d))})
						break
					}
				}
			case text.Price:
				currency, _, _ := strings.Cut(v.Key, " ")
				own, others := 0, ""
				asHere, otherwise := 0, "" // where the cents stand behind the same sign, and behind another
				for _, other := range all {
					if c, _, _ := strings.Cut(other.value.Key, " "); other.value.Kind == text.Price && c == currency {
						own++
						if a, b := centsBehind(words), centsBehind(other.words); other.part != p && a != "" && b == a {
							asHere++
						} else if a != "" && b != "" && a != b {
							otherwise = other.words
						}
					} else if other.value.Kind == text.Price {
						others = other.words
					}
				}
				if asHere == 0 && otherwise != "" {
					fs = append(fs, Finding{Level: Look, Part: p.ID, Words: words, Say: fmt.Sprintf("“%s” is written otherwise than the page’s other prices, such as “%s”: a point, a comma.", words, otherwise)})
				}
				if own == 1 && others != "" {
					fs = append(fs, Finding{Level: Look, Part: p.ID, Words: words, Say: fmt.Sprintf("“%s” is in another currency than the page’s other prices, such as “%s”.", words, others)})
				}
			}
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("New prices and phone numbers agree with their like on the page (%d looked at).", n)})
	}
	return fs
}

func digits(n int) string {
	if n == 1 {
		return "one digit"
	}
	return fmt.Sprintf("%d digits", n)
}

// centsBehind is the sign behind which the cents of a price stand; empty where it has none.
func centsBehind(price string) string {
	if m := cents.FindStringSubmatch(price); m != nil {
		return m[1]
	}
	return ""
}

var cents = regexp.MustCompile(`\d([.,])\d\d(?:\D|$)`)

// oneMore reports whether one of two numbers is the other with one digit more.
func oneMore(a, b string) bool {
	if len(a) < len(b) {
		a, b = b, a
	}
	if len(a) != len(b)+1 {
		return false
	}
	i := 0
	for i < len(b) && a[i] == b[i] {
		i++
	}
	return a[i+1:] == b[i:]
}

// topWords are a page's parts with words, those in others left out.
func topWords(p *page.Page) (ps []*page.Part) {
	for _, part := range p.All {
		if part.Kind.HasWords() && !(part.Parent != nil && part.Parent.Kind.HasWords() && part.Parent.Locked == "") {
			ps = append(ps, part)
		}
	}
	return ps
}

// digitsApart counts the places in which two numbers of one length differ; 0 where their lengths differ.
func digitsApart(a, b string) (n int) {
	if len(a) != len(b) {
		return 0
	}
	for i := range a {
		if a[i] != b[i] {
			n++
		}
	}
	return n
}
