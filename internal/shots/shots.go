// Package shots takes pictures of previewed pages with Chromium. The browser is a stranger in the house: it runs as
// nobody where Mendry is root, with little memory, for a short time, and all that it asks for goes through a door that
// leads to the previews and nowhere else. A page that misuses it costs one job.
package shots

import (
	"cmp"
	"context"
	_ "embed"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"

	"mendry/internal/core/refusal"
)

// Find finds a Chromium on this machine; empty where there is none.
func Find() string {
	for _, name := range []string{"chromium-headless-shell", "chromium", "chromium-browser"} {
		if p, err := exec.LookPath(name); err == nil {
			return p
		}
	}
	return ""
}

// Camera takes pictures.
type Camera struct {
	Chromium string        // the browser's program
	Previews http.Handler  // what it may see
	Patience time.Duration // for one browser, whatever it is asked for; two minutes where it is zero

	shared bool // the browser shares the machine's network, as where the system gives it none of its own
}

const (
	tallest  = 8000            // of a picture, in points; what stands below is left out
	window   = 800             // how high the window is, in points
	longest  = 2 * time.Minute // for one browser: it gives way to all else, and a busy machine leaves it little
	settles  = 700 * time.Millisecond
	mostData = 1500 << 20 // bytes that the browser's processes may take together
	nobody   = 65534      // Debian's user and group of that name
)

// Part is where a part of a page stands on a picture, in points.
type Part struct {
	ID                  string
	X, Y, Width, Height float64
}

// Shot is a picture of a page.
type Shot struct {
	PNG   []byte
	Parts []Part // those that the preview marks
	Cut   bool   // it goes on below
	Over  []Over // words that stand over a picture
	Bare  []byte // the same without those words, as PNG; none where there are none
}

// Over are words that stand over a picture.
type Over struct {
	ID    string   // of their part
	Ink   [3]uint8 // their colour, red, green, blue
	Large bool     // large text by WCAG 2.2: 24 px, or 18.66 px and bold
	Lines []Part   // where they stand
}

// View is a page at a width of the window.
type View struct {
	Address string // in the previews
	Width   int
}

// Take takes pictures of views, one after the other, in a browser of their own. tell is called before each. The error
// is a refusal where the browser could not.
func (c *Camera) Take(job context.Context, views []View, tell func(n int)) (shots []Shot, err error) {
	ctx, cancel := context.WithTimeoutCause(job, cmp.Or(c.Patience, longest), errSlow)
	defer cancel()
	dir, err := os.MkdirTemp("", "mendry-shots")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	b := &browser{dir: dir, apart: !c.shared && ownNetwork()}
	defer b.end()
	door, err := makeDoor(c.Previews, b.apart)
	if err != nil {
		return nil, err
	}
	defer door.shut()
	ctx, stop := chromedp.NewExecAllocator(ctx, c.options(door.address, b)...)
	defer stop()
	ctx, stop = chromedp.NewContext(
		ctx,
		chromedp.WithErrorf(func(string, ...any) {}),
		chromedp.WithLogf(func(string, ...any) {}),
	)
	defer stop()
	defer b.kill()
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(1280, window)); err != nil {
		return nil, failed(job, ctx, err)
	}
	if err := door.open(b.cmd.Process.Pid); err != nil {
		return nil, failed(job, ctx, err)
	}
	b.giveWay()
	watched := make(chan struct{})
	defer close(watched)
	go b.watch(watched)
	for n, v := range views {
		if tell != nil {
			tell(n)
		}
		s, err := take(ctx, v)
		if err != nil {
			return nil, failed(job, ctx, err)
		}
		shots = append(shots, s)
	}
	return shots, nil
}

var errSlow = errors.New("it took too long")

// failed says in words why no picture came; where the job itself ended, it is no word of the page's.
func failed(job, ctx context.Context, err error) error {
	if errors.Is(job.Err(), context.Canceled) {
		return fmt.Errorf("take pictures: %w", err)
	}
	say := "The page could not be drawn by the browser. Everything else works without its pictures."
	if errors.Is(context.Cause(ctx), errSlow) {
		say = "The page took the browser too long. Everything else works without its pictures."
	}
	return fmt.Errorf("%w (%v)", refusal.New(refusal.Rule, "%s", say), err)
}

func (c *Camera) options(door string, b *browser) []chromedp.ExecAllocatorOption {
	all := append(
		chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath(
			c.Chromium,
		),
		chromedp.NoSandbox,
		chromedp.DisableGPU,
		chromedp.UserDataDir(b.dir),
		chromedp.ProxyServer("http://"+door),
		chromedp.NoInheritEnv,
		chromedp.Env(
			"PATH=/usr/bin:/bin",
			"LANG=C.UTF-8",
			"HOME="+b.dir,
			"XDG_CONFIG_HOME="+b.dir,
			"XDG_CACHE_HOME="+b.dir,
		),
		chromedp.ModifyCmdFunc(b.as),
	)
	for name, value := range flags {
		all = append(all, chromedp.Flag(name, value))
	}
	return all
}

// flags are Chromium's, beside those that chromedp sets.
var flags = map[string]any{
	"proxy-bypass-list":            "<-loopback>", // loopback goes through the door, too
	"host-resolver-rules":          "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1",
	"js-flags":                     "--max-old-space-size=256",
	"renderer-process-limit":       "2",
	"force-prefers-reduced-motion": true,
	"hide-scrollbars":              true,
	"mute-audio":                   true,
	// UDP goes through no proxy; this switch alone keeps a page from sending any (measured: STUN and TURN of version 156).
	"force-webrtc-ip-handling-policy": "disable_non_proxied_udp",
	"disable-dev-shm-usage":           true,
	"disable-background-networking":   true,
	"disable-component-update":        true,
}

//go:embed seen.js
var seen string

// measured is what a page tells of itself.
type measured struct {
	High  float64 `json:"high"`
	Parts []Part  `json:"parts"`
	Over  []Over  `json:"over"`
}

// bare takes the ink from words that stand over a picture.
const bare = `(() => {
  const s = document.createElement('style');
  s.textContent = '[data-mendry-over],[data-mendry-over] *{color:transparent!important;text-shadow:none!important;text-decoration-color:transparent!important;transition:none!important}';
  document.documentElement.append(s);
})()`

func take(ctx context.Context, v View) (s Shot, err error) {
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(int64(v.Width), window), chromedp.Navigate(v.Address)); err != nil {
		return s, err
	}
	wait := fmt.Sprintf("(%s)(%d, %d)", seen, tallest, settles.Milliseconds())
	got, err := chromedp.Run(ctx, chromedp.Evaluate[measured](wait, chromedp.EvalAwaitPromise))
	if err != nil {
		return s, err
	}
	beyond := true
	clip := page.Viewport{Width: float64(v.Width), Height: min(max(got.High, 1), tallest), Scale: 1}
	s.Parts, s.Cut, s.Over = got.Parts, got.High > tallest, got.Over
	capture := func(ctx context.Context, t *chromedp.Target) ([]byte, error) {
		r, err := cdp.Call(
			ctx,
			t,
			page.CaptureScreenshot,
			page.CaptureScreenshotParams{CaptureBeyondViewport: &beyond, Clip: &clip},
		)
		return r.Data, err
	}
	if s.PNG, err = chromedp.Run(ctx, capture); err != nil || len(s.Over) == 0 {
		return s, err
	}
	if err := chromedp.Do(ctx, chromedp.Evaluate[chromedp.Void](bare)); err != nil {
		return s, err
	}
	s.Bare, err = chromedp.Run(ctx, capture)
	return s, err
}
