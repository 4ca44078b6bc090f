package desk

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/text"
	"mendry/internal/host"
)

const answers = "It answers."

// TryLink tries an outside address as a visitor would. Redirects are followed, and judged again at each hop.
func (d *Desk) TryLink(ctx context.Context, address string) (api.LinkTried, error) {
	address = strings.TrimSpace(address)
	u, ok := onTheWeb(address)
	if !ok {
		return api.LinkTried{Say: "That is no outside address. It begins with https:// or http://."}, nil
	}
	ctx, cancel := context.WithTimeout(ctx, 10*time.Second)
	defer cancel()
	v, err := d.visits.Get(ctx, address)
	var p *host.Problem
	switch {
	case errors.As(err, &p):
		return api.LinkTried{Say: p.Say}, nil
	case err != nil:
		return api.LinkTried{Say: "The address does not answer."}, nil
	}
	out := api.LinkTried{Ok: true, Final: v.Final, Say: answers}
	switch {
	case v.Final != "" && strings.TrimSuffix(v.Final, "/") != strings.TrimSuffix(address, "/"):
		out.Say = fmt.Sprintf("It answers, and leads on to %s. Better link there.", v.Final)
	case u.Scheme == "http":
		out.Say = "It answers. The link goes there without encryption: try https:// instead."
	}
	return out, nil
}

// onTheWeb reads an address that a visitor reaches on another site; false where it is none.
func onTheWeb(address string) (*url.URL, bool) {
	u, err := url.Parse(strings.TrimSpace(address))
	return u, err == nil && u.Host != "" && (u.Scheme == "http" || u.Scheme == "https")
}

// Clean cleans what was pasted: markup, or words that came without.
func (d *Desk) Clean(f api.CleanForm) api.Cleaned {
	out := api.Cleaned{Dropped: []api.Dropped{}}
	var dropped []text.Dropped
	if f.Text != nil {
		if !f.Plain {
			out.Blocks, dropped = text.CleanPlain(*f.Text, text.Everything)
		}
		var inLine []text.Dropped
		if out.HTML, inLine = text.CleanPlain(*f.Text, text.Inline); f.Plain {
			dropped = inLine
		}
	} else {
		var markup string
		var more []text.Dropped
		markup, dropped = text.Unset(f.HTML)
		if f.Plain {
			var plain string
			plain, more = text.Plain(markup)
			out.HTML = strings.ReplaceAll(change.EscapeText(plain), "\n", "<br>")
		} else {
			out.Blocks, more = text.Clean(markup, text.Everything)
			out.HTML, _ = text.Clean(markup, text.Inline)
		}
		dropped = append(dropped, more...)
	}
	for _, x := range dropped {
		out.Dropped = append(out.Dropped, api.Dropped{What: x.What, Count: x.Count})
	}
	return out
}
