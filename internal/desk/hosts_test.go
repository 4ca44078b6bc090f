package desk

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/host"
	"mendry/internal/host/hosttest"
	"mendry/internal/localdb/dbtest"
	"mendry/internal/store"
	"mendry/internal/tries"
)

// onServer is a studio whose site lies on a real server.
type onServer struct {
	*world
	server *hosttest.Server
	form   api.SiteForm
}

// newOnServer puts pages onto a server and takes the site in.
func newOnServer(t *testing.T, s *hosttest.Server, pages map[string]string) *onServer {
	t.Helper()
	w := &onServer{world: &world{t: t, dir: s.Dir, pages: map[string]int64{}}, server: s}
	for name, text := range pages {
		s.Put(name, text)
	}
	public := httptest.NewServer(http.FileServer(http.Dir(s.Dir)))
	t.Cleanup(public.Close)
	ctx := context.Background()
	st, err := store.Open(ctx, dbtest.DSN(t))
	w.must(err)
	t.Cleanup(func() { _ = st.Close() })
	w.s = st
	w.d = w.desk("test")
	w.d.Network.Folders, w.d.Network.TLS = []string{s.Dir}, s.TLS
	id, err := w.d.AddPerson(ctx, "ines", "Ines Oakley", "maintainer", "harbour lane")
	w.must(err)
	w.who = Who{ID: id, Name: "Ines Oakley"}
	kind, name, mail, yes, key := api.HostKind(s.Kind), "Larkspur", "maren@larkspur.example", true, s.Key
	w.form = api.SiteForm{
		Name: name, ClientName: &name, ContactName: &name, ContactMail: &mail, MayClear: &yes, HostKind: &kind, HostURL: s.URL,
		PublicURL: public.URL, HostUser: s.User, HostPassword: s.Password, HostKey: &key, Zone: "Europe/London",
	}
	w.site, err = w.d.AddSite(ctx, w.who, w.form)
	w.must(err)
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	if v.Site.State != api.SiteStateReady {
		t.Fatalf("taking in: %s", v.Site.Said)
	}
	w.site = v.Site
	for _, p := range v.Pages {
		w.pages[p.Address] = p.ID
	}
	return w
}

// three are pages of an everyday size.
func three() map[string]string { return sized(0) }

// sized are three pages, the first of at least so many bytes.
func sized(first int) map[string]string {
	pages := map[string]string{}
	for _, n := range []string{"a", "b", "c"} {
		pages[n+".html"] = fmt.Sprintf(testPage, n, n)
	}
	if first > 0 { // of letters that no packing makes much less of
		letters := make([]byte, first)
		random := rand.New(rand.NewPCG(3, 4)) //nolint:gosec // noise
		for i := range letters {
			letters[i] = byte('a' + random.IntN(26))
		}
		filler := "<!-- " + string(letters) + " -->"
		pages["a.html"] = strings.Replace(pages["a.html"], "</body>", filler+"\r\n</body>", 1)
	}
	return pages
}

// changed are pages with the new fare.
func changed(pages map[string]string) map[string]string {
	out := map[string]string{}
	for n, p := range pages {
		out[n] = strings.Replace(p, "£6.90", "£7.40", 1)
	}
	return out
}

// fares keeps the new fare on every page and clears the request.
func (w *onServer) fares() int64 {
	w.t.Helper()
	n := w.request("The new fare is £7.40.")
	for _, a := range []string{"/a.html", "/b.html", "/c.html"} {
		w.must(w.keep(n, a, "A single is £6.90.", "A single is £7.40."))
	}
	w.clear(n)
	return n
}

// publish publishes a request and waits until the release rests.
func (w *onServer) publish(n int64) api.Release {
	w.t.Helper()
	rel, err := w.d.Publish(context.Background(), w.who, n, nil)
	w.must(err)
	return w.settle(rel.ID)
}

func (w *onServer) steered(id int64, a api.ReleaseAct) api.Release {
	w.t.Helper()
	rel, err := w.d.Steer(context.Background(), w.who, id, a)
	w.must(err)
	return w.settle(rel.ID)
}

// want holds the release and the files on the server against what they are to be.
func (w *onServer) want(what string, rel api.Release, state api.ReleaseState, said string, files map[string]string) {
	w.t.Helper()
	if rel.State != state || !strings.Contains(rel.Said, said) {
		w.t.Errorf("%s: the release is %s: %q, want %s: …%s…", what, rel.State, rel.Said, state, said)
	}
	for name, text := range files {
		if got := w.server.File(name); got != text {
			w.t.Errorf("%s: %s has %d bytes (%.60q…), want %d", what, name, len(got), got, len(text))
		}
	}
	if rel.State == api.ReleaseStateStopped {
		return // what it could not take away it does when it goes on
	}
	entries, err := os.ReadDir(w.server.Dir)
	w.must(err)
	for _, e := range entries {
		if strings.HasPrefix(e.Name(), ".mendry") || strings.HasPrefix(e.Name(), "mendry-try") {
			w.t.Errorf("%s: %s was left on the host", what, e.Name())
		}
	}
}

// whole holds that the files that are to be stand there whole, each as it was or as it is to be.
func (w *onServer) whole(what string, old, now map[string]string) {
	w.t.Helper()
	for name := range now {
		if got := w.server.File(name); got != old[name] && got != now[name] {
			w.t.Errorf("%s: %s is neither old nor new: %d bytes", what, name, len(got))
		}
	}
}

// busy is a host on which somebody else edits just before a file is read.
type busy struct {
	host.Host
	before func(file string)
}

func (b busy) Read(ctx context.Context, file string) (host.Content, error) {
	b.before(file)
	return b.Host.Read(ctx, file)
}

// hasKey reports whether a server is known by a key.
func hasKey(s *hosttest.Server) bool { return s.Kind == "sftp" || s.Kind == "git" }

type hostCase struct {
	name string
	try  func(t *testing.T, start func(t testing.TB, dir string) *hosttest.Server)
}

var hostCases = []hostCase{
	{"try", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		w := newOnServer(t, start(t, hosttest.Folder(t)), three())
		got := w.d.TestSite(context.Background(), w.form)
		if !got.Host.Good ||
			!strings.HasSuffix(got.Host.Say, "It has 3 pages and 0 other files. Mendry may write there.") &&
				!hasKey(w.server) {
			t.Errorf("%+v", got.Host)
		}
		if hasKey(w.server) && !strings.Contains(got.Host.Say, "It shows the key SHA256:") {
			t.Errorf("%+v", got.Host)
		}
	}},
	{"take in", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		pages := three()
		pages["isles/deep/er.html"] = fmt.Sprintf(testPage, "d", "d")
		pages[".hidden.html"] = "not a page of the site"
		pages["empty.html"] = ""
		s := start(t, hosttest.Folder(t))
		if err := os.Symlink(".", s.Dir+"/round"); err != nil {
			t.Fatal(err)
		}
		w := newOnServer(t, s, pages)
		if w.site.Pages != 5 || w.site.LockedPages > 1 || len(w.site.HostKnows) == 0 {
			t.Errorf("%d pages, %d locked, %q: %s", w.site.Pages, w.site.LockedPages, w.site.HostKnows, w.site.Said)
		}
	}},
	{"publish three pages and a picture", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		publishesAndTakesBack(t, start, false)
	}},
	{"undo at once", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		publishesAndTakesBack(t, start, true)
	}},
	{"edit between keep and publish", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		w := newOnServer(t, start(t, hosttest.Folder(t)), three())
		n := w.fares()
		theirs := strings.Replace(three()["b.html"], "On a lead.", "On a short lead.", 1)
		w.server.Put("b.html", theirs)
		files := three()
		files["b.html"] = theirs
		w.want("stopped", w.publish(n), api.ReleaseStateStopped, "changed by somebody else", files)
	}},
	{"edit during the release", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		w := newOnServer(t, start(t, hosttest.Folder(t)), three())
		n := w.fares()
		rel, err := w.d.Publish(context.Background(), w.who, n, nil)
		w.must(err)
		steps, err := w.s.Steps(context.Background(), rel.ID)
		w.must(err)
		last := steps[len(steps)-1].Path
		theirs := strings.Replace(three()[last], "On a lead.", "On a short lead.", 1)
		reach, reads := w.d.releases.Hosts, 0
		w.d.releases.Hosts = func(ctx context.Context, site int64) (host.Host, error) {
			h, err := reach(ctx, site)
			return busy{h, func(file string) {
				if file == last {
					if reads++; reads == 2 { // the first one was before anything was written
						w.server.Put(last, theirs)
					}
				}
			}}, err
		}
		files := changed(three())
		files[last] = theirs
		rel = w.settle(rel.ID)
		w.want("stopped", rel, api.ReleaseStateStopped, "changed by somebody else", files)
		files = three()
		files[last] = theirs
		w.want("taken back", w.steered(rel.ID, api.ReleaseActTakeBack), api.ReleaseStateSure, "", files)
	}},
	{"wrong password", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		w := newOnServer(t, start(t, hosttest.Folder(t)), three())
		f, say := w.form, "does not accept the name and password"
		f.HostPassword = "wrong"
		if w.server.AnyPassword {
			f.HostUser, say = "nobody-of-that-name", "does not let Mendry in"
		}
		switch w.server.Kind {
		case "sftp", "git":
			if w.server.Key == "" {
				break
			}
			key, _ := hosttest.Key(t)
			f.HostKey, say = &key, "does not accept the key"
		case "folder":
			f.HostURL, say = "file:///etc/", "no folder in which Mendry may keep sites"
		}
		if got := w.d.TestSite(context.Background(), f); got.Host.Good || !strings.Contains(got.Host.Say, say) {
			t.Errorf("%+v", got.Host)
		}
	}},
	{"read-only", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		dir := hosttest.Small(t, "2048")
		w := newOnServer(t, start(t, dir), three())
		n := w.fares()
		hosttest.ReadOnly(t, dir, true)
		rel := w.publish(n)
		w.want("read-only", rel, api.ReleaseStateStopped, "sk whoever runs", three())
		if !strings.Contains(rel.Said, "right to write") && !strings.Contains(rel.Said, "read-only") &&
			!strings.Contains(rel.Said, "allow writing") {
			t.Errorf("it is not said that nothing can be written: %s", rel.Said)
		}
		hosttest.ReadOnly(t, dir, false)
		w.want("gone on", w.steered(rel.ID, api.ReleaseActGoOn), api.ReleaseStateSure, "", changed(three()))
	}},
	{"full disk", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		dir := hosttest.Small(t, "4096")
		w := newOnServer(t, start(t, dir), three())
		n := w.fares()
		w.picture(n, "/a.html", 700) // half a megabyte
		w.clear(n)
		now := map[string]string{}
		for name := range three() {
			now[name] = w.drafted(n, "/"+name)
		}
		free := hosttest.Fill(t, dir, 64)
		rel := w.publish(n)
		now["pier.png"] = "(none)"
		w.want("full", rel, api.ReleaseStateStopped, "", map[string]string{"pier.png": "(none)"})
		if !strings.Contains(rel.Said, "no room left") && !strings.Contains(rel.Said, "may be full") {
			t.Errorf("it is not said that there is no room: %s", rel.Said)
		}
		w.whole("full", three(), now)
		free()
		delete(now, "pier.png")
		w.want("gone on", w.steered(rel.ID, api.ReleaseActGoOn), api.ReleaseStateSure, "", now)
	}},
	{
		"line cut midway",
		func(t *testing.T, start func(testing.TB, string) *hosttest.Server) { breaks(t, start, false) },
	},
	{"server killed", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) { breaks(t, start, true) }},
	{"replace a file", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		files := three()
		files["a.html"] = strings.Replace(files["a.html"], "On a lead.", `On a lead. <a href="fares.pdf">All fares</a>`, 1)
		files["fares.pdf"] = string(pdfOf("fares of the winter"))
		w := newOnServer(t, start(t, hosttest.Folder(t)), files)
		n := w.request("The new fares, please.")
		fresh := string(pdfOf("fares of the summer, which are more"))
		w.must(w.download(n, "/a.html", act.Download{Attachment: w.attach(n, "New.pdf", []byte(fresh)), Keep: true}))
		w.clear(n)
		now := map[string]string{"fares.pdf": fresh, "a.html": files["a.html"]}
		rel := w.publish(n)
		w.want("replaced", rel, api.ReleaseStateSure, "", now)
		w.want("taken back", w.steered(rel.ID, api.ReleaseActTakeBack), api.ReleaseStateSure, "", files)
	}},
	{"odd names", func(t *testing.T, start func(testing.TB, string) *hosttest.Server) {
		// Characters that RFC 3986 reserves or forbids in a path (2.2, 2.4, 3.3), and others' alphabets.
		pages := map[string]string{}
		for _, name := range []string{"50%", "a%20b", "no#1", "q?1", "with blanks", "übersicht", "ΑΘΗΝΑ", "UPPER", "a+b&c'd;e", "x/y z", "(1)", "a=b,c@d!$*"} {
			pages[name+".html"] = fmt.Sprintf(testPage, "o", "o")
		}
		w := newOnServer(t, start(t, hosttest.Folder(t)), pages)
		if w.site.Pages != len(pages) || w.site.LockedPages != 0 {
			t.Fatalf("%d of %d pages, %d locked: %s", w.site.Pages, len(pages), w.site.LockedPages, w.site.Said)
		}
		n := w.request("The new fare is £7.40.")
		for address := range w.pages {
			w.must(w.keep(n, address, "A single is £6.90.", "A single is £7.40."))
		}
		w.clear(n)
		w.want("odd names", w.publish(n), api.ReleaseStateSure, "", changed(pages))
	}},
}

// publishesAndTakesBack publishes three pages and a picture in a folder that is not there yet.
func publishesAndTakesBack(t *testing.T, start func(testing.TB, string) *hosttest.Server, back bool) {
	w := newOnServer(t, start(t, hosttest.Folder(t)), three())
	n := w.fares()
	b := w.picture(n, "/a.html", 40)
	w.clear(n)
	files := changed(three())
	files["a.html"] = w.drafted(n, "/a.html")
	rel := w.publish(n)
	files["pier.png"] = b
	w.want("published", rel, api.ReleaseStateSure, "", files)
	if back {
		files = three()
		files["pier.png"] = "(none)"
		w.want("taken back", w.steered(rel.ID, api.ReleaseActTakeBack), api.ReleaseStateSure, "", files)
	}
}

// breaks lets the line or the server break in the middle of a page; the release goes on when it is mended.
func breaks(t *testing.T, start func(testing.TB, string) *hosttest.Server, killed bool) {
	s := start(t, hosttest.Folder(t))
	if s.Kind == "folder" {
		t.Skip("a folder has no line")
	}
	line := s.Line()
	old := sized(600_000)
	w := newOnServer(t, s, old)
	n := w.fares()
	var dead sync.WaitGroup
	dead.Add(1)
	line.CutAfter(250_000, func() {
		defer dead.Done()
		if killed {
			s.Kill()
		}
	})
	rel := w.publish(n)
	dead.Wait()
	w.want("broken", rel, api.ReleaseStateStopped, "", nil)
	line.Mend()
	if killed {
		s.Up()
	}
	now := changed(old)
	if _, named, ok := strings.Cut(rel.Said, "cannot be told whether "); ok { // what is not whole is said
		named, _, _ = strings.Cut(named, " whole there")
		for name := range now {
			if strings.Contains(named, name) {
				delete(now, name)
			}
		}
	}
	w.whole("broken", old, now)
	w.want("gone on", w.steered(rel.ID, api.ReleaseActGoOn), api.ReleaseStateSure, "", changed(old))
	w.want("taken back", w.steered(rel.ID, api.ReleaseActTakeBack), api.ReleaseStateSure, "", old)
}

// everyHosts are the cases that each kind of host goes through in every run of the tests. Of the others, each kind goes
// through one of four, and each is gone through by a kind or two; all go through all where everything is tried.
var everyHosts = map[string]bool{"undo at once": true, "edit during the release": true}

// TestHosts lets every kind of host go through every case. It makes the table of docs/hosts.md (MENDRY_LONG=yes
// MENDRY_WRITE=yes), and holds that the table says what it found.
func TestHosts(t *testing.T) {
	t.Parallel()
	const doc = "../../docs/hosts.md"
	b, err := os.ReadFile(doc)
	if err != nil {
		t.Fatal(err)
	}
	head, rest, _ := strings.Cut(string(b), tableBegins)
	_, tail, _ := strings.Cut(rest, tableEnds)
	table := "| |"
	for _, c := range hostCases {
		table += " " + c.name + " |"
	}
	table += "\n|---|" + strings.Repeat("---|", len(hostCases)) + "\n"
	write := os.Getenv("MENDRY_WRITE") != ""
	rows := make([]string, len(hosttest.Kinds))
	for i, k := range hosttest.Kinds {
		if k.Rest && !tries.Long() {
			continue
		}
		t.Run(k.Name, func(t *testing.T) {
			t.Parallel() // a server is waited for more than it works
			row, ran := "| "+k.Name+" |", 0
			for j, c := range hostCases {
				if !everyHosts[c.name] && !tries.Some(i+j, 4) {
					continue
				}
				cell := " – |"
				t.Run(c.name, func(t *testing.T) {
					ran++
					defer func() {
						if t.Failed() {
							cell = " wrong |"
						} else if !t.Skipped() {
							cell = " right |"
						}
					}()
					c.try(t, k.Start)
				})
				row += cell
			}
			rows[i] = row + "\n"
			if ran == len(hostCases) && !write && !strings.Contains(rest, rows[i]) {
				t.Errorf("docs/hosts.md does not say\n%s", row)
			}
		})
	}
	t.Cleanup(func() { // when all of them are through
		if !write || !tries.Long() {
			return
		}
		table += strings.Join(rows, "")
		if err := os.WriteFile(doc, []byte(head+tableBegins+table+tableEnds+tail), 0o644); err != nil { //nolint:gosec // to be read
			t.Error(err)
		}
	})
}

// Between these stands the table that the test makes.
const (
	tableBegins = "<!-- made by TestHosts -->\n"
	tableEnds   = "<!-- until here -->\n"
)
