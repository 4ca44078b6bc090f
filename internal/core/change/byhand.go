package change

import (
	"bytes"
	"slices"

	"mendry/internal/core/page"
)

// mostMarkup is how long the markup of a part may be that is written by hand.
const mostMarkup = 200_000

// WrittenByHand is the Name of a PutBack that puts there what somebody wrote.
const WrittenByHand = "by hand"

// ByHand gives the operations that give a part the markup that somebody wrote for it: those of its bytes that differ,
// from the first tag or text that does to the last.
func ByHand(p *page.Page, part *page.Part, markup string) ([]Op, error) {
	switch {
	case part.Locked != "":
		return nil, refuse("“%s” is locked. %s", part.Name, part.Locked)
	case part.Run != nil || part.Background || !part.Placed():
		return nil, refuse("“%s” has no markup of its own. Choose what it stands in.", part.Name)
	case len(markup) > mostMarkup:
		return nil, refuse("That is more than %d bytes. Change a smaller part.", mostMarkup)
	case len(bytes.TrimSpace([]byte(markup))) == 0:
		return nil, refuse("Nothing is left of it. Take the part out instead.")
	}
	within, old := part.Node.HTML.Parent, p.Doc.Decode(p.Doc.Bytes[part.Start:part.End])
	if now := wrong(ReadAs(markup, within)); len(now) > len(wrong(ReadAs(old, within))) {
		return nil, refuse("A browser reads it otherwise than it is written, in line %d.", now[0].Line)
	}
	now, err := (&work{p: p}).encode(markup)
	if err != nil {
		return nil, err
	}
	was := p.Doc.Bytes[part.Start:part.End]
	start := 0
	for start < len(was) && start < len(now) && was[start] == now[start] {
		start++
	}
	was, now = was[start:], now[start:]
	for start > 0 && (len(was) == 0 || was[0] != '<' || len(now) == 0 || now[0] != '<') { // from where a tag or a text begins
		start--
		was, now = p.Doc.Bytes[part.Start+start:part.End], append([]byte{p.Doc.Bytes[part.Start+start]}, now...)
	}
	end := 0
	for end < len(was) && end < len(now) && was[len(was)-1-end] == now[len(now)-1-end] {
		end++
	}
	for end > 0 && was[len(was)-end] != '<' {
		end--
	}
	was, now = was[:len(was)-end], now[:len(now)-end]
	if len(was) == 0 && len(now) == 0 {
		return nil, nil
	}
	return []Op{{Op: PutBack, Name: WrittenByHand, Part: part.ID, At: start, Gone: bytes.Clone(was), Back: now}}, nil
}

func wrong(all []Reading) []Reading {
	return slices.DeleteFunc(all, func(r Reading) bool { return !r.Wrong })
}
