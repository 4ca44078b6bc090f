package shots

import (
	"bytes"
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

// Ways out of a page, each with an address of its own in the place of HERE: what a browser's documentation names (the
// Fetch, WebRTC, WebTransport, Speculation Rules and HTML standards). Debian's browser without a screen neither connects
// beforehand nor asks for icons.
var ways = map[string]string{
	"WebRTC by STUN":        `<script>out({urls:"stun:HERE"})</script>`,
	"WebRTC by TURN":        `<script>out({urls:"turn:HERE",username:"the words of the page",credential:"x"})</script>`,
	"WebRTC by TURN on TCP": `<script>out({urls:"turn:HERE?transport=tcp",username:"words",credential:"x"})</script>`,
	"WebTransport":          `<script>new WebTransport("https://HERE/").ready.catch(()=>0)</script>`,
	"WebSocket":             `<script>new WebSocket("ws://HERE/")</script>`,
	"EventSource":           `<script>new EventSource("http://HERE/")</script>`,
	"fetch":                 `<script>fetch("http://HERE/",{mode:"no-cors"}).catch(()=>0)</script>`,
	"fetch to TLS":          `<script>fetch("https://HERE/",{mode:"no-cors"}).catch(()=>0)</script>`,
	"fetch that goes on":    `<script>fetch("http://HERE/",{mode:"no-cors",keepalive:true}).catch(()=>0)</script>`,
	"XMLHttpRequest":        `<script>{const x=new XMLHttpRequest;x.open("GET","http://HERE/");x.send()}</script>`,
	"beacon":                `<script>navigator.sendBeacon("http://HERE/","words")</script>`,
	"a worker":              `<script>new Worker(URL.createObjectURL(new Blob(['fetch("http://HERE/",{mode:"no-cors"})'])))</script>`,
	"a worker's scripts":    `<script>new Worker(URL.createObjectURL(new Blob(['importScripts("http://HERE/")'])))</script>`,
	"a module":              `<script type="module">import("http://HERE/").catch(()=>0)</script>`,
	"a program (wasm)":      `<script>WebAssembly.compileStreaming(fetch("http://HERE/")).catch(()=>0)</script>`,
	"a picture":             `<img src="http://HERE/" alt="">`,
	"a script":              `<script src="http://HERE/"></script>`,
	"a style":               `<style>@import "http://HERE/";</style>`,
	"a background":          `<p style="background:url(http://HERE/)">x</p>`,
	"a font":                `<style>@font-face{font-family:f;src:url(http://HERE/)}</style><p style="font-family:f">x</p>`,
	"a film":                `<video src="http://HERE/" preload="auto"></video>`,
	"a frame":               `<iframe src="http://HERE/"></iframe>`,
	"a frame that moves on": `<iframe srcdoc='<meta http-equiv="refresh" content="0;url=http://HERE/">'></iframe>`,
	"an object":             `<object data="http://HERE/"></object>`,
	"a drawing":             `<svg><image href="http://HERE/" width="9" height="9"/></svg>`,
	"preload":               `<link rel="preload" as="image" href="http://HERE/">`,
	"prefetch":              `<link rel="prefetch" href="http://HERE/">`,
	"speculation":           `<script type="speculationrules">{"prefetch":[{"urls":["http://HERE/"],"eagerness":"immediate"}]}</script>`,
	"this machine by name":  `<script>fetch("http://HERE/".replace("127.0.0.1","localhost"),{mode:"no-cors"}).catch(()=>0)</script>`,
}

const out = `<script>async function out(s){const c=new RTCPeerConnection({iceServers:[s]});c.createDataChannel("x");await c.setLocalDescription(await c.createOffer())}</script>`

// outside listens on an address for each way, by TCP and UDP, and counts who comes.
func outside(t *testing.T) (page string, came func() []string) {
	counts := map[string]*atomic.Int64{}
	var b strings.Builder
	b.WriteString(out)
	for name, html := range ways {
		n := &atomic.Int64{}
		counts[name] = n
		tcp, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = tcp.Close() })
		udp, err := net.ListenPacket("udp", tcp.Addr().String())
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = udp.Close() })
		go func() {
			for c, err := tcp.Accept(); err == nil; c, err = tcp.Accept() {
				n.Add(1)
				_ = c.Close()
			}
		}()
		go func() {
			some := make([]byte, 1)
			for _, _, err := udp.ReadFrom(some); err == nil; _, _, err = udp.ReadFrom(some) {
				n.Add(1)
			}
		}()
		b.WriteString(strings.ReplaceAll(html, "HERE", tcp.Addr().String()))
	}
	return b.String(), func() (all []string) {
		for name, n := range counts {
			if n.Load() > 0 {
				all = append(all, name)
			}
		}
		slices.Sort(all)
		return all
	}
}

// No page of a client reaches anything but the previews through the browser that draws it, whether that has a network of
// its own or shares the machine's. That the page tries shows a browser of the same program without a door.
func TestNothingLeavesTheBrowser(t *testing.T) {
	for _, shared := range []bool{false, true} {
		page, came := outside(t)
		c, p := camera(t, map[string]string{"/": page})
		c.shared = shared
		var nets []string
		dir := apart(t)
		_, err := c.Take(context.Background(), []View{{at + "/", 390}}, func(int) { nets = networks(dir) })
		if err != nil {
			t.Fatal(err)
		}
		if all := came(); len(all) > 0 {
			t.Errorf("shared %v: it left by %s", shared, strings.Join(all, ", "))
		}
		if len(p.asked) == 0 {
			t.Error("nothing went through the door")
		}
		if alone := slices.Equal(nets, []string{"lo"}); alone != (ownNetwork() && !shared) {
			t.Errorf("shared %v: the browser's networks are %q", shared, nets)
		}
	}

	page, came := outside(t)
	_, p := camera(t, map[string]string{"/": page})
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		r.Host = "view.preview.example"
		p.ServeHTTP(w, r)
	}))
	defer server.Close()
	ctx, stop := chromedp.NewExecAllocator(context.Background(), append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(Find()), chromedp.NoSandbox, chromedp.DisableGPU)...)
	defer stop()
	ctx, stop = chromedp.NewContext(ctx)
	defer stop()
	if err := chromedp.Do(ctx, chromedp.Navigate(server.URL)); err != nil {
		t.Fatal(err)
	}
	for until := time.Now().Add(20 * time.Second); len(came()) < len(ways) && time.Now().Before(until); time.Sleep(50 * time.Millisecond) {
		continue
	}
	for name := range ways {
		if !slices.Contains(came(), name) {
			t.Errorf("%s: the page does not try it", name)
		}
	}
}

// networks are the interfaces that the browser with a folder sees (proc_pid_net(5), dev).
func networks(dir string) (all []string) {
	for _, p := range processes(func(p process) bool { return bytes.Contains(p.line(), []byte(dir)) }) {
		dev, _ := os.ReadFile(p.file("net/dev"))
		for _, l := range strings.Split(string(dev), "\n") {
			if name, _, ok := strings.Cut(l, ":"); ok && !slices.Contains(all, strings.TrimSpace(name)) {
				all = append(all, strings.TrimSpace(name))
			}
		}
	}
	return all
}

// The door is closed to whatever is no preview.
func TestTheDoorLeadsNowhereElse(t *testing.T) {
	t.Parallel()
	p := &pages{of: map[string]string{"/": "fine"}}
	d, err := makeDoor(p, false)
	if err != nil {
		t.Fatal(err)
	}
	defer d.shut()
	if err := d.open(0); err != nil {
		t.Fatal(err)
	}
	for line, want := range map[string]string{
		"CONNECT elsewhere.example:443 HTTP/1.1\r\nHost: elsewhere.example:443": "403", "GET / HTTP/1.1\r\nHost: view.preview.example": "403",
		"GET http://elsewhere.example/ HTTP/1.1\r\nHost: elsewhere.example": "404", "GET http://view.preview.example/ HTTP/1.1\r\nHost: view.preview.example": "200",
	} {
		c, err := net.Dial("tcp", d.address)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprint(c, line+"\r\nConnection: close\r\n\r\n")
		b := make([]byte, 12)
		if _, err := c.Read(b); err != nil || !strings.HasSuffix(string(b), want) {
			t.Errorf("%q: %q, %v", line, b, err)
		}
		_ = c.Close()
	}
}
