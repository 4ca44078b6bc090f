package demo

import (
	"fmt"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
)

func (f *filler) winterFares() error {
	r, err := f.letter("larkspur", "Winter fares from 1 December, and the 31 November sailing",
		"Dear Ines,\n\nFrom 1 December the adult single goes to £7.40 and the child to £3.70. Please use the new boat photo at the top of the fares page, and add the extra sailing on 31 November.\n\nThank you,\nMaren",
		0, api.RequestKindMail, map[string][]byte{"New boat.jpg": NewBoat()})
	if err != nil {
		return err
	}
	if _, err := f.wish(r, "the adult single goes to £7.40", "/fares.html", "Adult, Single"); err != nil {
		return err
	}
	if _, err := f.wish(r, "the child to £3.70", "/fares.html", "Child, 5 to 15, Single"); err != nil {
		return err
	}
	_, err = f.wish(r, "the extra sailing on 31 November", "", "")
	return err
}

func (f *filler) coachPhoto() error {
	_, err := f.letter("osprey", "Swap the coach photo, and add Tove to the team",
		"Hi all,\n\nAlwyn has a new photo, please swap it. And Tove Lindqvist joins us as a coach for steep ground; picture attached, she says “put my feet where my eyes are”.\n\nJory",
		2, api.RequestKindMail, map[string][]byte{"Alwyn new.jpg": CoachPhoto(), "tove.jpg": NewCoach()})
	return err
}

func (f *filler) openEvening() error {
	r, err := f.letter("saltgate", "New open-evening section above the visiting hours",
		"Dear studio,\n\ncould you add a section about the open evening above the visiting hours on the visit page? It is on Saturday 5 December, from six, and free. The way up should come before the tickets.\n\nIlse Varnham",
		3, api.RequestKindMail, map[string][]byte{"open evening banner.jpg": OpenEvening()})
	if err != nil {
		return err
	}
	w, err := f.wish(r, "a section about the open evening above the visiting hours", "/visit.html", "section Visiting hours")
	if err != nil {
		return err
	}
	way, err := f.wish(r, "The way up should come before the tickets", "/visit.html", "item The way up")
	if err != nil {
		return err
	}
	page, err := f.page(r.Row.SiteID, "/visit.html")
	if err != nil {
		return err
	}
	hours, err := f.part(r.Row.Number, page, "section Visiting hours")
	if err != nil {
		return err
	}
	copied := func(part string) act.Act { return &act.Copy{Part: part, Anchor: hours, Where: change.Before} }
	if err := f.keep(r, "/visit.html", "item Tickets", &w, copied); err != nil {
		return err
	}
	if err := f.keep(r, "/visit.html", "heading Tickets", &w, words("Open evening")); err != nil {
		return err
	}
	if err := f.keep(r, "/visit.html", "Adults £8", &w, words("On Saturday 5 December the dome is open to everybody from six o’clock, and it costs nothing.")); err != nil {
		return err
	}
	tickets, err := f.part(r.Row.Number, page, "item Tickets")
	if err != nil {
		return err
	}
	return f.keep(r, "/visit.html", "item The way up", &way, func(part string) act.Act {
		return &act.Move{Part: part, Anchor: tickets, Where: change.Before}
	})
}

func (f *filler) tearoom() error {
	r, err := f.letter("larkspur", "Tearoom hours on Heron Island",
		"The tearoom is now open every day in winter too, except Mondays. The ring path is three miles, somebody measured it.",
		4, api.RequestKindCall, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "open every day in winter too, except Mondays", "/islands/heron.html", "Open from the first boat")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/islands/heron.html", "Open from the first boat", &w, words("Open from the first boat to the last, every day from March to October and every day but Monday in winter.")); err != nil {
		return err
	}
	if err := f.keep(r, "/islands/heron.html", "Length: three", nil, words("Length: three miles")); err != nil {
		return err
	}
	_, err = f.d.SendProof(f.ctx, f.who, r.Row.Number)
	return err
}

func (f *filler) saturdayHour() error {
	r, err := f.letter("osprey", "Saturday hour costs £8 now",
		"The Saturday hour for kids goes up to £8 with shoes. Nothing else changes.", 1, api.RequestKindCall, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "goes up to £8 with shoes", "/kids/", "With Corin")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/kids/", "With Corin", &w, words("With Corin, 10 to 11, for children from five. £8 with shoes.")); err != nil {
		return err
	}
	_, err = f.d.Move(f.ctx, f.who, r.Row.Number, api.RequestStateCleared, "")
	return err
}

// talks is a finished request: shown, signed, published, seen to be right, signed off.
func (f *filler) talks() error {
	r, err := f.letter("saltgate", "The January talk has a new title",
		"The talk on 14 January is now called “Salt, roads and the Pole Star”.", -6, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "now called “Salt, roads and the Pole Star”", "/talks.html", "heading Salt, roads and stars")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/talks.html", "heading Salt, roads and stars", &w, words("Salt, roads and the Pole Star")); err != nil {
		return err
	}
	if _, err := f.d.SendProof(f.ctx, f.who, r.Row.Number); err != nil {
		return err
	}
	if err := f.answer(r.Row.Number, "Ilse Varnham", ""); err != nil {
		return err
	}
	rel, err := f.d.Publish(f.ctx, f.who, r.Row.Number, nil)
	if err != nil {
		return err
	}
	if err := f.until(func() (bool, error) {
		rel, err = f.d.Release(f.ctx, rel.ID)
		if err == nil && rel.State == api.ReleaseStateStopped {
			err = fmt.Errorf("%s", rel.Said)
		}
		return rel.State == api.ReleaseStateSure, err
	}); err != nil {
		return err
	}
	_, err = f.d.Move(f.ctx, f.who, r.Row.Number, api.RequestStateSignedOff, "")
	return err
}

// enquiries is a letter about words that stand on nine pages and differ by one phrase.
func (f *filler) enquiries() error {
	r, err := f.letter("pennyfield", "We answer sooner now", "Hello Ines,\n\nwe answer within one day now, not two days. Please say so on all nine boats, and a week costs from £680 everywhere.\n\nOdette", 5, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "a week costs from £680 everywhere", "/boats/alder.html", "words “Write to us about Alder and we…”")
	return err
}

// season is a letter with words from a word processor, for a page with another program's codes in it.
func (f *filler) season() error {
	r, err := f.letter("fenwick", "Spring season", "Dear Ines,\n\nThe Clockmaker’s Daughter plays one day longer, until 30 November. And “balcony, 24 dolars” should be Balcony, 24 dollars.\n\nBram", 9, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "“balcony, 24 dolars” should be Balcony, 24 dollars", "/season.html", "words “balcony, 24 dolars”")
	return err
}

// article is a letter about a page that is kept as Markdown.
func (f *filler) article() error {
	r, err := f.letter("bramble", "Broad beans", "Ines, in the article on broad beans: sow them late, not early, and link “centimetres” to https://measures.example/. Mice belong further up.\n\nNan", 12, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "sow them late, not early", "/articles/broad-beans", "words Opening words")
	return err
}

// lengths is a letter with a table's worth of numbers for nine pages that are built alike.
func (f *filler) lengths() error {
	_, err := f.letter("pennyfield", "Lengths and berths, and no model numbers",
		"Hello Ines,\n\nwe measured them all again. Alder is 58 ft, Cedar 61 ft, Linden 67 ft. Maple has 5 berths now, Elm 4. And please hide the model on every boat, nobody knows what it means.\n\nOdette",
		6, api.RequestKindMail, nil)
	return err
}

// telephone is a letter about a number that stands in a footer of forty pages, and on one of them besides.
func (f *filler) telephone() error {
	r, err := f.letter("marlow", "Our new telephone number",
		"Kia ora Ines,\n\nfrom Monday our telephone number is 03 555 0188. It is at the foot of every page, I think.\n\nPeta", 1, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "our telephone number is 03 555 0188", "/contact.html", "The Old Sail Loft, Beach Road, Marlow. Telephone")
	return err
}

// gallery is a letter about the order of pictures.
func (f *filler) gallery() error {
	_, err := f.letter("marlow", "The gallery, in another order",
		"Could the gallery begin with the Sea Dragon, then the Post Box, and the rest as it is? And the child with the kite should stand upright.\n\nPeta", 8, api.RequestKindMail, nil)
	return err
}

// voices is a letter about what customers said.
func (f *filler) voices() error {
	_, err := f.letter("osprey", "Voices: one out, one in, eight at six seconds",
		"Hi,\n\nplease take Sten out of what people say, he has moved away. New: “I fell twelve times and went home happy.” Marit K. Could eight of them be shown, for six seconds each?\n\nJory", 7, api.RequestKindMail, nil)
	return err
}

// pageMoves is a letter about where a page stands in the menu.
func (f *filler) pageMoves() error {
	_, err := f.letter("marlow", "Friends belongs under Visit",
		"Nobody finds our page for friends. Please put it under Visit in the menu, after Groups.\n\nPeta", 11, api.RequestKindMail, nil)
	return err
}

// spring is in its second round: the client had found one change not yet right.
func (f *filler) spring() error {
	r, err := f.letter("fenwick", "Spring season, second thoughts",
		"Ines, Tide Table plays until 6 March, and The Quiet Mill opens on 19 March. Sam is called Samuel on the page of the season.\n\nBram", 3, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	tide, err := f.wish(r, "Tide Table plays until 6 March", "/spring.html", "Tide Table, Until")
	if err != nil {
		return err
	}
	mill, err := f.wish(r, "The Quiet Mill opens on 19 March", "/spring.html", "The Quiet Mill, From")
	if err != nil {
		return err
	}
	for _, c := range []struct {
		part, words string
		wish        *int64
	}{
		{"Tide Table, Until", "6 March", &tide}, {"The Quiet Mill, From", "19 March 2027", &mill},
		{"Two harbour pilots", "Two harbour pilots wait for the same boat. With Odile Marchetti and Samuel Whelan.", nil},
	} {
		if err := f.keep(r, "/spring.html", c.part, c.wish, words(c.words)); err != nil {
			return err
		}
	}
	if _, err := f.d.SendProof(f.ctx, f.who, r.Row.Number); err != nil {
		return err
	}
	if err := f.answer(r.Row.Number, "Bram Oswin", "With the year, please, as in the other rows."); err != nil {
		return err
	}
	if err := f.keep(r, "/spring.html", "Tide Table, Until", &tide, words("6 March 2027")); err != nil {
		return err
	}
	_, err = f.d.SendProof(f.ctx, f.who, r.Row.Number)
	return err
}

// repairPrices is cleared, and waits to be put in by hand.
func (f *filler) repairPrices() error {
	r, err := f.letter("quillon", "Mantel clocks cost more to clean",
		"Dear Ines,\n\ncleaning a mantel clock is £72 from now on, and the prices hold until 30 June 2027. The mantel clock is done, too: here is its picture, instead of the sooty one.\n\nOtto Brandling",
		2, api.RequestKindMail, map[string][]byte{"mantel after.jpg": CleanClock()})
	if err != nil {
		return err
	}
	price, err := f.wish(r, "cleaning a mantel clock is £72", "/repairs", "Mantel clock, Cleaned")
	if err != nil {
		return err
	}
	until, err := f.wish(r, "the prices hold until 30 June 2027", "/repairs", "Prices hold until")
	if err != nil {
		return err
	}
	sooty, err := f.wish(r, "instead of the sooty one", "/repairs", "picture A sooty mantel clock")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/repairs", "Mantel clock, Cleaned", &price, words("£72")); err != nil {
		return err
	}
	if err := f.keep(r, "/repairs", "Prices hold until", &until, words("Prices hold until 30 June 2027.")); err != nil {
		return err
	}
	if r, err = f.d.Request(f.ctx, r.Row.Number); err != nil {
		return err
	}
	clean := func(part string) act.Act { return &act.Picture{Part: part, Attachment: r.Attachments[0].ID} }
	if err := f.keep(r, "/repairs", "picture A sooty mantel clock", &sooty, clean); err != nil {
		return err
	}
	alt := func(part string) act.Act {
		return &act.Attribute{Part: part, Name: "alt", Words: "The same mantel clock, cleaned"}
	}
	if err := f.keep(r, "/repairs", "picture A sooty mantel clock", &sooty, alt); err != nil {
		return err
	}
	if _, err := f.d.SendProof(f.ctx, f.who, r.Row.Number); err != nil {
		return err
	}
	return f.answer(r.Row.Number, "Otto Brandling", "")
}
