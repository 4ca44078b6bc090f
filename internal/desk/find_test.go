package desk

import (
	"context"
	"strings"
	"testing"

	"mendry/api"
)

func TestPlacesAreFoundLiveAndInDraftsTheLikeliestFirst(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b", "fares")
	w.write("prices.html", strings.Replace(pricesPage, "Adult", "Pensioner at the Café", 1))
	w.takeIn()
	find := func(words string, request int64) []api.Found {
		t.Helper()
		found, err := w.d.Find(ctx, Sought{Words: words, Request: request})
		w.must(err)
		return found
	}
	if got := find("fares.html", 0); len(got) == 0 || got[0].Address != "/fares.html" || got[0].Request != nil {
		t.Errorf("by the end of the address: %+v", got)
	}
	older, newer := w.request("x"), w.request("y")
	if got := find(strings.TrimSuffix(w.site.PublicURL, "/")+"/fares.html", 0); len(got) == 0 || got[0].Address != "/fares.html" || got[0].Request == nil || *got[0].Request != newer {
		t.Errorf("by its address in full: %+v", got)
	}
	if got := find("fares.html", older); len(got) == 0 || got[0].Request == nil || *got[0].Request != older {
		t.Errorf("the request in hand is not kept: %+v", got)
	}
	for _, typed := range []string{"pensoiner cafe", "PENSIONER AT", "pensionr", "cafe pens"} {
		got := find(typed, 0)
		if len(got) != 1 || got[0].Address != "/prices.html" || got[0].Kind != "cell" || got[0].Part == "" || len(got[0].Around) < 2 {
			t.Errorf("%q: %+v", typed, got)
		}
	}
	w.must(w.keep(older, "/b.html", "On a lead.", "On a tether."))
	got := find("tether", 0)
	if len(got) != 1 || !got[0].Draft || *got[0].Request != older || got[0].Address != "/b.html" {
		t.Errorf("in a draft: %+v", got)
	}
	for _, nothing := range []string{"", "x", "tetherball", "\\", "%", "\"+(", "zzzz yyyy"} {
		if got := find(nothing, 0); len(got) != 0 {
			t.Errorf("%q: %+v", nothing, got)
		}
	}
}

func TestWhatAPageNoLongerSaysIsNoLongerFound(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	count := func(words string) int {
		found, err := w.d.Find(ctx, Sought{Words: words, Site: w.site.ID})
		w.must(err)
		return len(found)
	}
	if count("6.90 GBP") != 2 || count("single") != 2 {
		t.Fatal("not found at first")
	}
	w.write("a.html", strings.Replace(w.read("a.html"), "A single is £6.90.", "A return is £8.", 1))
	w.takeIn()
	if count("6.90 GBP") != 1 || count("single") != 1 || count("£8.00") != 1 || count("return") != 1 {
		t.Errorf("found as before: %d %d %d %d", count("6.90 GBP"), count("single"), count("£8.00"), count("return"))
	}
}
