package store

import (
	"context"
	"database/sql"
	"testing"

	"github.com/pressly/goose/v3"

	"mendry/internal/core/find"
	"mendry/internal/localdb/dbtest"
)

// abc is the SHA-256 of "abc": FIPS 180-4, example of the standard.
const abc = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"

// Every migration is tried from the one before it, with data in the tables, and not only from empty.
func TestMigrationsKeepWhatIsThere(t *testing.T) {
	ctx := context.Background()
	dsn := dbtest.DSN(t)
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	goose.SetBaseFS(migrations)
	goose.SetLogger(goose.NopLogger())
	if err := goose.SetDialect("mysql"); err != nil {
		t.Fatal(err)
	}
	if err := goose.UpToContext(ctx, db, "migrations", 1); err != nil {
		t.Fatal(err)
	}
	for _, statement := range []string{
		`INSERT INTO client (id, name, contact_name, contact_mail, created_at) VALUES (1, 'L', 'M', 'm@l.example', NOW(6))`,
		`INSERT INTO person (id, sign_in, name, initials, role, password_hash, created_at) VALUES (1, 'ines', 'Ines', 'I', 'lead', '', NOW(6))`,
		`INSERT INTO site (id, client_id, name, initials, colour, host_url, public_url, host_user, host_secret, zone, state, said, created_at)
			VALUES (1, 1, 'L', 'L', '#24547a', 'https://dav.l.example/', '', 'keeper', '', 'UTC', 'ready', '', NOW(6))`,
		`INSERT INTO page (id, site_id, path, address, title, description, bytes, hash, etag, media, size, encoding, locked, words, seen_at)
			VALUES (1, 1, 'a.html', '/a.html', 'A', '', 'abc', SHA2('abc', 256), '', '', 0, '', '', 'Fares from £6.90', NOW(6))`,
		`INSERT INTO request (id, site_id, subject, letter, kind, from_name, state, received_at, created_by) VALUES (201, 1, 'x', 'x', 'mail', 'M', 'new', NOW(6), 1)`,
		`INSERT INTO page_change (id, request_id, page_id, kind, part_name, op, before_html, after_html, before_words, after_words, say, state, made_by, made_at, changed_at)
			VALUES (1, 201, 1, 'words', 'A', '[]', '', '', 'a', 'b', 'a becomes b', 'kept', 1, NOW(6), NOW(6))`,
		`INSERT INTO site_release (id, request_id, site_id, state, said, made_by, made_at, claimed_by) VALUES (7, 201, 1, 'running', '', 1, NOW(6), 'a dead process')`,
		`INSERT INTO mail_out (id, to_address, subject, body, state, said, made_at, next_try_at) VALUES (9, 'm@l.example', 'x', 'x', 'waiting', '', NOW(6), NOW(6))`,
	} {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			t.Fatalf("%v: %s", err, statement)
		}
	}
	s, err := Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	c, err := s.Change(ctx, 1)
	if err != nil || c.Say != "a becomes b" || c.LeftWhy != "" {
		t.Errorf("%+v %v", c, err)
	}
	if err := s.SetLeftWhy(ctx, 1, "on purpose"); err != nil {
		t.Fatal(err)
	}
	if c, err = s.Change(ctx, 1); err != nil || c.LeftWhy != "on purpose" {
		t.Errorf("%+v %v", c, err)
	}
	if c.PageID != 1 || c.State != "kept" {
		t.Errorf("the change is %s on page %d", c.State, c.PageID)
	}
	if h, err := s.SiteHost(ctx, 1, "live"); err != nil || h.URL != "https://dav.l.example/" || h.User != "keeper" || h.Kind != "webdav" {
		t.Errorf("the host: %+v %v", h, err)
	}
	if b, err := s.Bytes(ctx, abc); err != nil || string(b) != "abc" {
		t.Errorf("the page's bytes: %q %v", b, err)
	}
	for _, job := range [][2]string{{"release", "7"}, {"mail", "9"}} {
		if _, err := s.JobOf(ctx, job[0], job[1]); err != nil {
			t.Errorf("no job goes on with %v: %v", job, err)
		}
	}
	ps, err := s.Unread(ctx) // a page that was there before is read anew, once
	if err != nil || len(ps) != 1 {
		t.Fatalf("%d pages are to be read anew, %v", len(ps), err)
	}
	ps[0].Words = "Fares from £6.90"
	if err := s.KeepPage(ctx, ps[0]); err != nil {
		t.Fatal(err)
	}
	if ps, err = s.Unread(ctx); err != nil || len(ps) != 0 {
		t.Errorf("%d pages are still to be read, %v", len(ps), err)
	}
	for _, words := range []string{"fares", "GBP 6.90", "/a.html"} {
		if ps, err := s.FindPages(ctx, 0, find.Read(words), nil, 5); err != nil || len(ps) != 1 {
			t.Errorf("%q: %d pages, %v", words, len(ps), err)
		}
	}
}
