package change

import (
	"bytes"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/diff"
)

// Reading is something in markup that a browser reads otherwise than it is written.
type Reading struct {
	Line  int // from 1
	Say   string
	Wrong bool // it is an error, not a tag that may be left out, nor something that runs
}

// mostReadings are told of one markup.
const mostReadings = 40

// optional are the elements whose end tags may be left out (HTML, 13.1.2.4), implied those whose start tags may be,
// and voids those that have no end tag (13.1.2).
var (
	implied  = []string{"tbody", "colgroup"}
	optional = strings.Fields("li dt dd p rt rp optgroup option colgroup caption thead tbody tfoot tr td th")
	voids    = strings.Fields("area base br col embed hr img input link meta source track wbr")
)

// tag is a start or an end tag, as written or as read.
type tag struct {
	name string // with the slash of an end tag
	line int
}

// ReadAs tells what a browser reads otherwise than it is written in markup that stands within an element (HTML,
// 13.2.6): tags that are left out or put in, attributes that are lost, and what runs.
func ReadAs(markup string, within *html.Node) (all []Reading) {
	say := func(wrong bool, line int, format string, args ...any) {
		if len(all) < mostReadings {
			all = append(all, Reading{line, fmt.Sprintf(format, args...), wrong})
		}
	}
	typed := written(markup, say)
	kids, err := fragment([]byte(markup), within)
	if err != nil {
		say(true, 1, "It cannot be read: %v.", err)
		return all
	}
	read := readTags(kids)
	i, j := 0, 0
	for _, run := range diff.Script(names(typed), names(read)) {
		switch run.Is {
		case diff.Same:
			i, j = i+run.N, j+run.N
		case diff.Gone:
			last := i // of several alike in a row it is the last one that is too many
			for last+run.N < len(typed) && typed[last].name == typed[last+run.N].name {
				last++
			}
			for _, t := range typed[last : last+run.N] {
				if end, ok := strings.CutPrefix(t.name, "/"); ok {
					say(true, t.line, "“</%s>” closes nothing here, and is left out.", end)
				} else {
					say(true, t.line, "“<%s>” cannot stand here, and is left out or read elsewhere.", t.name)
				}
			}
			i += run.N
		case diff.New:
			line := 1 + strings.Count(markup, "\n")
			if i < len(typed) {
				line = typed[i].line
			}
			for _, t := range read[j : j+run.N] {
				end, ok := strings.CutPrefix(t.name, "/")
				switch {
				case ok && slices.Contains(optional, end):
				case ok:
					say(true, line, "“<%s>” is closed here, though it is not written.", end)
				default:
					say(!slices.Contains(implied, t.name), line, "“<%s>” is put in, though it is not written.", t.name)
				}
			}
			j += run.N
		}
	}
	slices.SortStableFunc(all, func(a, b Reading) int { return a.Line - b.Line })
	return all
}

func names(tags []tag) []string {
	all := make([]string, len(tags))
	for i, t := range tags {
		all[i] = t.name
	}
	return all
}

// anAttribute is an attribute in a start tag (HTML, 13.1.2.3).
var anAttribute = regexp.MustCompile(`[\s/]+([^\s>/=][^\s>/=]*)(?:\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>]+))?`)

// written are the tags of markup; what is lost within a tag, or runs, is said.
func written(markup string, say func(bool, int, string, ...any)) (all []tag) {
	t := html.NewTokenizer(strings.NewReader(markup))
	line, at := 1, 0
	for {
		kind := t.Next()
		raw := t.Raw()
		here := line
		line += bytes.Count(raw, []byte("\n"))
		if kind == html.ErrorToken {
			if rest := strings.TrimSpace(markup[at:]); strings.HasPrefix(rest, "<") && len(rest) > 1 {
				say(true, here, "The tag that begins here does not end: all behind it is lost.")
			}
			return all
		}
		at += len(raw)
		if kind != html.StartTagToken && kind != html.EndTagToken && kind != html.SelfClosingTagToken {
			continue
		}
		tagged := string(raw)
		b, _ := t.TagName()
		name := string(b)
		if kind == html.EndTagToken {
			all = append(all, tag{"/" + name, here})
			continue
		}
		all = append(all, tag{name, here})
		if kind == html.SelfClosingTagToken && !slices.Contains(voids, name) {
			all = append(all, tag{"/" + name, here}) // it is one in a drawing; elsewhere the slash says nothing, and that is told
		}
		seen := map[string]bool{}
		for _, m := range anAttribute.FindAllStringSubmatch(tagged[1+len(name):], -1) { // the tokenizer leaves out what stands twice
			key := strings.ToLower(m[1])
			switch {
			case seen[key]:
				say(true, here, "“%s” stands twice in “<%s>”: the second is left out.", key, name)
			case strings.ContainsAny(key, "<\"'"):
				say(true, here, "“%s” in “<%s>” is read as the name of an attribute: is a quote missing?", key, name)
			case strings.HasPrefix(key, "on") && len(key) > 2:
				say(false, here, "“%s” in “<%s>” runs for visitors.", key, name)
			}
			seen[key] = true
		}
		if name == "script" {
			say(false, here, "A script stands here: it runs for visitors.")
		}
	}
}

// readTags are the tags of nodes as they would be written in full.
func readTags(kids []*html.Node) (all []tag) {
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type != html.ElementNode {
			return
		}
		name := strings.ToLower(n.Data)
		all = append(all, tag{name: name})
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			walk(k)
		}
		if !slices.Contains(voids, name) {
			all = append(all, tag{name: "/" + name})
		}
	}
	for _, k := range kids {
		walk(k)
	}
	return all
}
