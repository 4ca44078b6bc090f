package store

import (
	"context"
	"database/sql"
	"testing"

	"github.com/pressly/goose/v3"

	"mendry/internal/core/find"
	"mendry/internal/localdb/dbtest"
)

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
			VALUES (1, 1, 'L', 'L', '#24547a', '', '', '', '', 'UTC', 'ready', '', NOW(6))`,
		`INSERT INTO page (id, site_id, path, address, title, description, hash, etag, media, size, encoding, locked, words, seen_at)
			VALUES (1, 1, 'a.html', '/a.html', 'A', '', '', '', '', 0, '', '', 'Fares from £6.90', NOW(6))`,
		`INSERT INTO request (id, site_id, subject, letter, kind, from_name, state, received_at, created_by) VALUES (201, 1, 'x', 'x', 'mail', 'M', 'new', NOW(6), 1)`,
		`INSERT INTO page_change (id, request_id, page_id, kind, part_name, op, before_html, after_html, before_words, after_words, say, state, made_by, made_at, changed_at)
			VALUES (1, 201, 1, 'words', 'A', '[]', '', '', 'a', 'b', 'a becomes b', 'kept', 1, NOW(6), NOW(6))`,
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
	for _, want := range []int{1, 0} { // a page that was there before is made findable, once
		if n, err := s.MakeFindable(ctx); err != nil || n != want {
			t.Errorf("made %d findable, want %d: %v", n, want, err)
		}
	}
	for _, words := range []string{"fares", "GBP 6.90", "/a.html"} {
		if ps, err := s.FindPages(ctx, 0, find.Read(words), nil, 5); err != nil || len(ps) != 1 {
			t.Errorf("%q: %d pages, %v", words, len(ps), err)
		}
	}
}
