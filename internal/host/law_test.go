package host

import (
	"bytes"
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// fickle is a host with one file that does as it is told, write by write.
type fickle struct {
	file   []byte // nil: there is none
	tag    string
	does   []string // what each write does; the last one goes on
	writes int
	read   error // what reading answers, where it does not give the file
	tags   []string
}

func (f *fickle) List(context.Context, func(int)) (Listing, error) { return Listing{}, nil }
func (f *fickle) Try(context.Context) (Knows, error)               { return Knows{}, nil }
func (f *fickle) Hold(context.Context, string) (func(), bool, error) {
	return func() {}, false, nil
}

func (f *fickle) Read(context.Context, string) (Content, error) {
	if f.read != nil {
		return Content{}, f.read
	}
	if f.file == nil {
		return Content{}, fromStatus(404, "a.html")
	}
	return Content{Bytes: bytes.Clone(f.file), Tag: f.tag}, nil
}

func (f *fickle) Write(_ context.Context, _ string, b []byte, over *Content) error {
	f.writes++
	if over != nil {
		f.tags = append(f.tags, over.Tag)
	}
	do := f.does[min(f.writes, len(f.does))-1]
	switch do {
	case "stores":
		f.file = bytes.Clone(b)
	case "stores half":
		f.file = bytes.Clone(b[:len(b)/2])
		return fromStatus(500, "a.html")
	case "is full midway":
		f.file = bytes.Clone(b[:len(b)/2])
		return fromStatus(507, "a.html")
	case "refuses":
		return fromStatus(412, "a.html")
	case "is edited meanwhile":
		f.file = []byte("theirs")
		return fromStatus(412, "a.html")
	case "stores and breaks the line":
		f.file = bytes.Clone(b)
		return fromStatus(504, "a.html")
	case "is lost":
		f.file = bytes.Clone(b[:len(b)/2])
		f.read = &Problem{Kind: Down, Say: "The host cannot be reached."}
		return f.read
	case "stores half, says it is all, and is lost": // as FTP does where its line for data is cut first
		f.file = bytes.Clone(b[:len(b)/2])
		f.read = &Problem{Kind: Down, Say: "The host cannot be reached."}
	case "says so and does nothing":
	}
	return nil
}

func (f *fickle) Remove(_ context.Context, _ string, _ Content) error {
	f.writes++
	f.file = nil
	return nil
}

// What a host can do to a write, and what comes of it: the file stands there whole, or it is said what does. The
// answers are those of RFC 9110 and RFC 4918; what the hosts do was seen on the servers of docs/hosts.md.
func TestAFileIsWholeOrItIsSaid(t *testing.T) {
	t.Parallel()
	old, now := []byte("<p>A single is 6.90.</p>"), []byte("<p>A single is 7.40 from May.</p>")
	for _, tt := range []struct {
		name   string
		does   []string
		stands []byte
		writes int
		kind   Kind // of the problem; empty for none
		say    string
	}{
		{"all is well", []string{"stores"}, now, 1, "", ""},
		{"half of it, then all", []string{"stores half", "stores"}, now, 2, "", ""},
		{"half of it each time, then the old one", []string{"stores half", "stores half", "stores half", "stores"}, old, 4, Torn, "The old one was put back"},
		{"half of it for good", []string{"stores half"}, old[:12], 4, Torn, "12 of 33 bytes stand there now"},
		{"no room, and room for the old one", []string{"is full midway", "stores"}, old, 2, Full, "The old one was put back"},
		{"its tag had changed, its bytes had not", []string{"refuses", "stores"}, now, 2, "", ""},
		{"its tags cannot be relied on", []string{"refuses", "refuses", "stores"}, now, 3, "", ""},
		{"somebody edits in between", []string{"is edited meanwhile"}, []byte("theirs"), 1, Changed, "Nothing was overwritten"},
		{"stored, though no answer came", []string{"stores and breaks the line"}, now, 1, "", ""},
		{"lost on the way", []string{"is lost"}, now[:16], 1, Down, "it cannot be told whether a.html is whole"},
		{"lost after an answer that is not true", []string{"stores half, says it is all, and is lost"}, now[:16], 1, Down, "it cannot be told whether a.html is whole"},
		{"lost while the old one is put back", []string{"is full midway", "is lost"}, old[:12], 2, Down, "it cannot be told whether a.html is whole"},
		{"an answer that is not true", []string{"says so and does nothing"}, old, 1, Odd, "still gives the old one"},
	} {
		t.Run(tt.name, func(t *testing.T) {
			t.Parallel()
			f := &fickle{file: bytes.Clone(old), tag: `"1"`, does: tt.does}
			_, err := Put(context.Background(), f, "a.html", old, now, false)
			if (err == nil) != (tt.kind == "") ||
				err != nil && (!Is(err, tt.kind) || !strings.Contains(err.Error(), tt.say)) {
				t.Errorf("%v, want %s: …%s…", err, tt.kind, tt.say)
			}
			if !bytes.Equal(f.file, tt.stands) || f.writes != tt.writes {
				t.Errorf("after %d writes %q stands there, want %q after %d", f.writes, f.file, tt.stands, tt.writes)
			}
			if tt.name == "its tags cannot be relied on" && strings.Join(f.tags, " ") != `"1" "1" ` {
				t.Errorf("the tags were %q", f.tags)
			}
		})
	}
}

// A release that was killed in the middle of a write finds half a file: that is its own only if it had begun.
func TestHalfAFileIsOursOnlyWhereWeHadBegun(t *testing.T) {
	t.Parallel()
	old, now := []byte("<p>A single is 6.90.</p>"), []byte("<p>A single is 7.40 from May.</p>")
	for _, begun := range []bool{false, true} {
		f := &fickle{file: bytes.Clone(now[:20]), does: []string{"stores"}}
		_, err := Put(context.Background(), f, "a.html", old, now, begun)
		if begun && (err != nil || !bytes.Equal(f.file, now)) || !begun && (!Is(err, Changed) || f.writes > 0) {
			t.Errorf("begun %v: %v, %q after %d writes", begun, err, f.file, f.writes)
		}
	}
	f := &fickle{file: bytes.Clone(now[:20]), does: []string{"stores"}}
	if _, err := Put(context.Background(), f, "a.html", now, old, true); err != nil || !bytes.Equal(f.file, old) {
		t.Errorf("the taking back of it: %v, %q", err, f.file)
	}
	f = &fickle{file: []byte("png"), does: []string{"stores"}}
	if _, err := Put(context.Background(), f, "a.png", []byte("png"), nil, false); err != nil || f.file != nil {
		t.Errorf("a picture taken away: %v, %q", err, f.file)
	}
}

// The entity tags are those of RFC 9110, 8.8.3.1, and what Apache's mod_deflate and others make of them.
func TestATagThatAWriteCanDependOn(t *testing.T) {
	t.Parallel()
	for _, tt := range []struct {
		tag, want string
		weak      bool
	}{
		{`"xyzzy"`, `"xyzzy"`, false},
		{`W/"xyzzy"`, "", true},
		{`""`, `""`, false},
		{"", "", false},
		{`"2a-5f1-gzip"`, "", true},
		{`"2a-5f1;gzip"`, "", true},
		{`"2a-5f1-br"`, "", true},
		{"xyzzy", "", true},
		{`"a"b"`, "", true},
	} {
		if got, weak := strong(tt.tag); got != tt.want || weak != tt.weak {
			t.Errorf("%s: %q %v, want %q %v", tt.tag, got, weak, tt.want, tt.weak)
		}
	}
}

// forgetful is a host that loses what was held, once, as Apache does where two set locks at the same moment: a write
// is refused until the file is held again.
type forgetful struct {
	fickle
	holds int
	meant []byte // what somebody writes before it is held again; nil: nobody does
}

func (f *forgetful) Hold(context.Context, string) (func(), bool, error) {
	if f.holds++; f.holds == 2 && f.meant != nil {
		f.file = f.meant
	}
	return func() {}, true, nil
}

func (f *forgetful) Write(ctx context.Context, file string, b []byte, over *Content) error {
	if f.holds < 2 {
		return fromStatus(412, file)
	}
	return f.fickle.Write(ctx, file, b, over)
}

func TestAFileWhoseLockTheHostLostIsHeldAgain(t *testing.T) {
	before, after, theirs := []byte("old"), []byte("new"), []byte("theirs")
	f := &forgetful{fickle: fickle{file: before, does: []string{"stores"}}}
	if _, err := Put(t.Context(), f, "a.html", before, after, false); err != nil || !bytes.Equal(f.file, after) || f.holds != 2 {
		t.Errorf("%q stands there after %d holds: %v", f.file, f.holds, err)
	}
	f = &forgetful{fickle: fickle{file: before, does: []string{"stores"}}, meant: theirs}
	if _, err := Put(t.Context(), f, "a.html", before, after, false); !Is(err, Changed) || !bytes.Equal(f.file, theirs) {
		t.Errorf("%q stands there: %v", f.file, err)
	}
}

// heldUp is a folder in which somebody's opening has found a file by its name, is held up while Mendry moves its own
// over it, and only then empties and writes what it has found.
type heldUp struct {
	folder
	held   time.Duration
	theirs []byte
	wrote  chan error
}

func (h heldUp) Rename(ctx context.Context, old, name string) error {
	found, err := h.root.OpenFile(name, os.O_WRONLY, 0)
	if err != nil {
		return err
	}
	if err := h.folder.Rename(ctx, old, name); err != nil {
		return err
	}
	go func() {
		time.Sleep(h.held)
		err := found.Truncate(0)
		if err == nil {
			_, err = found.Write(h.theirs)
		}
		h.wrote <- errors.Join(err, found.Close())
	}()
	return nil
}

func TestAnOpeningThatIsHeldUpIsWaitedFor(t *testing.T) {
	dir := t.TempDir()
	root, err := os.OpenRoot(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = root.Close() })
	before, theirs := []byte("<p>£6.90</p>\n"), []byte("<p>£6.90, in winter.</p>\n")
	if err := root.WriteFile("fares.html", before, 0o600); err != nil {
		t.Fatal(err)
	}
	h := heldUp{folder{root}, InFlight / 5, theirs, make(chan error, 2)} // two: theirs is moved back by the same way
	_, err = Put(t.Context(), newFiles(h, "Mendry"), "fares.html", before, []byte("<p>£7.40</p>\n"), false)
	if wrote := <-h.wrote; wrote != nil {
		t.Fatal(wrote)
	}
	now, readErr := root.ReadFile("fares.html")
	if !Is(err, Changed) || readErr != nil || !bytes.Equal(now, theirs) {
		t.Errorf("%q stands there, and the write said %v", now, err)
	}
}

func TestTheFolderOfFiles(t *testing.T) {
	for _, tt := range []struct {
		files []string
		want  string
	}{
		{[]string{"a.html"}, ""},
		{[]string{"a.html", "a.html.old"}, ""},
		{[]string{"boats/a.html", "boats/b.html"}, "boats/"},
		{[]string{"boats/a.html", "boatsmen/b.html"}, ""},
		{[]string{"boats/wide/a.html", "boats/wide/b.html", "boats/narrow/c.html"}, "boats/"},
		{[]string{"boats/a.html", "index.html"}, ""},
		{[]string{"boats/a.html/x.html", "boats/a.html"}, "boats/"},
	} {
		if got := folderOf(tt.files); got != tt.want {
			t.Errorf("%v: %q, want %q", tt.files, got, tt.want)
		}
	}
}

// What a process left beside a file when it was killed over it goes as soon as the file is gone on with: the old one under a
// second name, the new one half written, the lock. What another installation holds stays.
func TestWhatAKillLeftGoesWhenItIsGoneOnWith(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	for _, stands := range []string{"old", "new"} {
		dir := t.TempDir()
		h, err := Open(Network{Folders: []string{dir}}, Reach{Kind: "folder", URL: "file://" + dir, By: "Mendry of the test"}, patience)
		if err != nil {
			t.Fatal(err)
		}
		if err := os.Mkdir(filepath.Join(dir, "in"), 0o755); err != nil {
			t.Fatal(err)
		}
		for name, words := range map[string]string{
			"in/a.html": stands, "in/.mendry-old-abc": "old", "in/.mendry-new-abc": "ne", ".mendry-lock": "Mendry of the test\n", "in/.htaccess": "theirs",
		} {
			if err := os.WriteFile(filepath.Join(dir, name), []byte(words), 0o600); err != nil {
				t.Fatal(err)
			}
		}
		if _, err := Put(ctx, h, "in/a.html", []byte("old"), []byte("new"), true); err != nil {
			t.Fatal(err)
		}
		var names []string
		if err := filepath.WalkDir(dir, func(p string, d os.DirEntry, err error) error {
			if !d.IsDir() {
				names = append(names, strings.TrimPrefix(p, dir+"/"))
			}
			return err
		}); err != nil {
			t.Fatal(err)
		}
		if got := strings.Join(names, " "); got != "in/.htaccess in/a.html" {
			t.Errorf("where the %s one stood there are %s", stands, got)
		}
	}
	dir := t.TempDir()
	h, err := Open(Network{Folders: []string{dir}}, Reach{Kind: "folder", URL: "file://" + dir, By: "Mendry of the test"}, patience)
	if err != nil {
		t.Fatal(err)
	}
	for name, words := range map[string]string{"a.html": "new", ".mendry-lock": "Somebody else\n"} {
		if err := os.WriteFile(filepath.Join(dir, name), []byte(words), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := Put(ctx, h, "a.html", []byte("old"), []byte("new"), true); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(filepath.Join(dir, ".mendry-lock")); err != nil {
		t.Error("somebody else's lock was taken away")
	}
}
