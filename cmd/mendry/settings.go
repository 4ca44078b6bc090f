package main

import (
	"crypto/rand"
	"encoding/hex"
	"errors"
	"flag"
	"io"
	"io/fs"
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
	{"secret-file", "MENDRY_SECRET_FILE", "", "the file of the secret that seals the hosts' passwords; made where there is none"},
	{"secret", "MENDRY_SECRET", "", "the secret itself, 64 hexadecimal digits, in the place of a file"},
	{"secret-changed", "MENDRY_SECRET_CHANGED", "no", "yes: start though the hosts' passwords were sealed with another secret; each is entered again"},
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

// secretOf is the secret that is said, or that of the file that is said, which is made where there is none.
func secretOf(v values, log *slog.Logger) ([]byte, error) {
	said, file := v.get("secret"), v.get("secret-file")
	if said == "" && file == "" {
		return nil, fail(refused, "say where the secret lies that seals the hosts' passwords: --secret-file /var/lib/mendry/secret makes it there once; keep it apart from the backups")
	}
	if said == "" {
		b, err := os.ReadFile(file)
		if errors.Is(err, fs.ErrNotExist) {
			if b, err = makeSecret(file); err == nil {
				log.Info("made the secret that seals the hosts' passwords: keep a copy of it, apart from the backups", "file", file)
			}
		}
		if err != nil {
			return nil, fail(refused, "the secret's file %s can neither be read nor made: %v", file, err)
		}
		if i, err := os.Stat(file); err == nil && i.Mode().Perm()&0o077 != 0 {
			log.Warn("others on this machine may read the secret; chmod 600 keeps them off", "file", file)
		}
		said = strings.TrimSpace(string(b))
	}
	secret, err := hex.DecodeString(said)
	if err != nil || len(secret) != secretSize {
		return nil, fail(refused, "the secret has to be %d hexadecimal digits; --secret-file with the name of a file that is not there makes one", 2*secretSize)
	}
	return secret, nil
}

const secretSize = 32 // bytes: a key of AES-256

// makeSecret writes a secret into a new file that only its owner may read. Of several that start at once one makes it.
func makeSecret(file string) ([]byte, error) {
	raw := make([]byte, secretSize)
	_, _ = rand.Read(raw) // never fails (crypto/rand)
	b := []byte(hex.EncodeToString(raw) + "\n")
	beside, err := os.CreateTemp(filepath.Dir(file), ".secret-*") // 0600
	if err != nil {
		return nil, err
	}
	defer os.Remove(beside.Name())
	_, err = beside.Write(b)
	if err = errors.Join(err, beside.Sync(), beside.Close()); err != nil {
		return nil, err
	}
	if err := os.Link(beside.Name(), file); err != nil && !errors.Is(err, fs.ErrExist) {
		return nil, err
	}
	return os.ReadFile(file)
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
