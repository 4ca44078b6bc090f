package desk

import (
	"context"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/host"
	"mendry/internal/store"
)

// byHand lets a world's site be one that Mendry may only read.
func (w *world) byHand() {
	w.t.Helper()
	ctx := context.Background()
	w.must(w.s.SetSiteHost(ctx, store.SiteHost{SiteID: w.site.ID, Role: "live", Kind: "hand", URL: "https://edit.example/", Secret: w.d.seal("")}))
	var links strings.Builder
	for address := range w.pages {
		links.WriteString("<url><loc>" + w.site.PublicURL + strings.TrimPrefix(address, "/") + "</loc></url>")
	}
	w.write("index.html", "<!doctype html><title>Start</title><h1>Start</h1><p>Nothing is linked from here.</p>")
	w.write("sitemap.xml", `<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">`+links.String()+"</urlset>")
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	for _, p := range v.Pages {
		w.pages[p.Address] = p.ID
	}
	w.site = v.Site
}

// edits replaces words of a file, as a person does in the site's own program.
func (w *world) edits(file, old, new string) {
	w.t.Helper()
	b := w.read(file)
	if !strings.Contains(b, old) {
		w.t.Fatalf("%s does not say %q", file, old)
	}
	w.write(file, strings.Replace(b, old, new, 1))
}

// marks says something of a release by hand and waits until Mendry has looked.
func (w *world) marks(rel api.Release, m api.HandMark) api.Release {
	w.t.Helper()
	r, err := w.d.MarkRelease(context.Background(), w.who, rel.ID, m)
	w.must(err)
	return w.looked(r)
}

func (w *world) looked(r api.Release) api.Release {
	w.t.Helper()
	ctx := context.Background()
	w.until("Mendry has looked", func() bool {
		w.d.DoNext(ctx)
		var err error
		r, err = w.d.Release(ctx, r.ID)
		w.must(err)
		return r.LookAt == nil
	})
	return r
}

// seen is what was seen of each item of a step, and what else differs.
func seen(s api.ReleaseStep) string {
	var all []string
	for _, it := range s.Items {
		all = append(all, string(it.Seen))
	}
	for _, o := range s.Others {
		all = append(all, "other: "+o.Difference.Say)
	}
	return strings.Join(all, ", ")
}

func TestAReleaseByHandIsAListThatIsLookedAfter(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	w.byHand()
	if !w.site.HostReadsOnly || w.site.Pages != 3 {
		t.Fatalf("taken in: %+v", w.site)
	}
	was := map[string]string{"a.html": w.read("a.html"), "b.html": w.read("b.html")}
	number := w.request("Fares rise, dogs stay")
	w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.40."))
	w.must(w.keep(number, "/a.html", "On a lead.", "On a short lead."))
	w.must(w.keep(number, "/b.html", "Page b", "Page of fares"))
	w.clear(number)
	proof, err := w.d.Proof(ctx, number)
	w.must(err)
	rel, err := w.d.Publish(ctx, w.who, number, nil)
	w.must(err)
	a, b := stepOf(rel, "/a.html"), stepOf(rel, "/b.html")
	if !proof.ByHand || rel.State != api.ReleaseStateByHand || rel.EditURL != "https://edit.example/" || len(a.Items) != 2 || len(b.Items) != 1 {
		t.Fatalf("the list: %+v", rel)
	}
	if it := a.Items[0]; it.Where != "right below “Page a”" || it.Values[0].Before != "A single is £6.90." || it.Values[0].After != "A single is £7.40." {
		t.Errorf("the first item: %+v", it)
	}
	if _, err := w.d.Publish(ctx, w.who, number, nil); err == nil {
		t.Error("a second release began beside the list")
	}

	rel = w.marks(rel, api.HandMark{Step: a.ID, Kind: api.Put, About: "0"})
	if got := seen(stepOf(rel, "/a.html")) + "; " + seen(stepOf(rel, "/b.html")); got != "not yet, not yet; not yet" || !stepOf(rel, "/a.html").Items[0].Put {
		t.Errorf("nothing was put in: %s", got)
	}
	w.edits("a.html", "£6.90", "£4.70")
	w.edits("a.html", "On a lead.", "On a short lead.")
	rel = w.looked(w.look(rel))
	if got := seen(stepOf(rel, "/a.html")); got != "different, right" || !strings.Contains(runsSay(stepOf(rel, "/a.html").Items[0].Runs), "[-£7.40-][+£4.70+]") {
		t.Errorf("a mistake: %s, %s", got, runsSay(stepOf(rel, "/a.html").Items[0].Runs))
	}
	w.edits("a.html", "£4.70", "£7.40")
	w.edits("a.html", "alt=\"Quay\"", "alt=\"The quay\"")
	rel = w.looked(w.look(rel))
	if stepOf(rel, "/a.html").State != api.StepStateWritten || rel.State != api.ReleaseStateByHand {
		t.Errorf("one page is right, one is not: %s, %s", stepOf(rel, "/a.html").State, rel.State)
	}
	p, err := w.s.Page(ctx, w.pages["/a.html"])
	w.must(err)
	if p.Hash != hash([]byte(w.read("a.html"))) {
		t.Error("Mendry knows another page than the one that is live")
	}
	w.edits("b.html", "£6.90", "£9")
	rel = w.looked(w.look(rel))
	if got := seen(stepOf(rel, "/b.html")); !strings.HasPrefix(got, "not yet, other: ") || !strings.Contains(got, "£9") {
		t.Errorf("somebody else's edit: %s", got)
	}
	key := stepOf(rel, "/b.html").Others[0].Key
	if rel = w.marks(rel, api.HandMark{Step: b.ID, Kind: api.Theirs, About: key}); !stepOf(rel, "/b.html").Others[0].Theirs {
		t.Error("it is not left to them")
	}
	w.edits("b.html", "<h1>Page b</h1>", "<h1 class=\"own\">Page of fares</h1>")
	if rel = w.settle(w.looked(w.look(rel)).ID); rel.State != api.ReleaseStateSure {
		t.Fatalf("all is put in: %s %s %+v", rel.State, rel.Said, rel.Steps)
	}

	back, err := w.d.Steer(ctx, w.who, rel.ID, api.ReleaseActTakeBack)
	w.must(err)
	if back.State != api.ReleaseStateByHand || len(back.Steps) != 2 {
		t.Fatalf("the way back: %+v", back)
	}
	for _, s := range back.Steps {
		for _, it := range s.Items {
			for _, v := range it.Values {
				file := strings.TrimPrefix(s.Address, "/")
				w.edits(file, strings.Split(v.Before, "\n")[0], v.After)
			}
		}
	}
	if back = w.settle(w.looked(w.look(back)).ID); back.State != api.ReleaseStateSure {
		t.Fatalf("put back: %s %+v", back.State, back.Steps)
	}
	for file, theirs := range map[string][]string{"a.html": {"alt=\"Quay", "alt=\"The quay"}, "b.html": {"£6.90", "£9", "<h1>", "<h1 class=\"own\">"}} {
		if want := strings.NewReplacer(theirs...).Replace(was[file]); w.read(file) != want {
			t.Errorf("%s is\n%s\nnot\n%s", file, w.read(file), want)
		}
	}
	if rel, err = w.d.Release(ctx, rel.ID); err != nil || rel.State != api.ReleaseStateTakenBack {
		t.Errorf("%v %s", err, rel.State)
	}
}

func stepOf(r api.Release, address string) api.ReleaseStep {
	at := slices.IndexFunc(r.Steps, func(s api.ReleaseStep) bool { return s.Address == address })
	return r.Steps[at]
}

func (w *world) look(r api.Release) api.Release {
	w.t.Helper()
	r, err := w.d.Steer(context.Background(), w.who, r.ID, api.ReleaseActLook)
	w.must(err)
	return r
}

func runsSay(rs []api.Run) string {
	say := ""
	for _, r := range rs {
		switch r.Is {
		case api.RunIsGone:
			say += "[-" + r.Text + "-]"
		case api.RunIsNew:
			say += "[+" + r.Text + "+]"
		default:
			say += r.Text
		}
	}
	return say
}

// What a program makes of words is sometimes not what was cleared, and right nevertheless; a list that is given up
// gives back what was put in of it.
func TestAListIsTakenAsItStandsOrGivenUp(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.byHand()
	open := func(old, new string) api.Release {
		number := w.request("Fares")
		w.must(w.keep(number, "/a.html", old, new))
		w.must(w.keep(number, "/a.html", "On a lead.", "On a short lead."))
		w.clear(number)
		rel, err := w.d.Publish(ctx, w.who, number, nil)
		w.must(err)
		return rel
	}
	rel := open("A single is £6.90.", "A single is £7.40.")
	w.edits("a.html", "£6.90", "£7.40 - all year")
	w.edits("a.html", "On a lead.", "On a short lead.")
	rel = w.looked(w.look(rel))
	if got := seen(rel.Steps[0]); got != "different, right" {
		t.Fatalf("%s", got)
	}
	w.marks(rel, api.HandMark{Step: rel.Steps[0].ID, Kind: api.Taken, About: "0"})
	if rel = w.settle(rel.ID); rel.State != api.ReleaseStateSure {
		t.Fatalf("taken as it stands: %s %+v", rel.State, rel.Steps)
	}
	if _, err := w.d.MarkRelease(ctx, w.who, rel.ID, api.HandMark{Step: rel.Steps[0].ID, Kind: api.Put, About: "0"}); err == nil {
		t.Error("a closed list is ticked off")
	}

	w.edits("a.html", "On a short lead.", "On a lead.")
	w.takeIn()
	second := open("A single is £7.40 - all year.", "A single is £8.")
	w.edits("a.html", "£7.40 - all year", "£8")
	second = w.looked(w.look(second))
	back, err := w.d.Steer(ctx, w.who, second.ID, api.ReleaseActTakeBack)
	w.must(err)
	if back = w.looked(w.look(back)); len(back.Steps) != 1 || seen(back.Steps[0]) != "not yet, right" {
		t.Fatalf("the list turned round: %+v", back.Steps)
	}
	w.edits("a.html", "£8", "£7.40 - all year")
	if back = w.settle(w.looked(w.look(back)).ID); back.State != api.ReleaseStateSure {
		t.Errorf("%s", back.State)
	}
	v, err := w.d.Bench(ctx, second.Number, w.pages["/a.html"])
	w.must(err)
	if len(v.Changes) != 2 || v.Changes[0].State != api.ChangeStateKept {
		t.Errorf("its changes are kept as before: %+v", v.Changes)
	}

	third := open("A single is £7.40 - all year.", "A single is £9.")
	left, err := w.d.Steer(ctx, w.who, third.ID, api.ReleaseActLeave)
	w.must(err)
	if left.State != api.ReleaseStateLeft {
		t.Errorf("left: %s", left.State)
	}
}

func TestAPictureIsPutInByHand(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.byHand()
	number := w.request("A new picture")
	w.picture(number, "/a.html", 300)
	w.clear(number)
	rel, err := w.d.Publish(ctx, w.who, number, nil)
	w.must(err)
	file := rel.Steps[0]
	if file.File == nil || *file.File.Width == 0 || file.Items[0].Name != file.File.Name {
		t.Fatalf("%+v", file)
	}
	name, b, err := w.d.StepFile(ctx, rel.ID, file.ID)
	w.must(err)
	w.write(file.Path, string(b)+"x")
	rel = w.looked(w.look(rel))
	if got := seen(rel.Steps[0]); got != "different" {
		t.Errorf("%s, another file: %s", name, got)
	}
	w.write(file.Path, string(b))
	rel = w.looked(w.look(rel))
	if rel.Steps[0].State != api.StepStateWritten || seen(rel.Steps[1]) != "not yet" {
		t.Errorf("%+v", rel.Steps)
	}
	for _, v := range rel.Steps[1].Items[0].Values {
		w.edits("a.html", v.Before, strings.TrimPrefix(v.After, "/"))
	}
	if rel = w.settle(w.looked(w.look(rel)).ID); rel.State != api.ReleaseStateSure {
		t.Fatalf("%s %+v", rel.State, rel.Steps)
	}
	back, err := w.d.Steer(ctx, w.who, rel.ID, api.ReleaseActTakeBack)
	w.must(err)
	if len(back.Steps) != 2 || back.Steps[1].Items[0].Act != api.HandActTakeOut {
		t.Errorf("%+v", back.Steps)
	}
}

// Somebody leaves a list, or turns it round, at the very moment at which Mendry looks and finds all of it right.
func TestAListThatIsClosedWhileItIsLookedAtStaysClosed(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	for act, want := range map[api.ReleaseAct]api.ReleaseState{api.ReleaseActLeave: api.ReleaseStateLeft, api.ReleaseActTakeBack: api.ReleaseStateByHand} {
		w := newWorld(t, true, "a")
		w.byHand()
		number := w.request("Fares")
		w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.40."))
		w.clear(number)
		rel, err := w.d.Publish(ctx, w.who, number, nil)
		w.must(err)
		w.edits("a.html", "£6.90", "£7")
		rel = w.looked(w.look(rel)) // put in, in part: there is something to take back
		w.edits("a.html", "£7.", "£7.40.")
		rel = w.look(rel)
		reach, done := w.d.releases.Hosts, false
		w.d.releases.Hosts = func(ctx context.Context, site int64) (host.Host, error) {
			h, err := reach(ctx, site)
			return busy{h, func(string) {
				if !done {
					done = true
					_, err := w.d.Steer(ctx, w.who, rel.ID, act)
					w.must(err)
				}
			}}, err
		}
		w.until("Mendry has looked", func() bool { w.d.DoNext(ctx); return done })
		w.d.DoNext(ctx)
		got, err := w.d.Release(ctx, rel.ID)
		w.must(err)
		v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
		w.must(err)
		state := v.Changes[0].State
		if got.State != want || got.Steps[0].State == api.StepStateWritten || act == api.ReleaseActLeave && state != api.ChangeStateKept || state == api.ChangeStateLive {
			t.Errorf("%s: the release is %s, its step %s, its change %s", act, got.State, got.Steps[0].State, state)
		}
	}
}
