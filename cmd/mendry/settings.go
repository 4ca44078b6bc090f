package main

import (
	"crypto/rand"
	"encoding/hex"
	"flag"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
)

// setting is one thing that can be set by flag or environment.
type setting struct{ flag, env, preset, does string }

var settings = []setting{
	{"addr", "MENDRY_ADDR", "127.0.0.1:8400", "where Mendry listens"},
	{"preview-addr", "MENDRY_PREVIEW_ADDR", "127.0.0.1:8401", "where previews are served"},
	{"url", "MENDRY_URL", "http://localhost:8400", "the address under which people and clients reach Mendry"},
	{"preview-url", "MENDRY_PREVIEW_URL", "http://{token}.localhost:8401", "the address of previews; needs a wildcard name of its own"},
	{"dsn", "MENDRY_DSN", "", "the database, as user:password@tcp(host:port)/name"},
	{"secret", "MENDRY_SECRET", "", "64 hexadecimal digits that seal the hosts' passwords"},
	{"smtp", "MENDRY_SMTP", "", "the mail server, as host:port"},
	{"smtp-user", "MENDRY_SMTP_USER", "", "its user"},
	{"smtp-password", "MENDRY_SMTP_PASSWORD", "", "its password"},
	{"smtp-plain", "MENDRY_SMTP_PLAIN", "no", "yes: without TLS, for a mailbox on this machine"},
	{"from", "MENDRY_FROM", "Mendry <mendry@localhost>", "the sender of letters"},
	{"private", "MENDRY_PRIVATE", "no", "yes: hosts on loopback and private addresses may be reached"},
	{"folders", "MENDRY_FOLDERS", "", "folders of this machine in which sites may lie, with commas; none: sites lie on hosts only"},
	{"trusted-proxies", "MENDRY_TRUSTED_PROXIES", "", "addresses or networks of the proxies in front, with commas; what they say of a caller's address is believed"},
	{"chromium", "MENDRY_CHROMIUM", "", "the browser that takes pictures of pages; found by itself where none is said, off: no pictures"},
	{"log", "MENDRY_LOG", "info", "debug, info, warn or error"},
}

// values are the settings in force.
type values map[string]*string

func (v values) get(name string) string { return *v[name] }

func (v values) yes(name string) bool { return v.get(name) == "yes" }

// declare makes a flag of every setting; the environment gives the preset.
func declare(fs *flag.FlagSet) values {
	v := values{}
	for _, s := range settings {
		preset := s.preset
		if e, ok := os.LookupEnv(s.env); ok {
			preset = e
		}
		v[s.flag] = fs.String(s.flag, preset, s.does)
	}
	return v
}

func newFlags(name string) *flag.FlagSet {
	fs := flag.NewFlagSet(name, flag.ContinueOnError)
	fs.SetOutput(io.Discard)
	return fs
}

func logger(level string) *slog.Logger {
	var l slog.Level
	if err := l.UnmarshalText([]byte(level)); err != nil {
		l = slog.LevelInfo
	}
	return slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: l}))
}

// secretFile reads the demo's secret, or makes one.
func secretFile(dir string) (string, error) {
	file := filepath.Join(dir, "secret")
	b, err := os.ReadFile(file)
	if err == nil {
		return strings.TrimSpace(string(b)), nil
	}
	if !os.IsNotExist(err) {
		return "", err
	}
	raw := make([]byte, 32)
	_, _ = rand.Read(raw)
	s := hex.EncodeToString(raw)
	return s, os.WriteFile(file, []byte(s), 0o600)
}

// listed is a list that was given with commas.
func listed(s string) (all []string) {
	for _, one := range strings.Split(s, ",") {
		if one = strings.TrimSpace(one); one != "" {
			all = append(all, one)
		}
	}
	return all
}
