package page

import (
	"regexp"
	"strings"
	"time"

	"mendry/internal/core/source"
)

// Hidden reports whether a page asks search engines to leave it out (the robots meta element of HTML's WHATWG list of
// metadata names), or says in its front matter that it is a draft or hidden, as builders of sites read it (common
// practice, no source).
func (p *Page) Hidden() bool {
	if p.Doc.Format == source.Markdown {
		for key, hides := range map[string]string{"draft": "true", "hidden": "true", "published": "false"} {
			if v, ok := p.Doc.FrontScalar(key); ok && strings.EqualFold(v.Value, hides) {
				return true
			}
		}
		return false
	}
	for _, n := range p.Doc.Nodes {
		if n.Is("meta") && strings.EqualFold(p.Doc.Value(n, "name"), "robots") {
			content := strings.ToLower(p.Doc.Value(n, "content"))
			return strings.Contains(content, "noindex") || strings.Contains(content, "none")
		}
	}
	return false
}

var dayInAddress = regexp.MustCompile(`(?:^|/)((?:19|20)\d\d)[-/](\d\d)(?:[-/](\d\d))?(?:[-/.]|$)`)

// Dated is the day that a page is of: what its front matter or its metadata say (article:published_time of the Open
// Graph protocol), or its address; zero where it is of none. address is its public path.
func (p *Page) Dated(address string) time.Time {
	said := ""
	if p.Doc.Format == source.Markdown {
		if v, ok := p.Doc.FrontScalar("date"); ok {
			said = v.Value
		}
	} else {
		for _, n := range p.Doc.Nodes {
			if n.Is("meta") && p.Doc.Value(n, "property") == "article:published_time" {
				said = p.Doc.Value(n, "content")
				break
			}
		}
	}
	if len(said) >= 10 {
		if day, err := time.Parse(time.DateOnly, said[:10]); err == nil {
			return day
		}
	}
	if m := dayInAddress.FindStringSubmatch(address); m != nil {
		if m[3] == "" {
			m[3] = "01"
		}
		if day, err := time.Parse(time.DateOnly, m[1]+"-"+m[2]+"-"+m[3]); err == nil {
			return day
		}
	}
	return time.Time{}
}

// MenuLinks lists where the links of the page's menus lead, as written, in order.
func (p *Page) MenuLinks() (hrefs []string) {
	for _, n := range p.Doc.Nodes {
		if n.Is("a") && inside(n, "nav") {
			hrefs = append(hrefs, p.Doc.Value(n, "href"))
		}
	}
	return hrefs
}
