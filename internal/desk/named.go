package desk

import (
	"encoding/json"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/link"
	"mendry/internal/store"
)

// homePage is what the client calls the page at the site's own address.
const homePage = "Home page"

// called are the names by which a client knows the pages of their site, by address.
type called map[string]string

func calledBy(pages []store.PageRow, site string) called {
	all := called{}
	for _, p := range pages {
		all[p.Address] = pageName(p.Address, p.Title, site)
	}
	return all
}

func pageName(address, title, site string) string {
	if address == "/" {
		return homePage
	}
	return titleOf(title, site)
}

// target says where a link on a page leads: to a page of the site by its name, to people by how they are reached.
func (names called) target(from, href string) string {
	kind, to, place := link.Of("http://site.example/", from, href)
	switch name := names[to]; {
	case kind == link.Place, kind == link.Inside && to == from && place != "":
		return "a place on this page"
	case kind == link.Inside && name != "":
		return name
	case kind == link.Mail, kind == link.Phone:
		return to
	}
	return href
}

// isTarget reports whether a change is to a link's target.
func isTarget(c store.Change) bool {
	var step change.Step
	return json.Unmarshal([]byte(c.Op), &step) == nil && len(step) == 1 && step[0].Op.Op == change.SetAttribute && step[0].Name == "href"
}

// leading tells of a change to a link's target by where it led and leads.
func (names called) leading(cc *api.ClientChange, c store.Change, from string) {
	cc.BeforeWords, cc.AfterWords = names.target(from, c.BeforeWords), names.target(from, c.AfterWords)
	cc.Words = runs([]diff.Run{{Is: diff.Gone, Text: cc.BeforeWords}, {Is: diff.New, Text: cc.AfterWords}})
}
