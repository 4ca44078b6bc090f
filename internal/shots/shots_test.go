package shots

import (
	"bytes"
	"context"
	"image/png"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"mendry/internal/core/refusal"
)

// pages are what a camera sees in these tests, by their paths, and what was asked for.
type pages struct {
	mu    sync.Mutex
	of    map[string]string
	asked []string
}

func (p *pages) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	p.mu.Lock()
	p.asked = append(p.asked, r.Host+r.URL.Path)
	p.mu.Unlock()
	body, ok := p.of[r.URL.Path]
	if !ok || !strings.HasPrefix(r.Host, "view.preview.example") {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Security-Policy", "sandbox allow-scripts")
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_, _ = w.Write([]byte("<!doctype html><style>body{margin:0}</style>" + body))
}

func camera(t *testing.T, of map[string]string) (*Camera, *pages) {
	t.Helper()
	found := Find()
	if found == "" {
		t.Fatal("the tests need Debian's chromium")
	}
	p := &pages{of: of}
	return &Camera{Chromium: found, Previews: p}, p
}

const at = "http://view.preview.example:81"

// A picture has the width that was asked for and the height of the whole page, and parts stand on it where CSS puts
// them.
func TestAPictureOfAPage(t *testing.T) {
	c, _ := camera(t, map[string]string{
		"/": `<div style="height:1000px;background:#fff"></div><p data-mendry="words-1" style="margin:0;height:50px;background:#f00">x</p><div style="height:1000px"></div>`,
	})
	shots, err := c.Take(context.Background(), []View{{at + "/", 390}, {at + "/", 1280}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	for i, wide := range []int{390, 1280} {
		m, err := png.Decode(bytes.NewReader(shots[i].PNG))
		if err != nil {
			t.Fatal(err)
		}
		if b := m.Bounds(); b.Dx() != wide || b.Dy() != 2050 || shots[i].Cut {
			t.Errorf("%v", b)
		}
		if r, g, _, _ := m.At(wide-5, 1025).RGBA(); r>>8 != 255 || g != 0 {
			t.Errorf("at the part: %d %d", r, g)
		}
		if len(shots[i].Parts) != 1 || shots[i].Parts[0] != (Part{"words-1", 0, 1000, float64(wide), 50}) {
			t.Errorf("%+v", shots[i].Parts)
		}
	}
}

// Words stand over a picture where it is their background, or an element that is drawn below them; not where something
// with a ground of its own lies between, and not where they stand beside it.
func TestWordsOverPictures(t *testing.T) {
	const dot = "data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7"
	c, _ := camera(t, map[string]string{"/": `<body style="background:#fff">
		<div style="height:1500px"></div>
		<p data-mendry="beside">x</p>
		<div style="background:url(` + dot + `)"><p data-mendry="on background">x</p><p data-mendry="on white" style="background:#fff">x</p></div>
		<div style="position:relative;height:300px"><img src="` + dot + `" style="width:100%;height:300px" alt="">
			<p data-mendry="on picture" style="position:absolute;top:20px;pointer-events:none"><em>x</em> y</p>
			<div style="position:absolute;top:90px;background:#fff"><p data-mendry="on a card">x</p></div>
			<div style="position:absolute;top:200px;background:rgba(0,0,0,.4)"><p data-mendry="on a veil">x</p></div></div>
		<div style="position:relative;height:99px"><p data-mendry="below it" style="position:absolute;top:0">x</p>
			<img src="` + dot + `" style="position:absolute;top:0;width:100%;height:99px" alt=""></div>`})
	shots, err := c.Take(context.Background(), []View{{at + "/", 390}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, o := range shots[0].Over {
		got = append(got, o.ID)
	}
	if want := "on background, on picture, on a veil"; strings.Join(got, ", ") != want {
		t.Errorf("%q", got)
	}
}

// A hostile page costs its own pictures and no more: the browser ends, nothing of it stays, and the next one is taken.
func TestAHostilePageCostsOneJob(t *testing.T) {
	dir := apart(t)
	c, _ := camera(t, map[string]string{
		"/endless": `<script>for(;;);</script>`,
		"/alert":   `<script>alert(1);confirm(2);print();open("about:blank")</script><p>fine</p>`,
		"/away":    `<script>location="http://elsewhere.example/"</script>`,
		"/memory":  `<script>const all=[];setInterval(()=>{for(let i=0;i<40;i++)all.push(new Uint8Array(8<<20).fill(1))},1)</script>`,
		"/tall":    `<div style="height:400000px"></div>`,
		"/fine":    `<p>fine</p>`,
	})
	for _, one := range []struct {
		path  string
		fails bool
		by    time.Duration
	}{
		{"/endless", true, 8 * time.Second}, {"/memory", true, longest}, {"/alert", false, longest}, {"/tall", false, longest}, {"/away", true, longest},
	} {
		ctx, cancel := context.WithTimeout(context.Background(), one.by)
		shots, err := c.Take(ctx, []View{{at + one.path, 390}}, nil)
		cancel()
		if left := browsers(dir); len(left) > 0 {
			t.Errorf("%s: still running, by their users: %v", one.path, left)
		}
		if one.path == "/away" && err == nil { // the picture of a page that says no
			continue
		}
		if (err != nil) != one.fails || err != nil && refusal.Of(err) == nil {
			t.Errorf("%s: %v", one.path, err)
		}
		if one.path == "/tall" && err == nil && !shots[0].Cut {
			t.Error("a page that goes on for ever is not cut")
		}
	}
	if _, err := c.Take(context.Background(), []View{{at + "/fine", 390}}, nil); err != nil {
		t.Errorf("after that: %v", err)
	}
}

// apart gives this test's browsers a folder of their own: other tests take pictures at the same time.
func apart(t *testing.T) (dir string) {
	dir = t.TempDir()
	if err := os.Chmod(filepath.Dir(dir), 0o755); err != nil { // they get there as nobody
		t.Fatal(err)
	}
	t.Setenv("TMPDIR", dir)
	return dir
}

// browsers are the users of the processes that cameras started with a folder and that run.
func browsers(dir string) (users []string) {
	for _, p := range processes(func(p process) bool { return bytes.Contains(p.line(), []byte(dir)) }) {
		var at syscall.Stat_t
		if syscall.Stat(p.file(""), &at) == nil {
			users = append(users, strconv.Itoa(int(at.Uid)))
		}
	}
	return users
}

func TestTheBrowserIsNobody(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("only root can be somebody else")
	}
	dir := apart(t)
	c, _ := camera(t, map[string]string{"/": "<p>fine</p>"})
	users := make(chan string, 1)
	_, err := c.Take(context.Background(), []View{{at + "/", 390}}, func(int) {
		all := browsers(dir)
		slices.Sort(all)
		users <- strings.Join(slices.Compact(all), " ")
	})
	if got := <-users; err != nil || got != "65534" {
		t.Errorf("%q, %v", got, err)
	}
}
