package style

import (
	"slices"
	"strings"
)

// called are the words by which sites call classes of an aspect (common practice, no source).
var called = map[Aspect]string{
	Ground: "bg background ground tone surface", Ink: "text color colour ink", Space: "p py pt pb pad padding m my mt mb margin space spacing",
	Shadow: "shadow shadows elevation raised glow", Motion: "fade rise slide appear reveal animate animated motion", Letters: "font fw fs",
}

// kin is what is known of classes by how they are called.
type kin struct {
	after  map[string]bool           // others are called after it, or say something together with it
	stems  map[string]map[Aspect]int // how many classes with a stem say something of an aspect
	usedBy map[string]map[Aspect]int // of those, how many the element or one like it carries
}

func (s *Sheet) kinOf(own []string, known map[string]*classOf, worn Worn) kin {
	k := kin{map[string]bool{}, map[string]map[Aspect]int{}, map[string]map[Aspect]int{}}
	for class, of := range known {
		for i := 1; i < len(class); i++ {
			if class[i] == '-' || class[i] == '_' {
				k.after[class[:i]] = true
			}
		}
		if k.stems[stem(class)] == nil {
			k.stems[stem(class)], k.usedBy[stem(class)] = map[Aspect]int{}, map[Aspect]int{}
		}
		k.stems[stem(class)][of.aspect]++
		if slices.Contains(own, class) || worn.Classes[class] > 0 {
			k.usedBy[stem(class)][of.aspect]++
		}
	}
	for _, r := range s.rules {
		c := r.compound
		if c != nil && c.classes != nil && (len(c.classes) > 1 && !state.MatchString(c.classes[1]) || s.takesIn(r.says)) {
			k.after[c.classes[0]] = true
		}
	}
	return k
}

// isBase reports whether a class is what elements are, and not how some of them look: others are called after it or
// say something together with it, or it is all that the element carries, or most that are alike carry it; unless one
// that is called like it says the same.
func (k kin) isBase(class string, of *classOf, own []string, worn Worn, words bool) bool {
	if k.after[class] {
		return true
	}
	most := !words && worn.Elements >= 3 && float64(worn.Classes[class]) >= 0.6*float64(worn.Elements)
	if !most && (words || len(own) != 1 || own[0] != class) || isCalled(class, of.aspect) {
		return false
	}
	return k.stems[stem(class)][of.aspect] < 2
}

// related reports whether a class that is called like this one and says the same is carried by the element or by one
// like it.
func (k kin) related(class string, of *classOf) bool {
	return stem(class) != class && k.usedBy[stem(class)][of.aspect] > 0
}

// takesIn reports whether declarations use custom properties that are left to elements to set.
func (s *Sheet) takesIn(says map[string]string) bool {
	for _, value := range says {
		for _, m := range usesVar.FindAllStringSubmatch(value, -1) {
			if s.vars[m[1]] == "" {
				return true
			}
		}
	}
	return false
}

// stem is what classes that are called alike have in common: their names up to the last word.
func stem(class string) string {
	if i := strings.LastIndexAny(class, "-_"); i > 0 {
		return class[:i+1]
	}
	return class
}

// modifies reports whether a class is called after one that the element carries, as what only some of them are (common
// practice, no source).
func modifies(class string, own []string) bool {
	base, _, ok := strings.Cut(class, "--")
	return ok && slices.Contains(own, base)
}

func isCalled(class string, aspect Aspect) bool {
	first := strings.FieldsFunc(class, func(r rune) bool { return r == '-' || r == '_' })
	return len(first) > 0 && slices.Contains(strings.Fields(called[aspect]), first[0])
}
