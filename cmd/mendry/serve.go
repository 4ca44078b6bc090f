package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"strings"
	"sync"
	"syscall"
	"time"

	"mendry/api"
	"mendry/internal/desk"
	"mendry/internal/host"
	"mendry/internal/httpd"
	"mendry/internal/post"
	"mendry/internal/shots"
	"mendry/internal/store"
)

// app is a running Mendry.
type app struct {
	desk   *desk.Desk
	store  *store.Store
	camera *shots.Camera // nil where there is no browser
	log    *slog.Logger
}

// open connects to the database and makes the desk; clock is nil for the machine's.
func open(ctx context.Context, v values, demo bool, mailbox string, clock func() time.Time) (*app, error) {
	log := logger(v.get("log"))
	secret, err := secretOf(v, log)
	if err != nil {
		return nil, err
	}
	if v.get("dsn") == "" {
		return nil, fail(refused, "say where the database is, with --dsn or MENDRY_DSN")
	}
	s, err := store.Open(ctx, withDefaults(v.get("dsn")))
	if err != nil {
		return nil, err
	}
	name, _ := os.Hostname()
	c := desk.Config{
		Network: host.Network{Loopback: v.yes("private"), Folders: listed(v.get("folders"))}, Secret: secret, PublicURL: strings.TrimSuffix(v.get("url"), "/"),
		PreviewURL: v.get("preview-url"), Process: name + " " + v.get("addr"), Demo: demo, MailboxURL: mailbox, Clock: clock, Log: log,
		Mail: post.Sender{
			Server: v.get("smtp"), From: v.get("from"), User: v.get("smtp-user"), Pass: v.get("smtp-password"), Plain: v.yes("smtp-plain"),
		},
	}
	camera := cameraOf(v.get("chromium"))
	if camera != nil {
		c.Camera = camera
	}
	d, err := desk.New(s, c)
	if err == nil && !v.yes("secret-changed") {
		err = rightSecret(ctx, d)
	}
	if err != nil {
		_ = s.Close()
		return nil, err
	}
	return &app{desk: d, store: s, camera: camera, log: log}, nil
}

// rightSecret refuses a secret that none of the hosts' passwords was sealed with.
func rightSecret(ctx context.Context, d *desk.Desk) error {
	right, err := d.Unseals(ctx)
	if err == nil && !right {
		err = fail(refused, "this is not the secret with which the hosts' passwords were sealed. Start Mendry with the one that it had. "+
			"Where that is lost, --secret-changed yes starts it with this one: then enter each host's password again in its site's settings")
	}
	return err
}

// cameraOf is a camera with the browser that is said, or with one that is found; nil where there is none.
func cameraOf(said string) *shots.Camera {
	if said == "" {
		said = shots.Find()
	}
	if said == "" || said == "off" {
		return nil
	}
	return &shots.Camera{Chromium: said}
}

// withDefaults adds what every connection needs to an address that does not say it.
func withDefaults(dsn string) string {
	for _, p := range []string{"parseTime=true", "loc=UTC", "clientFoundRows=true", "interpolateParams=true", "collation=utf8mb4_uca1400_ai_ci"} {
		name, _, _ := strings.Cut(p, "=")
		if strings.Contains(dsn, name+"=") {
			continue
		}
		if strings.Contains(dsn, "?") {
			dsn += "&" + p
		} else {
			dsn += "?" + p
		}
	}
	return dsn
}

// memory is about what the server may take, in bytes, before it looks harder for what can be given back; GOMEMLIMIT
// says otherwise.
const memory = 180 << 20

// serve listens, and does what is to be done, until ctx ends. Where it cannot listen, it ends at once.
func (a *app) serve(ctx context.Context, v values, people []api.DemoPerson) error {
	if v.get("addr") == v.get("preview-addr") {
		return fail(refused, "Mendry and its previews need an address each, not %s for both", v.get("addr"))
	}
	srv, err := httpd.New(a.desk, a.store, httpd.Options{
		Secure: strings.HasPrefix(v.get("url"), "https://"), PreviewURL: v.get("preview-url"), DemoPeople: people, Log: a.log,
		Proxies: strings.FieldsFunc(v.get("trusted-proxies"), func(r rune) bool { return r == ',' || r == ' ' }),
	})
	if err != nil {
		return err
	}
	if a.camera != nil {
		a.camera.Previews = srv.Previews()
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memory)
	}
	ctx, cancel := context.WithCancel(ctx)
	var wg sync.WaitGroup
	defer wg.Wait()
	defer cancel()
	defer context.AfterFunc(ctx, srv.Stop)()
	wg.Go(func() { a.desk.Work(ctx) })
	return listen(ctx, map[string]http.Handler{v.get("addr"): srv.Handler(), v.get("preview-addr"): srv.Previews()})
}

// listen serves handlers until ctx ends, then lets open calls finish.
func listen(ctx context.Context, at map[string]http.Handler) error {
	errs := make(chan error, len(at))
	var servers []*http.Server
	listeners := map[string]net.Listener{}
	for addr := range at {
		l, err := net.Listen("tcp", addr)
		if err != nil {
			for _, open := range listeners {
				_ = open.Close()
			}
			return fail(refused, "cannot listen on %s: something else does, or it is not allowed", addr)
		}
		listeners[addr] = l
	}
	for addr, h := range at {
		l := listeners[addr]
		s := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 60 * time.Second, WriteTimeout: 90 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
		servers = append(servers, s)
		go func() { errs <- s.Serve(l) }()
	}
	var err error
	select {
	case <-ctx.Done():
	case err = <-errs:
	}
	end, stop := context.WithTimeout(context.Background(), 5*time.Second)
	defer stop()
	for _, s := range servers {
		_ = s.Shutdown(end) // what is still open after that is broken off
	}
	if errors.Is(err, http.ErrServerClosed) {
		err = nil
	}
	return err
}

// untilStopped is a context that ends at Ctrl-C or SIGTERM.
func untilStopped() (context.Context, context.CancelFunc) {
	return signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
}

func runServe(args []string, _ io.Reader, out io.Writer) error {
	fs := newFlags("serve")
	v := declare(fs)
	if err := fs.Parse(args); err != nil {
		return fail(refused, "%v; see mendry help", err)
	}
	ctx, cancel := untilStopped()
	defer cancel()
	a, err := open(ctx, v, false, "", nil)
	if err != nil {
		return err
	}
	defer a.store.Close()
	fmt.Fprintf(out, "Mendry is at %s\n", v.get("url"))
	return a.serve(ctx, v, nil)
}

// personAdd takes in somebody of the studio; the password is read from standard input.
func personAdd(args []string, in io.Reader, out io.Writer) error {
	fs := newFlags("person add")
	v := declare(fs)
	signIn := fs.String("sign-in", "", "")
	name := fs.String("name", "", "")
	role := fs.String("role", "maintainer", "")
	if err := fs.Parse(args); err != nil || *signIn == "" || *name == "" || *role != "lead" && *role != "maintainer" {
		return fail(refused, "usage: mendry person add --sign-in NAME --name \"FULL NAME\" [--role lead|maintainer], the password on standard input")
	}
	password, err := bufio.NewReader(in).ReadString('\n')
	password = strings.TrimRight(password, "\r\n")
	if err != nil && !errors.Is(err, io.EOF) || len(password) < 10 {
		return fail(refused, "the password needs at least 10 signs")
	}
	ctx := context.Background()
	a, err := open(ctx, v, false, "", nil)
	if err != nil {
		return err
	}
	defer a.store.Close()
	if _, err := a.desk.AddPerson(ctx, *signIn, *name, *role, password); err != nil {
		return err
	}
	fmt.Fprintf(out, "%s can sign in as %s\n", *name, strings.ToLower(*signIn))
	return nil
}
