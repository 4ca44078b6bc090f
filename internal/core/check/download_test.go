package check_test

import (
	"strings"
	"testing"

	"mendry/internal/core/check"
	"mendry/internal/core/file"
	"mendry/internal/core/page"
)

// archive is a site whose files are PDFs of 96 kB; heavy.pdf weighs more than a phone likes, locked.pdf has a
// password.
type archive struct{ fetched *[]string }

func (archive) Has(string) bool              { return true }
func (archive) HasPlace(string, string) bool { return true }
func (archive) Titled(string) []string       { return nil }
func (archive) Answers(string) string        { return "" }
func (archive) Brings(path string) bool      { return path == "/brought.pdf" }

func (a archive) File(path string) (file.Info, bool) {
	*a.fetched = append(*a.fetched, path)
	i := file.Info{Media: "application/pdf", Kind: "PDF", Ext: ".pdf", Size: 96_400, Locked: path == "/locked.pdf"}
	if path == "/heavy.pdf" {
		i.Size = 40_000_000
	}
	return i, path != "/gone.pdf"
}

func (archive) LinkedFrom(path string) []check.FileLink {
	if path != "/new.pdf" {
		return nil
	}
	return []check.FileLink{{Address: "/b.html", Words: "All of it (PDF, 84 kB)"}, {Address: "/c.html", Words: "All of it (PDF, 96 kB)"}}
}

// What a link to a file should say: common practice, no source.
func TestLinksToFiles(t *testing.T) {
	before, err := page.Parse([]byte(`<p><a href="/old.pdf">Old (PDF, 1 kB)</a> <a href="/brought.pdf">Brought</a></p>`), "")
	if err != nil {
		t.Fatal(err)
	}
	for link, want := range map[string]string{
		`<a href="/new.pdf">List (PDF, 96 kB)</a>`:     "Other pages lead to the same file and tell another kind or weight than PDF, 96 kB: /b.html",
		`<a href="/a.pdf">List (PDF, 84 kB)</a>`:       "leads to a file of another kind or weight than it says: PDF, 96 kB",
		`<a href="/a.pdf">List (Word, 96 kB)</a>`:      "leads to a file of another kind or weight",
		`<a href="/a.pdf">List</a>`:                    "does not say what it leads to: add “PDF, 96 kB”",
		`<a href="/heavy.pdf">List (PDF, 40 MB)</a>`:   "on a phone that takes long",
		`<a href="/locked.pdf">List (PDF, 96 kB)</a>`:  "opens only with a password",
		`<a href="/a.pdf">List (PDF, 96 kB)</a>`:       "Links to files say what they lead to",
		`<a href="/brought.pdf">Brought</a>`:           "does not say what it leads to",
		`<a href="/old.pdf">Old (PDF, 1 kB)</a>`:       "",
		`<a href="/gone.pdf">Gone</a>`:                 "",
		`<a href="/a.html">A page</a>`:                 "",
		`<a href="https://x.example/a.pdf">Theirs</a>`: "",
	} {
		p, err := page.Parse([]byte("<p>"+link+"</p>"), "")
		if err != nil {
			t.Fatal(err)
		}
		var fetched []string
		site := archive{&fetched}
		var said []string
		for _, f := range check.Run(&check.Subject{
			Before: before, After: p, Changed: p.All, Address: "/a.html", Public: "http://site.example/", Site: site, Files: site,
		}) {
			if f.Rule == "file-said" {
				said = append(said, f.Say)
			}
		}
		if got := strings.Join(said, " "); want == "" && got != "" || !strings.Contains(got, want) {
			t.Errorf("%s: %q, want %q", link, got, want)
		}
		if strings.Contains(link, "old.pdf") && len(fetched) > 0 {
			t.Errorf("fetched though nothing changed: %v", fetched)
		}
	}
}

// What is said of films: WCAG 2.2 where the rule names it, otherwise common practice, no source.
func TestFilms(t *testing.T) {
	for markup, want := range map[string]string{
		`<video src="/a.mp4" title="Roof"><track src="/a.vtt"></video>`:                   "has no cover",
		`<video src="/a.mp4" poster="/a.jpg" title="Roof"></video>`:                       "has no captions",
		`<video src="/a.mp4" poster="/a.jpg" autoplay><track src="/a.vtt"></video>`:       "begins to play by itself, with sound",
		`<video src="/a.mp4" poster="/a.jpg" autoplay muted><track src="/a.vtt"></video>`: "load nothing unasked",
		`<iframe src="https://films.example/e" title="Roof"></iframe>`:                    "loads from films.example as soon as the page is opened",
		`<iframe srcdoc="x"></iframe>`:                                                    "has no title",
		`<iframe srcdoc="x" title="Roof"></iframe>`:                                       "load nothing unasked",
	} {
		p, err := page.Parse([]byte("<div>"+markup+"</div>"), "")
		if err != nil {
			t.Fatal(err)
		}
		var said []string
		for _, f := range check.Run(&check.Subject{After: p, Changed: p.All, Address: "/a.html", Public: "http://site.example/"}) {
			if f.Rule == "video-asked" {
				said = append(said, f.Say)
			}
		}
		if got := strings.Join(said, " "); !strings.Contains(got, want) {
			t.Errorf("%s: %q, want %q", markup, got, want)
		}
	}
}
