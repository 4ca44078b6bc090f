package main

import (
	"fmt"
	"io"
	"net/http"
	"os"
	"time"

	"mendry/internal/standin"
)

// runStandin starts a stand-in site host on a folder.
func runStandin(args []string, _ io.Reader, out io.Writer) error {
	fs := newFlags("standin")
	dir := fs.String("dir", "", "")
	edit := fs.String("edit", "127.0.0.1:8431", "")
	public := fs.String("public", "127.0.0.1:8432", "")
	user := fs.String("user", "keeper", "")
	pass := fs.String("password", "keeper", "")
	keep := fs.Duration("cache", time.Minute, "")
	if err := fs.Parse(args); err != nil || *dir == "" {
		return fail(refused, "usage: mendry standin --dir DIR [--edit HOST:PORT] [--public HOST:PORT] [--user NAME] [--password WORD] [--cache 1m]")
	}
	if i, err := os.Stat(*dir); err != nil || !i.IsDir() {
		return fail(refused, "%s is no folder", *dir)
	}
	h := &standin.Host{Dir: *dir, User: *user, Pass: *pass, Keep: *keep}
	fmt.Fprintf(out, "host    http://%s/  (WebDAV, user %s, password %s)\nvisitors http://%s/  (a cache keeps pages for %v)\n", *edit, *user, *pass, *public, *keep)
	ctx, cancel := untilStopped()
	defer cancel()
	return listen(ctx, map[string]http.Handler{*edit: h.DAV(), *public: h.Public()})
}
