package file

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"mendry/internal/core/picture"
)

// weighs finds a weight in words: a number and its unit, in the spellings that pages use.
var weighs = regexp.MustCompile(`(?i)(\d+(?:[.,]\d+)?)([\s\x{a0}]?)(bytes|kB|KiB|MB|MiB|GB|Ko|Mo)\b`)

// Said is what words tell of a file.
type Said struct {
	Kind   string // as it is written there; empty where it is not told
	Weight string
	bytes  float64
	step   float64 // what its last digit stands for, in bytes
}

// SaidOf finds what words tell of a file: “Price list (PDF, 84 kB)”.
func SaidOf(words string) (s Said) {
	if m := weighs.FindStringSubmatch(words); m != nil {
		s.Weight = m[0]
		n, _ := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
		s.bytes, s.step = n*unit(m[3]), unit(m[3])
		if i := strings.IndexAny(m[1], ".,"); i >= 0 {
			s.step *= math.Pow10(i + 1 - len(m[1]))
		}
	}
	for _, named := range kindWords {
		if m := named.FindStringSubmatch(words); m != nil {
			s.Kind = m[1]
			break
		}
	}
	return s
}

// kindWords find the kinds in words, in any case of letters, in the order of kinds: as visitors call each, and as its
// files end.
var kindWords = func() (all []*regexp.Regexp) {
	for _, k := range kinds {
		for _, name := range []string{k.name, k.ext[1:]} {
			all = append(all, regexp.MustCompile(`(?i)(?:^|[^\pL\pN])(`+regexp.QuoteMeta(name)+`)(?:$|[^\pL\pN])`))
		}
	}
	return all
}()

func unit(name string) float64 {
	switch strings.ToLower(name)[0] {
	case 'b':
		return 1
	case 'k':
		return 1e3
	case 'm':
		return 1e6
	}
	return 1e9
}

// Right reports whether what is told is right of a file: its kind, and its weight within a tenth or as far as its last
// digit tells. Some count a kilobyte as 1024 bytes; both are within it.
func (s Said) Right(i Info) bool {
	size := float64(i.Size)
	return (s.Kind == "" || kindNamed(s.Kind) == i.Kind) &&
		(s.Weight == "" || math.Abs(s.bytes-size) <= max(size*.1, s.step*.5))
}

func kindNamed(name string) string {
	for _, k := range kinds {
		if strings.EqualFold(name, k.name) || strings.EqualFold(name, k.ext[1:]) {
			return k.name
		}
	}
	return name
}

// Resaid is words with what they tell of a file made right, written as they had it: the kind, the sign between whole
// and tenths, the blank before the unit.
func Resaid(words string, i Info) string {
	s := SaidOf(words)
	if s.Kind != "" && kindNamed(s.Kind) != i.Kind {
		words = strings.Replace(words, s.Kind, i.Kind, 1)
	}
	if s.Weight == "" || math.Abs(s.bytes-float64(i.Size)) <= s.step*.5 {
		return words
	}
	return weighs.ReplaceAllStringFunc(words, func(was string) string {
		m := weighs.FindStringSubmatch(was)
		if was != s.Weight {
			return was
		}
		number, name, _ := strings.Cut(picture.Weight(int(i.Size)), " ")
		if strings.Contains(m[1], ",") || strings.HasSuffix(strings.ToLower(m[3]), "o") {
			number = strings.Replace(number, ".", ",", 1)
		}
		switch {
		case strings.HasSuffix(strings.ToLower(m[3]), "o"): // octets
			name = map[string]string{"kB": "Ko", "MB": "Mo"}[name]
		case m[3] == "KB" && name == "kB":
			name = m[3]
		}
		return number + m[2] + name
	})
}
