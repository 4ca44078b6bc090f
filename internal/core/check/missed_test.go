package check

import (
	"testing"
	"time"

	"mendry/internal/core/page"
)

// Words that were told off and are right, and slips that were missed, as they were found on pages in four languages. Days
// of the week by the calendar of 2026 (ISO 8601); everything else is common practice, no source.
func TestSlipsInFourLanguages(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ rule, lang, html, want string }{
		{"date-exists", "en", "<p>Version 31.4.2027 of the software</p>", ""},
		{"date-exists", "en", "<p>Part no. 31/04/2027-A</p>", ""},
		{"date-exists", "en", "<p>See Chapter 2.30.2027</p>", ""},
		{"date-exists", "de", "<p>Siehe Kapitel 31.4.2027</p>", ""},
		{"date-exists", "de", "<p>Artikel-Nr. 31.04.2027</p>", ""},
		{"date-exists", "en", "<p>Order 30/02/2027B</p>", ""},
		{"date-exists", "en", "<p>The sale ends on 31/04/2027.</p>", "stop 31/04/2027"},
		{"date-exists", "de", "<p>Geöffnet ab 31.4.2027.</p>", "stop 31.4.2027"},
		{"date-exists", "en", "<p>Sat 32nd Jan.</p>", "stop Sat 32nd Jan"},
		{"date-exists", "en", "<p>Jan 32.</p>", "stop Jan 32"},
		{"date-exists", "en", "<p>Closed from January 33</p>", "stop January 33"},
		{"date-exists", "en", "<p>The party is on 32 June</p>", "stop 32 June"},
		{"date-exists", "en", "<p>At 32 June was born</p>", ""},
		{"date-exists", "en", "<p>In March 32 boats sailed</p>", ""},
		{"date-exists", "de", "<p>Bis zum 32. Januar</p>", ""},
		{"date-exists", "de", "<p>Mo., 1.12.2026</p>", "stop Mo., 1.12.2026"},
		{"date-exists", "de", "<p>Di., 1.12.2026</p>", "fine "},
		{"date-exists", "de", "<p>Am Dienstag, den 1.12.2026</p>", "fine "},
		{"date-exists", "de", "<p>Am Mittwoch, dem 1.12.2026</p>", "stop Mittwoch, dem 1.12.2026"},
		{"date-exists", "de", "<p>Das ist so 1.12.2026</p>", "fine "},
		{"date-exists", "en-GB", "<p>Wed 01/12/2026</p>", "stop Wed 01/12/2026"},
		{"date-exists", "en-US", "<p>Tuesday, 12/1/2026</p>", "fine "},
		{"date-exists", "fr", "<p>Le lundi 01/12/2026</p>", "stop lundi 01/12/2026"},
		{"slips", "de", "<p>Di., 1. Dezember</p>", ""},
		{"slips", "en", "<p>Open Mon., Wed., and Fri.</p>", ""},
		{"slips", "en", "<p>In Sept., Oct., and Nov.</p>", ""},
		{"slips", "en", "<p>the end., and</p>", "look end.,"},
		{"slips", "en", "<p>Adults £12.5O</p>", "stop £12.5O"},
		{"slips", "en", "<p>Adults £1O.50</p>", "stop £1O.50"},
		{"slips", "en", "<p>Adults $l5</p>", "stop $l5"},
		{"slips", "de", "<p>Erwachsene 6,9O €</p>", "stop 6,9O €"},
		{"slips", "en", "<p>Doors at 1O:30</p>", "stop 1O:30"},
		{"slips", "en", "<p>Doors at 10:3O</p>", "stop 10:3O"},
		{"slips", "en", "<p>£5 off, $20, €3.50, 10:30, £10m</p>", ""},
		{"slips", "en", "<p>£50 Ornaments, £1 Ice</p>", ""},
		{"slips", "en", "<p>Write to hello@harbour,example</p>", "stop hello@harbour,example"},
		{"slips", "en", "<p>Write to hello@harbour..example</p>", "stop hello@harbour..example"},
		{"slips", "en", "<p>Write to hello@harbour.example, or call</p>", ""},
		{"slips", "en", "<p>Ask ann@harbour.example,bob@harbour.example</p>", "stop ann@harbour.example,bob"},
		{"picture-alternative", "en", `<img src="a.jpg" alt="photo of">`, "stop photo of"},
		{"picture-alternative", "en", `<img src="a.jpg" alt="Image of the">`, "stop Image of the"},
		{"picture-alternative", "de", `<img src="a.jpg" alt="Foto von">`, "stop Foto von"},
		{"picture-alternative", "de", `<img src="a.jpg" alt="Foto von Ada">`, "fine "},
		{"fillers-gone", "de", "<p>Text folgt</p>", "stop Text folgt"},
		{"fillers-gone", "de", "<p>Bild folgt.</p>", "stop Bild folgt."},
		{"fillers-gone", "de", "<p>Der Text folgte dem Bild</p>", ""},
		{"fillers-gone", "de", "<p>Hier steht Blindtext</p>", "stop Blindtext"},
		{"fillers-gone", "fr", "<p>Texte à venir</p>", "stop Texte à venir"},
		{"fillers-gone", "fr", "<p>À compléter</p>", "stop À compléter"},
		{"fillers-gone", "en", "<p>Adults £X.XX</p>", "stop £X.XX"},
		{"fillers-gone", "en", "<p>Adults £x</p>", "stop £x"},
		{"fillers-gone", "de", "<p>Erwachsene X,XX €</p>", "stop X,XX €"},
		{"fillers-gone", "en", "<p>Call 01234 567890</p>", "stop 01234 567890"},
		{"fillers-gone", "en", "<p>Call 0123 456 7890</p>", "stop 0123 456 7890"},
		{"fillers-gone", "en", "<p>Call 01632 567890</p>", ""},
		{"fillers-gone", "en", "<p>Dear %FIRSTNAME%</p>", "stop %FIRSTNAME%"},
		{"fillers-gone", "en", "<p>Dear *|FNAME|*</p>", "stop *|FNAME|*"},
		{"fillers-gone", "en", "<p>100% WOOL, 50% COTTON</p>", ""},
		{"fillers-gone", "en", "<p>It lies in %USERPROFILE%, and %EF%BB is a mark</p>", ""},
		{"fillers-gone", "en", "<p>Write to name@example.com</p>", "stop name@example.com"},
		{"fillers-gone", "en", "<p>The X.XX model of 1920</p>", ""},
		{"values-agree", "de", "<p>Erwachsene 6,90 €</p><p>Kinder 3.45 €</p>", "look 6,90 €"},
		{"values-agree", "de", "<p>Erwachsene 6,90 €</p><p>Kinder 3,45 €</p>", "fine "},
		{"values-agree", "en", "<p>Adults £6.90</p><p>Boats £1,200</p>", "fine "},
		{"values-agree", "en", "<p>Call 020 7946 0018</p><p>or 020 7946 018</p>", "look 020 7946 0018"},
		{"values-agree", "en", "<p>Call 020 7946 0018</p><p>or 0161 496 0018</p>", "fine "},
	} {
		p, err := page.Parse([]byte("<!doctype html><html lang=\""+c.lang+"\"><head><title>t</title></head><body>"+c.html+"</body></html>"), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		got := ""
		for _, f := range Run(&Subject{After: p, Address: "/fares.html", Site: site{"/fares.html": ""}, On: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)}) {
			if f.Rule == c.rule && (got == "" || got == "fine ") {
				got = string(f.Level) + " " + f.Words
			}
		}
		if got != c.want {
			t.Errorf("%s (%s) on %s: %q, want %q", c.rule, c.lang, c.html, got, c.want)
		}
	}
}
