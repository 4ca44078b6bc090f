package text

import (
	"net/url"
	"regexp"
	"strings"

	"golang.org/x/net/html"
)

// What programs put beside words when they are copied: by class, by identifier, by where a link leads (from memory, no
// source). None of it is of the text.
var (
	noteClass    = regexp.MustCompile(`(?i)^(?:msocom\w*|mso(?:comment|annotation)\w*|comment(?:-?(?:ref\w*|anchor|marker))|annotation(?:-?ref\w*))$`)
	noteTarget   = regexp.MustCompile(`(?i)(?:#_msocom_\d|^#_?(?:_?msocom_|cmnt|comment))`)
	noteID       = regexp.MustCompile(`(?i)^_com_\d+$`)
	footClass    = regexp.MustCompile(`(?i)^(?:mso(?:footnote|endnote)reference|footnote(?:-?(?:ref|anchor|back\w*))?|fn-?(?:ref)?|reference|noteref|sdfootnote\w*|sdendnote\w*)$`)
	footTarget   = regexp.MustCompile(`(?i)#(?:_?ftn|_?edn|fn|footnote|cite_(?:note|ref)|note-|sdfootnote|sdendnote|endnote)`)
	footMark     = regexp.MustCompile(`^\s*[\[(]?(?:\d{1,3}|[a-z*†‡§↑^↩]|[ivx]{1,5})[\])]?\s*$`)
	editClass    = regexp.MustCompile(`(?i)(?:editsection|edit-?link|header-?link|anchor-?link|permalink|anchorjs)`)
	editWords    = regexp.MustCompile(`(?i)^\s*(?:\[\s*(?:edit|bearbeiten|modifier)(?:\s*\|[^\]]*)?\s*\]|¶|§|#|🔗)\s*$`)
	quoteClass   = regexp.MustCompile(`(?i)(?:_quote$|^moz-cite|^yahoo_quoted|^quoted?-?(?:mail|text|message)$|^protonmail_quote|^OutlookMessageHeader$)`)
	quoteID      = regexp.MustCompile(`(?i)^(?:divRplyFwdMsg|appendonsend|reply-?intro|mail-?quote)$`)
	quoteBegins  = regexp.MustCompile(`(?i)^\s*(?:-{2,}\s*(?:original message|forwarded message|ursprüngliche nachricht|weitergeleitete nachricht|message d.origine|message transféré)\s*-{2,}|on .{6,80} wrote:|am .{6,80} schrieb .{2,80}:|le .{6,80} a écrit\s*:)\s*$`)
	unseenClass  = regexp.MustCompile(`(?i)^(?:sr-only|visually-?hidden|screen-reader-text|hidden|hide|d-none|print-only|offscreen)$`)
	wordElement  = regexp.MustCompile(`(?i)mso-element\s*:\s*(comment|footnote|endnote)`)
	deletedClass = regexp.MustCompile(`(?i)^mso(?:del|changeprop)$`)
)

// junk says what an element is that does not belong to the words around it; empty where it does.
func junk(n *html.Node) string {
	classes := strings.Fields(attributeOf(n, "class"))
	has := func(of *regexp.Regexp) bool {
		for _, class := range classes {
			if of.MatchString(class) {
				return true
			}
		}
		return false
	}
	href, words := attributeOf(n, "href"), plain(n)
	short := len(words) < 12 && footMark.MatchString(words)
	switch m := wordElement.FindStringSubmatch(attributeOf(n, "style")); {
	case m != nil && strings.EqualFold(m[1], "comment"), has(noteClass), noteID.MatchString(attributeOf(n, "id")), n.Data == "a" && noteTarget.MatchString(href):
		return "comment of a word processor"
	case m != nil, n.Data == "sup" && short && onlyNotes(n), n.Data == "a" && short && (footTarget.MatchString(href) || has(footClass) || attributeOf(n, "role") == "doc-noteref"):
		return "footnote mark"
	case n.Data == "del" && (attributeOf(n, "datetime") != "" || attributeOf(n, "cite") != ""), has(deletedClass):
		return "words that were struck out while changes were tracked"
	case has(editClass), n.Data == "a" && editWords.MatchString(words):
		return "edit link"
	case n.Data == "button", attributeOf(n, "role") == "button":
		return "button"
	case n.Data == "blockquote" && strings.EqualFold(attributeOf(n, "type"), "cite"), has(quoteClass), quoteID.MatchString(attributeOf(n, "id")):
		return "quoted mail"
	case unseen(n, has(unseenClass)):
		return "hidden text"
	}
	return ""
}

// onlyNotes reports whether all links in an element are marks of footnotes, and there is one.
func onlyNotes(n *html.Node) bool {
	found := false
	for d := range n.Descendants() {
		if d.Type == html.ElementNode && d.Data == "a" {
			if !footTarget.MatchString(attributeOf(d, "href")) {
				return false
			}
			found = true
		}
	}
	return found
}

var (
	zero    = `0(?:\.0+)?(?:px|pt|em|rem|%)?\s*(?:!important\s*)?(?:;|$)`
	unseens = []*regexp.Regexp{
		regexp.MustCompile(`(?i)(?:^|;)\s*display\s*:\s*none`),
		regexp.MustCompile(`(?i)(?:^|;)\s*visibility\s*:\s*(?:hidden|collapse)`),
		regexp.MustCompile(`(?i)(?:^|;)\s*mso-hide\s*:\s*all`),
		regexp.MustCompile(`(?i)(?:^|;)\s*opacity\s*:\s*` + zero),
		regexp.MustCompile(`(?i)(?:^|;)\s*font-size\s*:\s*(?:` + zero + `|1px)`),
		regexp.MustCompile(`(?i)(?:^|;)\s*(?:left|top|text-indent|margin-left)\s*:\s*-\d{4,}`),
		regexp.MustCompile(`(?i)(?:^|;)\s*clip(?:-path)?\s*:\s*(?:rect\(\s*(?:0|1px)|inset\(\s*(?:50|100)%)`),
	}
	noRoom    = regexp.MustCompile(`(?i)(?:^|;)\s*(?:max-)?(?:height|width)\s*:\s*(?:` + zero + `|1px)`)
	cutOff    = regexp.MustCompile(`(?i)(?:^|;)\s*overflow\s*:\s*hidden`)
	ink       = regexp.MustCompile(`(?i)(?:^|;)\s*color\s*:\s*([^;]+)`)
	ground    = regexp.MustCompile(`(?i)(?:^|;)\s*background(?:-color)?\s*:\s*([^;]+)`)
	unseenInk = regexp.MustCompile(`(?i)^\s*(?:transparent|rgba\([^)]*,\s*0\s*\))\s*$`)
)

// unseen reports whether an element was not to be seen where it was copied: by an attribute, a class, or its style.
func unseen(n *html.Node, byClass bool) bool {
	for _, a := range n.Attr {
		if a.Key == "hidden" && !strings.EqualFold(a.Val, "until-found") {
			return true
		}
	}
	style := attributeOf(n, "style")
	if byClass || noRoom.MatchString(style) && cutOff.MatchString(style) {
		return true
	}
	for _, way := range unseens {
		if way.MatchString(style) {
			return true
		}
	}
	if m := ink.FindStringSubmatch(style); m != nil {
		if unseenInk.MatchString(m[1]) {
			return true
		}
		if g := ground.FindStringSubmatch(style); g != nil {
			return strings.EqualFold(strings.TrimSpace(m[1]), strings.TrimSpace(g[1]))
		}
	}
	return false
}

// Addresses that lead on to the one that stands in them: those of searches, of networks and of programs that look at
// the links in mails (common practice, no source).
var (
	leadsOn     = regexp.MustCompile(`(?i)(?:^|[/.])(?:url|redirect|redir|l\.php|l|link|out|go|r|click|away|track|safelinks|linkfilter|leave|exit)(?:[/.]|$)`)
	targetNames = map[string]bool{"url": true, "q": true, "u": true, "uddg": true, "target": true, "dest": true, "destination": true, "to": true, "link": true, "redirect": true, "goto": true}
	wrappedIn   = regexp.MustCompile(`/__(https?:/{1,2}.+?)__;`)
)

// straight is the address that another one leads on to; empty where it leads on to none.
func straight(u *url.URL) string {
	if m := wrappedIn.FindStringSubmatch(u.String()); m != nil {
		return strings.Replace(strings.Replace(m[1], ":/", "://", 1), ":///", "://", 1)
	}
	if !leadsOn.MatchString(u.Host+u.Path) || u.Host == "" {
		return ""
	}
	for name, values := range u.Query() {
		if targetNames[strings.ToLower(name)] {
			if to, err := url.Parse(values[0]); err == nil && (to.Scheme == "https" || to.Scheme == "http") && to.Host != "" {
				return values[0]
			}
		}
	}
	return ""
}

// withoutQuotes takes out what a mail quotes below a line, or lines, that say so, and how it is signed.
func (c *cleaner) withoutQuotes(out *html.Node) {
	for k := out.FirstChild; k != nil; k = k.NextSibling {
		if k.Data != "p" {
			continue
		}
		switch line := plain(k); {
		case quoteBegins.MatchString(strings.TrimSpace(line)), senderLine.MatchString(line) && k.PrevSibling != nil && headerRun.MatchString(onwards(k)):
			c.drop("quoted mail")
		case signature.MatchString(strings.TrimLeft(line, " \n")) && k.PrevSibling != nil:
			c.drop("signature")
		default:
			continue
		}
		for next := k; next != nil; {
			gone := next
			next = next.NextSibling
			out.RemoveChild(gone)
		}
		return
	}
}

// onwards are the words of a paragraph and of those right after it, as far as the head of a mail may reach.
func onwards(p *html.Node) string {
	var all []string
	for k := p; k != nil && k.Data == "p" && len(all) < 5; k = k.NextSibling {
		all = append(all, plain(k))
	}
	return strings.Join(all, "\n")
}
