package text

import (
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
)

// Kind of a value in running text.
type Kind string

// The kinds of values that are known in any spelling.
const (
	Price  Kind = "price"
	Phone  Kind = "phone"
	Day    Kind = "date"
	Number Kind = "number"
	Mail   Kind = "mail"
)

// Value is a price, phone number, mail address, date or number in running text. Two values with one kind and key are
// the same, however they are spelled. Offsets are bytes.
type Value struct {
	Kind       Kind
	Key        string
	Start, End int
}

// Signs and codes of currencies (ISO 4217) that stand before or behind an amount.
var currencies = map[string]string{"£": "GBP", "€": "EUR", "$": "USD", "¥": "JPY", "gbp": "GBP", "eur": "EUR", "usd": "USD", "jpy": "JPY", "cad": "CAD", "nzd": "NZD", "aud": "AUD", "chf": "CHF", "pounds": "GBP", "euros": "EUR", "dollars": "USD"}

// An amount has its thousands apart by a blank, a comma, a point or an apostrophe, and one or two digits behind a
// comma or point, or a dash there.
const amount = `(\d{1,3}(?:[ ,.’'\x{a0}\x{202f}]\d{3})+|\d+)(?:[.,](\d{1,2}|-|–))?`

var (
	priceBefore = regexp.MustCompile(`(?i)(£|€|\$|¥|\b(?:GBP|EUR|USD|JPY|CAD|NZD|AUD|CHF))[ \x{a0}]?` + amount + `(?:\b|$)`)
	priceBehind = regexp.MustCompile(`(?i)\b` + amount + `[ \x{a0}]?(£|€|pounds\b|euros\b|dollars\b|GBP\b|EUR\b|USD\b|CAD\b|NZD\b|AUD\b|CHF\b)`)
	phone       = regexp.MustCompile(`(?:\+|\b00)?\(?\d[\d\x{a0} ()./\-]{5,20}\d`)
	number      = regexp.MustCompile(`\d+(?:[.,]\d+)*`)
	mailAddress = regexp.MustCompile(`[\w.+-]*\w@[\w-]+(?:\.[\w-]+)*\.\w+`) // as people write it (RFC 5322, dot-atom)
	ofCode      = regexp.MustCompile(`\pL[\pL\d]*[-_/]?$`)                  // before a number that is part of a name, like KW-14 and B7
)

// Values finds prices, phone numbers, dates and other numbers in s, in order; none lies in another. Reading for all of
// them takes long, so s is read only around what every one of them has: digits, or the sign of a mail address.
func Values(s string) (vs []Value) {
	for from := 0; ; {
		i := strings.IndexAny(s[from:], valueMarks)
		if i < 0 {
			return vs
		}
		start, end := blankBefore(s, from+i-around), behind(s, from+i)
		for _, v := range values(s[start:end]) {
			v.Start, v.End = v.Start+start, v.End+start
			if v.End > from { // not one that was found before
				vs = append(vs, v)
			}
		}
		from = end
	}
}

// around is how many bytes before and behind its digits a value surely ends: a weekday and a month in any language,
// and the words before them that tell a month from a word of its own.
const around = 48

const (
	digits     = "0123456789"
	valueMarks = digits + "@"
	beside     = 16 // bytes in which a currency stands beside its amount
)

// behind is where what is read for a value with a mark at i ends: no other mark is near behind it.
func behind(s string, i int) int {
	for {
		end := blankBehind(s, i+1+around)
		next := strings.LastIndexAny(s[i+1:min(end+around, len(s))], valueMarks)
		if next < 0 {
			return end
		}
		i += 1 + next
	}
}

func values(s string) (vs []Value) {
	taken := make([]bool, len(s))
	add := func(v Value) {
		for i := v.Start; i < v.End; i++ {
			if taken[i] {
				return
			}
		}
		for i := v.Start; i < v.End; i++ {
			taken[i] = true
		}
		vs = append(vs, v)
	}
	if strings.Contains(s, "@") {
		for _, m := range mailAddress.FindAllStringIndex(s, -1) {
			add(Value{Mail, strings.ToLower(s[m[0]:m[1]]), m[0], m[1]})
		}
	}
	for _, d := range Dates(s) {
		add(Value{Day, strings.Join([]string{numeral(d.Year), numeral(int(d.Month)), numeral(d.Day)}, "-"), d.Start, d.End})
	}
	// What is not a date has nothing but a sign or a code beside its digits.
	lo := blankBefore(s, strings.IndexAny(s, digits)-beside)
	hi := blankBehind(s, strings.LastIndexAny(s, digits)+beside)
	near := s[lo:hi]
	if holdsAny(near, currencyNames) {
		for _, m := range priceBefore.FindAllStringSubmatchIndex(near, -1) {
			add(Value{Price, priceKey(near, m[2], m[3], m[4], m[5], m[6], m[7]), lo + m[0], lo + m[1]})
		}
		for _, m := range priceBehind.FindAllStringSubmatchIndex(near, -1) {
			add(Value{Price, priceKey(near, m[6], m[7], m[2], m[3], m[4], m[5]), lo + m[0], lo + m[1]})
		}
	}
	if len(digitsOf(near)) >= leastPhone {
		for _, m := range phone.FindAllStringIndex(near, -1) {
			if key := PhoneKey(near[m[0]:m[1]]); key != "" {
				add(Value{Phone, key, lo + m[0], lo + m[1]})
			}
		}
	}
	for _, m := range number.FindAllStringIndex(near, -1) {
		m[0], m[1] = m[0]+lo, m[1]+lo
		if ofCode.MatchString(s[max(0, m[0]-longestCode):m[0]]) {
			continue
		}
		add(Value{Number, strings.ReplaceAll(s[m[0]:m[1]], ",", ""), m[0], m[1]})
	}
	slices.SortFunc(vs, func(a, b Value) int { return a.Start - b.Start })
	return vs
}

// currencyNames are those of currencies.
var currencyNames = slices.Sorted(maps.Keys(currencies))

// holdsAny reports whether one of some words in lower case stands in s, as a word or a part of one.
func holdsAny(s string, words []string) bool {
	low := strings.ToLower(s)
	return slices.ContainsFunc(words, func(w string) bool { return strings.Contains(low, w) })
}

const longestCode = 24 // bytes of the name of a thing that are read before its number

// numeral is a part of a date's key; empty where the date does not say it.
func numeral(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

func priceKey(s string, c0, c1, a0, a1, f0, f1 int) string {
	whole := digitsOf(s[a0:a1])
	part := "00"
	if f0 >= 0 && s[f0] >= '0' && s[f0] <= '9' {
		part = (s[f0:f1] + "0")[:2]
	}
	return currencies[strings.ToLower(s[c0:c1])] + " " + strings.TrimLeft(whole, "0") + "." + part
}

// PhoneKey is a phone number as it is dialled at home, without what is typed between the digits; empty where s is
// none. An international number (E.164: "+", up to 15 digits) and its national form, which begins with a trunk 0, have
// one key, since the country code is taken off by its length (one to three digits) only where the rest is told apart.
func PhoneKey(s string) string {
	s = strings.TrimSpace(s)
	international := strings.HasPrefix(s, "+") || strings.HasPrefix(s, "00")
	s = strings.ReplaceAll(s, "(0)", "")
	digits := digitsOf(s)
	if strings.HasPrefix(s, "00") {
		digits = digits[2:]
	}
	switch {
	case len(digits) < leastPhone || len(digits) > 15:
		return ""
	case international:
		return digits[countryLength(digits):]
	case digits[0] == '0':
		return digits[1:]
	}
	return ""
}

const leastPhone = 7 // digits of a phone number with the code of its place (common practice, no source)

// countryLength is the length of an E.164 country code by its first digits (ITU-T list of assigned codes: zones 1 and
// 7 have one digit; in the others these have two, the rest three).
func countryLength(digits string) int {
	if digits[0] == '1' || digits[0] == '7' {
		return 1
	}
	const two = " 20 27 30 31 32 33 34 36 39 40 41 43 44 45 46 47 48 49 51 52 53 54 55 56 57 58 60 61 62 63 64 65 66 81 82 84 86 90 91 92 93 94 95 98 "
	if strings.Contains(two, " "+digits[:2]+" ") {
		return 2
	}
	return 3
}

// IsValue reports whether s is one value and nothing else.
func IsValue(s string) bool {
	vs := Values(s)
	return len(vs) == 1 && vs[0].Start == 0 && vs[0].End == len(s)
}

// Sought is a value or words that are looked for in many texts.
type Sought struct {
	words  string
	value  bool // a price, phone number, date or number
	want   Value
	digits string // that stand in every spelling of it
	local  bool   // a number that may be a phone number without the code of its place
}

// Seek prepares looking for a value or words.
func Seek(value string) Sought {
	s := Sought{words: strings.TrimSpace(value)}
	if IsValue(s.words) {
		s.value, s.want = true, Values(s.words)[0]
		s.digits = tell(s.words, s.want.Kind)
		s.local = s.want.Kind == Number && LocalPhone(s.want.Key)
	}
	return s
}

// Is reports whether a value of a kind is looked for.
func (q Sought) Is(k Kind) bool { return q.value && q.want.Kind == k }

// Local reports whether it may be a phone number without the code of its place.
func (q Sought) Local() bool { return q.local }

// Same finds the places in s where value stands, in any spelling if it is a price, phone number, date or number, and
// otherwise as whole words, upper or lower case. Offsets are bytes.
func Same(s, value string) (found []Value) { return Seek(value).In(s) }

// In is Same for what was prepared.
func (q Sought) In(s string) (found []Value) {
	if q.words == "" {
		return nil
	}
	if q.value && q.want.Kind != Mail {
		return q.valueIn(s)
	}
	low, want := strings.ToLower(s), strings.ToLower(q.words)
	if len(low) != len(s) { // lower case has another length: look for it as it is
		low, want = s, q.words
	}
	for at := 0; ; {
		i := strings.Index(low[at:], want)
		if i < 0 {
			return found
		}
		start, end := at+i, at+i+len(want)
		if edge(low, start) && edge(low, end) {
			found = append(found, Value{Kind: q.want.Kind, Key: q.want.Key, Start: start, End: end})
		}
		at = end
	}
}

// valueIn finds a value in any spelling. Reading all of a text for values takes long, so it is read only around the
// digits that tell the value.
func (q Sought) valueIn(s string) (found []Value) {
	for at := 0; ; {
		i := strings.Index(s[at:], q.digits)
		if i < 0 {
			return found
		}
		i += at
		at = i + len(q.digits)
		from, to := blankBefore(s, i-surely), blankBehind(s, at+surely)
		for _, v := range Values(s[from:to]) {
			v.Start, v.End = v.Start+from, v.End+from
			if v.Start <= i && i < v.End {
				switch {
				case v.Kind == q.want.Kind && sameKey(v, q.want):
					found = append(found, v)
				case q.local && v.Kind == Phone && strings.HasSuffix(v.Key, q.want.Key):
					v.Start = tailOf(s, v.End, len(q.want.Key))
					found = append(found, v)
				case q.want.Kind == Phone && v.Kind == Number && LocalPhone(v.Key) && strings.HasSuffix(q.want.Key, v.Key):
					found = append(found, v) // without the code of its place
				}
				at = max(at, v.End)
			}
		}
	}
}

// LocalPhone reports whether a number may be dialled as it is within a place.
func LocalPhone(digits string) bool {
	return len(digits) >= leastLocal && len(digits) <= mostLocal && strings.Trim(digits, "0123456789") == ""
}

// How many digits a phone number has without the code of its place (common practice, no source).
const (
	leastLocal = 5
	mostLocal  = 8
)

// tailOf is where the last n digits before end begin.
func tailOf(s string, end, n int) int {
	for i := end - 1; i >= 0; i-- {
		if s[i] >= '0' && s[i] <= '9' {
			if n--; n == 0 {
				return i
			}
		}
	}
	return end
}

const surely = 40 // bytes on either side in which a value's spelling surely lies

func blankBefore(s string, i int) int {
	for i = max(i, 0); i > 0 && s[i-1] != ' ' && s[i-1] != '\n'; i-- {
	}
	return i
}

func blankBehind(s string, i int) int {
	for i = min(i, len(s)); i < len(s) && s[i] != ' ' && s[i] != '\n'; i++ {
	}
	return i
}

// tell are digits that stand in every spelling of a value: of a phone number the last two, since what stands before
// them may be left out; of a date the day; of others the digits before the first place for a separator.
func tell(value string, kind Kind) string {
	if kind == Mail {
		return value
	}
	digits := number.FindAllString(value, -1)
	if kind == Number && LocalPhone(value) { // it may be the end of a phone number, whose digits may be apart
		return value[len(value)-2:]
	}
	switch kind {
	case Phone:
		last := digits[len(digits)-1]
		return last[max(0, len(last)-2):]
	case Day:
		for _, d := range Dates(value) {
			return strconv.Itoa(d.Day)
		}
	}
	whole := strings.TrimLeft(digits[0], "0")
	if i := strings.IndexAny(whole, ".,"); i >= 0 {
		whole = whole[:i]
	}
	if whole == "" {
		return "0"
	}
	if n := len(whole); n > 3 {
		whole = whole[:(n-1)%3+1]
	}
	return whole
}

// sameKey compares keys; a date without a year is the same day in any year.
func sameKey(a, b Value) bool {
	if a.Kind == Day && (strings.HasPrefix(a.Key, "-") || strings.HasPrefix(b.Key, "-")) {
		return a.Key[strings.IndexByte(a.Key, '-'):] == b.Key[strings.IndexByte(b.Key, '-'):]
	}
	return a.Key == b.Key
}

// edge reports whether a word begins or ends at i.
func edge(s string, i int) bool {
	if i <= 0 || i >= len(s) {
		return true
	}
	before, after := rune(s[i-1]), rune(s[i])
	wordy := func(r rune) bool { return r >= 0x80 || unicode.IsLetter(r) || unicode.IsDigit(r) }
	return !wordy(before) || !wordy(after)
}
