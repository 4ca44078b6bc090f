package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"sync"
	"time"

	"mendry/internal/demo"
	"mendry/internal/localdb"
	"mendry/internal/standin"
)

// ports of the demo, counted from --base.
const (
	portMendry = iota
	portPreviews
	portMailbox
	portSMTP
	portSites = 11 // visitors of the first site; hosts come ten later
)

func runDemo(args []string, _ io.Reader, out io.Writer) error {
	fs := newFlags("demo")
	v := declare(fs)
	dir := fs.String("dir", "var", "")
	fresh := fs.Bool("fresh", false, "")
	base := fs.Int("base", 8400, "")
	keep := fs.Duration("cache", 0, "")
	from := fs.String("now", "", "")
	if err := fs.Parse(args); err != nil {
		return fail(refused, "usage: mendry demo [--fresh] [--dir var] [--base 8400] [--cache 1m] [--now 2027-02-28T23:59:00Z]: %v", err)
	}
	clock, err := clockFrom(*from)
	if err != nil {
		return err
	}
	if *fresh {
		for _, sub := range []string{"db", "sites", "mail", "secret"} {
			if err := os.RemoveAll(filepath.Join(*dir, sub)); err != nil {
				return err
			}
		}
	}
	if err := os.MkdirAll(*dir, 0o755); err != nil {
		return err
	}
	ctx, cancel := untilStopped()
	defer cancel()
	db, err := localdb.Start(filepath.Join(absolute(*dir), "db"), localdb.Options{Forgetful: true})
	if err != nil {
		return err
	}
	defer db.Stop()
	if err := db.Create("mendry"); err != nil {
		return err
	}
	at := func(n int) string { return "127.0.0.1:" + strconv.Itoa(*base+n) }
	local := func(n int) string { return "http://localhost:" + strconv.Itoa(*base+n) }
	for name, value := range map[string]string{
		"addr": at(portMendry), "preview-addr": at(portPreviews), "url": local(portMendry),
		"preview-url": "http://{token}.localhost:" + strconv.Itoa(*base+portPreviews), "dsn": db.DSN("mendry"), "secret": "", "secret-file": filepath.Join(*dir, "secret"),
		"smtp": at(portSMTP), "smtp-plain": "yes", "private": "yes", "from": "Harbour Lane Web Care <changes@harbour-lane.example>",
	} {
		*v[name] = value
	}
	hosts, err := demoHosts(*dir, *keep, at, local)
	if err != nil {
		return err
	}
	box := &standin.Mailbox{Dir: filepath.Join(*dir, "mail")}
	smtp, err := net.Listen("tcp", at(portSMTP))
	if err != nil {
		return fail(refused, "cannot listen on %s: is the demo running already?", at(portSMTP))
	}
	defer smtp.Close()
	go func() { _ = box.Serve(smtp) }() // ends with the listener
	handlers := map[string]http.Handler{at(portMailbox): box}
	standins := make(chan error, 1+len(hosts))
	for i, h := range hosts {
		handlers[at(portSites+i)] = h.Public()
		switch s := demo.Sites()[i]; s.Kind {
		case "sftp", "git":
			shell, l, err := demoShell(*dir, s, at(portSites+10+i))
			if err != nil {
				return err
			}
			go func() { standins <- shell.Serve(ctx, l) }()
		case "hand":
			handlers[at(portSites+10+i)] = h.Editor()
		default:
			handlers[at(portSites+10+i)] = h.DAV()
		}
	}
	go func() { standins <- listen(ctx, handlers) }()
	a, err := open(ctx, v, true, local(portMailbox), clock)
	if err != nil {
		return err
	}
	defer a.store.Close()
	served := make(chan error, 1)
	go func() { served <- a.serve(ctx, v, demo.People()) }()
	if err := ready(ctx, at(portMendry)); err != nil {
		cancel()
		return errors.Join(err, <-served)
	}
	if err := demo.Fill(ctx, a.desk, a.store, demoAddresses(at, local)); err != nil {
		return err
	}
	fmt.Fprintf(out, "\n  Mendry is at      %s\n  letters sent      %s\n", v.get("url"), local(portMailbox))
	for i, s := range demo.Sites() {
		fmt.Fprintf(out, "  %-24s %s\n", s.Name, local(portSites+i))
		if s.Kind == "hand" {
			fmt.Fprintf(out, "  %-24s %s\n", "  edited by hand at", local(portSites+10+i))
		}
	}
	fmt.Fprintf(out, "\n  Sign-in names stand on the sign-in page. Ctrl-C ends everything; data stays in %s.\n\n", *dir)
	select {
	case err = <-served:
	case err = <-standins:
		cancel()
		<-served
	}
	return err
}

func absolute(dir string) string {
	if a, err := filepath.Abs(dir); err == nil {
		return a
	}
	return dir
}

// clockFrom is a clock that begins at a moment (RFC 3339), to see the demo on another day; nil, the machine's, where none
// is said.
func clockFrom(moment string) (func() time.Time, error) {
	if moment == "" {
		return nil, nil
	}
	at, err := time.Parse(time.RFC3339, moment)
	if err != nil {
		return nil, fail(refused, "--now: %q is no moment: write it like 2027-02-28T23:59:00Z", moment)
	}
	ahead := time.Until(at)
	return func() time.Time { return time.Now().Add(ahead) }, nil
}

// demoHosts writes the demo's sites where they are missing and makes a stand-in host for each.
func demoHosts(dir string, keep time.Duration, at, local func(int) string) ([]*standin.Host, error) {
	sites := demo.Sites()
	folder := func(s demo.Site) string { return filepath.Join(dir, "sites", s.Dir) }
	faults := make([]error, len(sites))
	var writing sync.WaitGroup // their pictures are drawn, which takes a while
	for i, s := range sites {
		if _, err := os.Stat(folder(s)); errors.Is(err, os.ErrNotExist) {
			writing.Go(func() { faults[i] = s.Write(folder(s), local(portSites+i)) })
		}
	}
	writing.Wait()
	if err := errors.Join(faults...); err != nil {
		return nil, err
	}
	var hosts []*standin.Host
	for _, s := range sites {
		cache := s.Cache
		if keep > 0 {
			cache = keep
		}
		hosts = append(hosts, &standin.Host{Dir: folder(s), User: s.User, Pass: s.Password, Keep: cache})
	}
	return hosts, nil
}

// demoShell is the stand-in of a site that is edited over SSH.
func demoShell(dir string, s demo.Site, addr string) (*standin.Shell, net.Listener, error) {
	sites := filepath.Join(absolute(dir), "sites")
	shell := &standin.Shell{Dir: filepath.Join(sites, s.Dir), User: s.User, Pass: s.Password, KeyFile: filepath.Join(sites, s.Dir+".key")}
	if s.Kind == "git" {
		shell.Repository = filepath.Join(sites, s.Dir+".git")
		if err := shell.Begin("The pages as they were"); err != nil {
			return nil, nil, err
		}
	}
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return nil, nil, fail(refused, "cannot listen on %s: is the demo running already?", addr)
	}
	return shell, l, nil
}

func demoAddresses(at, local func(int) string) (as []demo.Address) {
	for i, s := range demo.Sites() {
		a := demo.Address{Public: local(portSites + i), Host: "http://" + at(portSites+10+i)}
		switch s.Kind {
		case "sftp":
			a.Host = "sftp://" + at(portSites+10+i) + "/"
		case "git":
			a.Host = "ssh://" + at(portSites+10+i) + "/" + s.Dir + ".git#main"
		case "hand":
			a.Host = local(portSites + 10 + i)
		}
		as = append(as, a)
	}
	return as
}

// ready waits until something listens.
func ready(ctx context.Context, addr string) error {
	ctx, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for {
		c, err := net.DialTimeout("tcp", addr, time.Second)
		if err == nil {
			return c.Close()
		}
		select {
		case <-ctx.Done():
			return fmt.Errorf("no answer at %s: %w", addr, err)
		case <-tick.C:
		}
	}
}
