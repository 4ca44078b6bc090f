// Package video is about films that play from elsewhere: what the page at an address tells of its player, by the open
// format oEmbed (oembed.com, version 1.0). What it tells is another site's word: addresses are taken, markup never is.
package video

import (
	"bytes"
	"encoding/json"
	"net/url"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/refusal"
)

// Player is what plays a film.
type Player struct {
	Src           string // the address to be shown in a frame
	Title         string
	Width, Height int // of the film, as told; 0 where nobody told it
}

// most is what is kept of a title, in letters, and how large a film may say that it is, in CSS pixels.
const (
	mostTitle = 200
	mostSide  = 8192
)

// Discover finds where a page at an address offers its player as oEmbed (4, Discovery): a link element of the media
// type application/json+oembed. It is empty where the page offers none.
func Discover(page []byte, address string) string {
	base, err := url.Parse(address)
	if err != nil {
		return ""
	}
	z := html.NewTokenizer(bytes.NewReader(page))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return ""
		case html.StartTagToken, html.SelfClosingTagToken:
			t := z.Token()
			if t.Data != "link" || !strings.EqualFold(attribute(t, "type"), "application/json+oembed") {
				continue
			}
			if to, err := base.Parse(strings.TrimSpace(attribute(t, "href"))); err == nil && web(to) {
				return to.String()
			}
		}
	}
}

// Read reads an oEmbed answer (2.3.4.2, the video type, and 2.3.4.4, rich): of its markup the address of its frame is
// taken, and nothing else. The error is a refusal where it offers no film.
func Read(answer []byte) (Player, error) {
	var told struct {
		Type   string `json:"type"`
		Title  string `json:"title"`
		HTML   string `json:"html"`
		Width  number `json:"width"`
		Height number `json:"height"`
	}
	if err := json.Unmarshal(answer, &told); err != nil {
		return Player{}, refuse("What the page says of its player cannot be read.")
	}
	if told.Type != "video" && told.Type != "rich" {
		return Player{}, refuse("The page at that address offers no film to be shown on another page.")
	}
	p := Player{Width: int(told.Width), Height: int(told.Height)}
	if title := []rune(strings.Join(strings.Fields(told.Title), " ")); len(title) > 0 {
		p.Title = string(title[:min(len(title), mostTitle)])
	}
	if p.Width == 0 || p.Height == 0 {
		p.Width, p.Height = 0, 0
	}
	z := html.NewTokenizer(strings.NewReader(told.HTML))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return Player{}, refuse("The page at that address offers no player that can stand in a frame.")
		case html.StartTagToken, html.SelfClosingTagToken:
			t := z.Token()
			if t.Data != "iframe" {
				continue
			}
			src := strings.TrimSpace(attribute(t, "src"))
			if strings.HasPrefix(src, "//") {
				src = "https:" + src
			}
			if to, err := url.Parse(src); err == nil && web(to) {
				p.Src = to.String()
				return p, nil
			}
		}
	}
}

// number is one that some write as a string, or as none.
type number int

// UnmarshalJSON reads numbers and digits in quotes; anything else is 0.
func (n *number) UnmarshalJSON(b []byte) error {
	f, err := strconv.ParseFloat(strings.Trim(string(b), `"`), 64)
	if err == nil && f > 0 && f <= mostSide {
		*n = number(f)
	}
	return nil
}

func web(u *url.URL) bool {
	return (u.Scheme == "https" || u.Scheme == "http") && u.Host != "" && u.User == nil
}

func attribute(t html.Token, name string) string {
	for _, a := range t.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

func refuse(say string) error { return refusal.New(refusal.Rule, "%s", say) }
