package desk

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// shareds are the pages of a footedWorld with the same footer.
var shareds = []string{"one.html", "two.html", "three.html", "deep/four.html"}

// Two requests change the same shared part, each from another page. Where the words differ both stand on every page,
// in the order in which they were published; each can be taken back alone.
func TestTwoRequestsChangeOneSharedPart(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	phone, street := w.request("The phone is 01632 960143 now"), w.request("We moved to Sailmaker Street")
	p := w.everywhere(phone, "/one.html", "01632 960142", "01632 960143")
	_, part := w.part(street, "/two.html", "words", "Old Ropeworks")
	_, err := w.d.ChooseShared(ctx, w.who, street, w.pages["/two.html"], part.ID, true)
	w.must(err)
	w.must(w.reword(street, "/two.html", "Old Ropeworks, Tanner Street", "Old Ropeworks, Sailmaker Street", false))
	v, err := w.d.Bench(ctx, street, w.pages["/two.html"])
	w.must(err)
	s := v.Changes[0].ID
	w.spreads(phone, p)
	w.spreads(street, s)

	w.goLive(phone)
	w.spreads(street, s)
	w.goLive(street)
	for _, file := range shareds {
		want := strings.NewReplacer("960142", "960143", "Tanner", "Sailmaker").Replace(before[file])
		if got := w.read(file); got != want {
			t.Errorf("%s is\n%s", file, got)
		}
	}

	v, err = w.d.Bench(ctx, phone, w.pages["/one.html"])
	w.must(err)
	_, err = w.d.Keep(ctx, w.who, phone, w.pages["/one.html"], Ask{Draft: v.Draft, Act: &act.TakeBack{Change: p}})
	w.must(err)
	w.goLive(phone)
	for _, file := range shareds {
		want := strings.Replace(before[file], "Tanner", "Sailmaker", 1)
		if got := w.read(file); got != want {
			t.Errorf("%s with the phone taken back is\n%s", file, got)
		}
	}
}

// Where both change the same words, the second is stopped when the first is live: on no page are its words put over
// the others.
func TestTwoRequestsChangeTheSameWordsOfASharedPart(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	first, second := w.request("The phone is 01632 960143 now"), w.request("The phone is 01632 960144 now")
	a := w.everywhere(first, "/one.html", "01632 960142", "01632 960143")
	b := w.everywhere(second, "/two.html", "01632 960142", "01632 960144")
	w.spreads(first, a)
	w.spreads(second, b)
	w.clear(second)
	w.goLive(first)
	for range 20 {
		w.d.DoNext(ctx)
	}
	proof, err := w.d.Proof(ctx, second)
	w.must(err)
	const says = "“01632 960142” was changed elsewhere and now says “01632 960143”."
	if proof.CanSend || len(proof.Pages) != 1 || !strings.HasPrefix(proof.Pages[0].Conflict, says) {
		t.Errorf("the second: %+v", proof)
	}
	if _, err := w.d.Publish(ctx, w.who, second, nil); !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "Send a new round") {
		t.Errorf("published all the same: %v", err)
	}
	for _, file := range shareds {
		if got := w.read(file); got != strings.Replace(before[file], "960142", "960143", 1) {
			t.Errorf("%s is\n%s", file, got)
		}
	}
}

// Others change the part on the page where a change of all pages was made, and only there: the change can be made on
// none of the others. That stops it, unless a person leaves them; where the others follow, the change does too.
func TestASharedPartThatOthersChangeOnOnePage(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("The phone is 01632 960143 now")
	id := w.everywhere(n, "/one.html", "01632 960142", "01632 960143")
	w.spreads(n, id)
	moved := func(file string) string {
		return strings.Replace(before[file], "</footer>", "<p>Ring the bell</p></footer>", 1)
	}
	w.write("one.html", moved("one.html"))
	w.write("two.html", strings.Replace(before["two.html"], "<h1>two", "<h1>The second", 1)) // another edit, beside the part
	w.takeIn()
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	if len(proof.Pages) != 1 {
		t.Fatalf("%+v", proof)
	}
	find := func() (f api.Finding) {
		for _, f = range proof.Pages[0].Findings {
			if f.Rule == "all-pages" {
				return f
			}
		}
		return api.Finding{}
	}
	if f := find(); f.Level != api.LevelLook || !strings.Contains(f.Say, "cannot on 1 of them: /two.html") {
		t.Errorf("%+v", f)
	}
	for _, file := range []string{"two.html", "three.html", "deep/four.html"} {
		w.write(file, strings.Replace(before[file], "</h1>", ".</h1>", 1))
	}
	w.takeIn()
	proof, err = w.d.Proof(ctx, n)
	w.must(err)
	if f := find(); f.Level != api.LevelStop || !strings.Contains(f.Say, "can be changed on none but /one.html") || proof.CanSend {
		t.Errorf("%+v", f)
	}
	for _, file := range []string{"two.html", "three.html", "deep/four.html"} {
		w.write(file, moved(file))
	}
	w.takeIn()
	w.goLive(n)
	for _, file := range shareds {
		if got := w.read(file); got != strings.Replace(moved(file), "960142", "960143", 1) {
			t.Errorf("%s is\n%s", file, got)
		}
	}
}

// Two people change one shared part in one request at the same moment, each on another page: both are kept, and stand
// on every page.
func TestTwoPeopleChangeOneSharedPartAtOnce(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("The phone is 01632 960143 now, and we moved to Sailmaker Street")
	_, street := w.part(n, "/two.html", "words", "Old Ropeworks")
	_, err := w.d.ChooseShared(ctx, w.who, n, w.pages["/two.html"], street.ID, true)
	w.must(err)
	var both sync.WaitGroup
	for _, c := range []struct{ address, old, new string }{
		{"/one.html", "01632 960142", "01632 960143"},
		{"/two.html", "Old Ropeworks, Tanner Street", "Old Ropeworks, Sailmaker Street"},
	} {
		both.Go(func() {
			for try := 0; ; try++ { // one who was slower looks again, as the bench does
				err := w.reword(n, c.address, c.old, c.new, false)
				if refusal.Is(err, refusal.Stale) && try < 10 {
					continue
				}
				if err != nil {
					t.Error(c.address, err)
				}
				return
			}
		})
	}
	both.Wait()
	w.until("both are on all pages", func() bool {
		w.d.DoNext(ctx)
		proof, err := w.d.Proof(ctx, n)
		w.must(err)
		return proof.Spreading == nil && proof.CanSend
	})
	for _, file := range shareds {
		want := strings.NewReplacer("960142", "960143", "Tanner", "Sailmaker").Replace(before[file])
		if got := w.drafted(n, "/"+file); got != want {
			t.Errorf("the draft of %s is\n%s", file, got)
		}
	}
	w.goLive(n)
	for _, file := range shareds {
		want := strings.NewReplacer("960142", "960143", "Tanner", "Sailmaker").Replace(before[file])
		if got := w.read(file); got != want {
			t.Errorf("%s is\n%s", file, got)
		}
	}
}

// A page that carried a shared part is gone from the host, and a new one with it has come, before the change goes out.
func TestPagesComeAndGoUnderAChangeOfAllPages(t *testing.T) {
	t.Parallel()
	w, before := footedWorld(t)
	n := w.request("The phone is 01632 960143 now")
	id := w.everywhere(n, "/one.html", "01632 960142", "01632 960143")
	w.spreads(n, id)
	w.must(os.Remove(filepath.Join(w.dir, "two.html")))
	before["five.html"] = strings.ReplaceAll(footed, "%", "five")
	w.write("five.html", before["five.html"])
	w.takeIn()
	w.goLive(n)
	v, err := w.d.ChangePages(context.Background(), n, id)
	w.must(err)
	if got := strings.Join(addresses(v.Pages), " "); got != "/deep/four.html /five.html /three.html" {
		t.Errorf("on %s", got)
	}
	for _, file := range []string{"one.html", "three.html", "deep/four.html", "five.html"} {
		if got := w.read(file); got != strings.Replace(before[file], "960142", "960143", 1) {
			t.Errorf("%s is\n%s", file, got)
		}
	}
}
