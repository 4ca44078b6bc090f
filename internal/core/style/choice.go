package style

import (
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// Aspect is one side of how an element looks.
type Aspect string

// The aspects, in the order in which they are shown.
const (
	Ground  Aspect = "ground" // what is behind it
	Ink     Aspect = "ink"    // the colour of its words
	Letters Aspect = "letters"
	Space   Aspect = "space" // around it and within
	Shadow  Aspect = "shadow"
	Motion  Aspect = "motion" // as it appears
)

var aspects = []Aspect{Ground, Ink, Letters, Space, Shadow, Motion}

// By is how a site says that an element looks so.
type By string

// A site says it by a class, by an attribute that its sheets ask for, or by a declaration of the style attribute.
const (
	ByClass     By = "class"
	ByAttribute By = "attribute"
	ByStyle     By = "style"
)

// Choice is one way in which a site makes elements look: something that an element may carry.
type Choice struct {
	Aspect Aspect
	By     By
	Name   string            // of the attribute, or of the property
	Value  string            // the class, or what the attribute or the property says
	On     bool              // the element carries it
	Like   int               // elements like it that carry it
	Says   map[string]string // what the sheets say of an element that carries it
	Hides  bool              // it keeps the element unseen until a script shows it
}

// Key names a choice among those of an element.
func (c Choice) Key() string { return string(c.By) + " " + c.Name + " " + c.Value }

// Competes reports whether two choices say the same thing of an element, so that one takes the place of the other.
func (c Choice) Competes(with Choice) bool {
	if c.By != with.By || c.Aspect != with.Aspect {
		return false
	}
	if c.By != ByClass {
		return c.Name == with.Name
	}
	for property := range c.Says {
		for other := range with.Says {
			if property == other || strings.HasPrefix(property, other+"-") || strings.HasPrefix(other, property+"-") {
				return true
			}
		}
	}
	return false
}

// The properties by what they are about. Those of arrange put things elsewhere: what says any of them is no look.
var (
	arrange = regexp.MustCompile(`^(display|position|float|clear|flex|grid|columns?|overflow|content|z-index|top|right|bottom|left|inset|width|height|min-|order|align-|justify-|place-|table-|aspect-|clip|list-|object-|white-space|visibility|pointer-)`)
	about   = []struct {
		aspect Aspect
		by     *regexp.Regexp
	}{
		{Motion, regexp.MustCompile(`^(animation|transition)`)},
		{Ground, regexp.MustCompile(`^background`)},
		{Shadow, regexp.MustCompile(`^(box-shadow|text-shadow|filter)$`)},
		{Ink, regexp.MustCompile(`^color$`)},
		{Letters, regexp.MustCompile(`^(font|letter-|line-|text-[adit]|word-|hyphens)`)},
		{Space, regexp.MustCompile(`^(padding|margin)`)},
	}
	beside = regexp.MustCompile(`^(border|outline|opacity|transform|translate|scale|rotate|will-change|max-width|backdrop-|fill|stroke|--)`)
	state  = regexp.MustCompile(`^(is-|has-)?(active|current|open|opened|show|shown|hide|hidden|selected|disabled|collapsed|collapsing|visible|invisible|in|on|loading|sticky|stuck|animated|revealed|first|last|odd|even)$`)
)

// aspectOf is the side of the look that declarations are about; only says that they are about nothing else. It is
// empty where they arrange things, or say nothing of the look.
func (s *Sheet) aspectOf(says map[string]string) (aspect Aspect, only bool) {
	has := map[Aspect]bool{}
	for property := range says {
		if arrange.MatchString(property) {
			return "", false
		}
		if strings.HasPrefix(property, "--") {
			if a := s.usedFor(property); a != "" {
				has[a] = true
			}
		}
		for _, one := range about {
			if one.by.MatchString(property) {
				has[one.aspect] = true
			}
		}
	}
	unseen := says["opacity"] != "" || says["transform"] != ""
	switch {
	case len(has) == 0:
		return "", false
	case has[Motion] && (unseen || says["animation"] != "" || says["animation-name"] != ""):
		return Motion, !has[Ground] && !has[Space] && !has[Letters]
	}
	delete(has, Motion)
	for _, a := range []Aspect{Ground, Letters, Ink, Space, Shadow} { // the first of them leads
		if has[a] {
			aspect = a
			break
		}
	}
	delete(has, aspect)
	if aspect == Ground || aspect == Letters {
		delete(has, Ink)
		delete(has, Shadow)
	}
	if aspect == Ground {
		delete(has, Letters) // the letters on it
	}
	for property := range says {
		if aspect == Letters && strings.HasPrefix(property, "border") || !aboutAny(property) && !beside.MatchString(property) {
			return aspect, false
		}
	}
	return aspect, aspect != "" && len(has) == 0
}

func aboutAny(property string) bool {
	return slices.ContainsFunc(about, func(one struct {
		aspect Aspect
		by     *regexp.Regexp
	}) bool {
		return one.by.MatchString(property)
	})
}

// usedFor is what a custom property (CSS Custom Properties 1) is used for by the sheets.
func (s *Sheet) usedFor(custom string) Aspect {
	if a, ok := s.uses[custom]; ok {
		return a
	}
	if s.uses == nil {
		s.uses = map[string]Aspect{}
		for _, r := range s.rules {
			for _, one := range about { // of one that is used for several the first
				for property, value := range r.says {
					for _, m := range usesVar.FindAllStringSubmatch(value, -1) {
						if s.uses[m[1]] == "" && one.by.MatchString(property) {
							s.uses[m[1]] = one.aspect
						}
					}
				}
			}
		}
	}
	return s.uses[custom]
}

// Choices are the ways in which a site makes an element look that it may be given or carries: by classes and
// attributes that its sheets ask for, by custom properties that they use, by declarations that others like it carry.
// words says that the element holds nothing but words: then whatever only says how words look is one, unless it is
// carried by things of another kind.
func (s *Sheet) Choices(n *html.Node, worn Worn, words bool) (all []Choice) {
	all = append(s.classChoices(n, worn, words), s.attributeChoices(n, worn)...)
	all = append(all, s.styleChoices(n, worn)...)
	slices.SortStableFunc(all, func(a, b Choice) int {
		return slices.Index(aspects, a.Aspect) - slices.Index(aspects, b.Aspect)
	})
	return all
}

// classOf is what the sheets say of a class.
type classOf struct {
	says   map[string]string // by selectors that are the class, or with it what the element is
	within bool              // together with something that the element carries
	aspect Aspect
	only   bool
}

func (s *Sheet) classChoices(n *html.Node, worn Worn, words bool) (all []Choice) {
	own := classes(n)
	known := map[string]*classOf{}
	var order []string
	for _, r := range s.rules {
		if r.compound == nil || r.compound.tag != "" && r.compound.tag != n.Data || !carriesAll(n, r.compound.attributes) {
			continue
		}
		for _, class := range r.compound.classes {
			if slices.ContainsFunc(r.compound.classes, func(c string) bool { return c != class && !slices.Contains(own, c) }) {
				continue
			}
			if known[class] == nil {
				known[class] = &classOf{says: map[string]string{}}
				order = append(order, class)
			}
			k := known[class]
			k.within = k.within || len(r.compound.classes) > 1
			for property, value := range r.says {
				k.says[property] = value
			}
		}
	}
	arranges := s.arranging()
	for _, class := range order {
		known[class].aspect, known[class].only = s.aspectOf(known[class].says)
	}
	kin := s.kinOf(own, known, worn)
	for _, class := range order {
		k := known[class]
		on, like := slices.Contains(own, class), worn.Classes[class]
		if k.aspect == "" || arranges[class] || state.MatchString(class) || kin.isBase(class, k, own, worn, words) {
			continue
		}
		offered := on || like > 0 || k.only && (k.within || isCalled(class, k.aspect) || kin.related(class, k) || modifies(class, own)) ||
			words && s.onlyWords(k.says) && !worn.Others[class] && !strings.Contains(class, "--") && !strings.Contains(class, "__")
		if offered {
			all = append(all, Choice{
				Aspect: k.aspect, By: ByClass, Name: "class", Value: class, On: on, Like: like, Says: k.says, Hides: hides(k.says),
			})
		}
	}
	return all
}

func (s *Sheet) onlyWords(says map[string]string) bool {
	for property := range says {
		if !slices.Contains(look, property) {
			return false
		}
	}
	return true
}

func hides(says map[string]string) bool {
	return says["animation"] == "" && says["animation-name"] == "" && (says["opacity"] == "0" || says["visibility"] == "hidden")
}

// arranging are the classes by which the sheets arrange what is in an element or beside it.
func (s *Sheet) arranging() map[string]bool {
	if s.arranges != nil {
		return s.arranges
	}
	s.arranges = map[string]bool{}
	for _, r := range s.rules {
		if r.compound != nil && len(r.compound.classes) == 1 {
			continue // it is looked at with all that it says
		}
		moves := false
		for property := range r.says {
			moves = moves || arrange.MatchString(property)
		}
		if moves {
			for _, m := range inSelector.FindAllStringSubmatch(r.written, -1) {
				s.arranges[m[1]] = true
			}
		}
	}
	return s.arranges
}

func (s *Sheet) attributeChoices(n *html.Node, worn Worn) (all []Choice) {
	by := map[[2]string]map[string]string{} // what is said by name and value
	var order [][2]string
	for _, r := range s.rules {
		c := r.compound
		if c == nil || len(c.attributes) != 1 || c.tag != "" && c.tag != n.Data || !strings.HasPrefix(c.attributes[0][0], "data-") ||
			slices.ContainsFunc(c.classes, func(class string) bool { return !slices.Contains(classes(n), class) }) {
			continue
		}
		at := c.attributes[0]
		if by[at] == nil {
			by[at] = map[string]string{}
			order = append(order, at)
		}
		for property, value := range r.says {
			by[at][property] = value
		}
	}
	for _, at := range order {
		says := by[at]
		if at[1] == "" {
			continue // whatever it says: it holds for each of them
		}
		for property, value := range by[[2]string{at[0], ""}] {
			if says[property] == "" {
				says[property] = value
			}
		}
		now, has := attribute(n, at[0])
		used := has
		for other := range worn.Attributes {
			used = used || other[0] == at[0]
		}
		if aspect, _ := s.aspectOf(says); aspect != "" && used {
			all = append(all, Choice{
				Aspect: aspect, By: ByAttribute, Name: at[0], Value: at[1], On: has && now == at[1], Like: worn.Attributes[at], Says: says, Hides: hides(says),
			})
		}
	}
	return all
}

// styleChoices are declarations of the style attribute that the element or others like it carry, and for a colour that
// is said by one of the sheets' own, the others of them.
func (s *Sheet) styleChoices(n *html.Node, worn Worn) (all []Choice) {
	var own Worn
	own.Add(n)
	add := func(property, value string, like int) {
		at := slices.IndexFunc(all, func(c Choice) bool { return c.Name == property && c.Value == value })
		aspect := s.usedFor(property)
		if !strings.HasPrefix(property, "--") {
			aspect, _ = s.aspectOf(map[string]string{property: value})
		}
		isPicture := strings.Contains(strings.ToLower(value), "url(") // another one is chosen as a picture is; it can be taken off
		if at < 0 && aspect != "" && (!isPicture || own.Styles[[2]string{property, value}] > 0) {
			all = append(all, Choice{
				Aspect: aspect, By: ByStyle, Name: property, Value: value, Like: like, Says: map[string]string{property: value},
			})
		}
	}
	for _, from := range []Worn{own, worn} {
		for _, d := range sortedPairs(from.Styles) {
			add(d[0], d[1], worn.Styles[d])
		}
	}
	for _, c := range slices.Clone(all) {
		if m := usesVar.FindStringSubmatch(c.Value); m != nil && m[0] == c.Value {
			for _, name := range s.roots {
				if _, isColor := s.color(s.vars[name]); isColor && s.vars[m[1]] != "" {
					add(c.Name, "var("+name+")", 0)
				}
			}
		}
	}
	for i, c := range all {
		all[i].On = own.Styles[[2]string{c.Name, c.Value}] > 0
	}
	return all
}

func sortedPairs(of map[[2]string]int) [][2]string {
	var all [][2]string
	for d := range of {
		all = append(all, d)
	}
	slices.SortFunc(all, func(a, b [2]string) int { return slices.Compare(a[:], b[:]) })
	return all
}

func classes(n *html.Node) []string {
	v, _ := attribute(n, "class")
	return strings.Fields(v)
}

func attribute(n *html.Node, name string) (string, bool) {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val, true
		}
	}
	return "", false
}

func carriesAll(n *html.Node, attributes [][2]string) bool {
	for _, want := range attributes {
		if v, ok := attribute(n, want[0]); !ok || want[1] != "" && v != want[1] {
			return false
		}
	}
	return true
}
