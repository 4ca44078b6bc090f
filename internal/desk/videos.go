package desk

import (
	"context"
	"mime"
	"net/url"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/video"
)

// Plays implements act.Rest.
func (r *rest) Plays(address string) (act.Plays, error) { return r.d.plays(r.ctx, address) }

// longestLook is how long the address of a film is looked at.
const longestLook = 10 * time.Second

// plays looks at the address of a film: a file that browsers play, a page that offers its player by oEmbed, or another
// page, to which a visitor is led.
func (d *Desk) plays(ctx context.Context, address string) (p act.Plays, err error) {
	ctx, cancel := context.WithTimeout(ctx, longestLook)
	defer cancel()
	media, final, err := d.visits.Media(ctx, address)
	if err != nil {
		return p, err
	}
	media, _, _ = mime.ParseMediaType(media)
	switch {
	case strings.HasPrefix(media, "video/"), strings.HasPrefix(media, "audio/"):
		p.Src, p.Media = final, media
		return p, nil
	case media != "text/html" && media != "application/xhtml+xml":
		return p, refused("At that address is neither a film nor a page that shows one (it is %s).", media)
	}
	v, err := d.visits.Get(ctx, address)
	if err != nil {
		return p, err
	}
	p.Src = v.Final
	offers := video.Discover(v.Bytes, v.Final)
	if offers == "" {
		return p, nil
	}
	answer, err := d.visits.Get(ctx, offers)
	if err != nil {
		return p, err
	}
	if p.Player, err = video.Read(answer.Bytes); err != nil {
		return p, err
	}
	p.Frame = true
	_, _, err = d.visits.Media(ctx, p.Src)
	return p, err
}

// Video tells what plays at an address.
func (d *Desk) Video(ctx context.Context, address string) (v api.VideoTold, err error) {
	u, ok := onTheWeb(address)
	if !ok {
		return v, refused("That is no address of another site. It begins with https://.")
	}
	p, err := d.plays(ctx, u.String())
	if err != nil {
		return v, err
	}
	from, err := url.Parse(p.Src)
	if err != nil {
		return v, refused("“%s” is no address that a visitor can follow.", p.Src)
	}
	v.Host, v.Title, v.Width, v.Height = from.Host, p.Title, p.Width, p.Height
	switch {
	case strings.HasPrefix(p.Media, "audio/"):
		v.Kind, v.Say = api.VideoKindSound, "A sound. It is played on the page; nothing is loaded from "+from.Host+" before a visitor starts it."
	case p.Media != "":
		v.Kind, v.Say = api.VideoKindFilm, "A film. It is played on the page; nothing is loaded from "+from.Host+" before a visitor starts it."
	case p.Frame:
		v.Kind, v.Say = api.VideoKindPlayer, "A page with a player. It takes the cover’s place when a visitor chooses it; nothing is loaded from "+from.Host+" before."
	default:
		v.Kind, v.Say = api.VideoKindPage, "A page that offers no player for other pages. The cover leads there, in a new tab."
	}
	if u.Scheme == "http" {
		v.Say += " The address is not encrypted: try https:// instead."
	}
	return v, nil
}
