package store

import (
	"context"
	"time"
)

// Person is somebody of the studio.
type Person struct {
	ID           int64     `db:"id"`
	SignIn       string    `db:"sign_in"`
	Name         string    `db:"name"`
	Initials     string    `db:"initials"`
	Role         string    `db:"role"`
	PasswordHash string    `db:"password_hash"`
	CreatedAt    time.Time `db:"created_at"`
}

// AddPerson takes in a person.
func (q Queries) AddPerson(ctx context.Context, p Person) (int64, error) {
	return q.add(ctx, `INSERT INTO person (sign_in, name, initials, role, password_hash, created_at)
		VALUES (:sign_in, :name, :initials, :role, :password_hash, :created_at)`, p)
}

// PersonBySignIn finds a person by the name they sign in with.
func (q Queries) PersonBySignIn(ctx context.Context, signIn string) (p Person, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM person WHERE sign_in = ?`, signIn)
}

// Person finds a person by key.
func (q Queries) Person(ctx context.Context, id int64) (p Person, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM person WHERE id = ?`, id)
}

// People lists everybody.
func (q Queries) People(ctx context.Context) (ps []Person, err error) {
	return ps, q.all(ctx, &ps, `SELECT * FROM person ORDER BY id`)
}

// CountSignIn counts a try at signing in, under a name or from an address, and returns how many there were since a
// time, this one among them. Tries at the same moment are counted one after the other.
func (q Queries) CountSignIn(ctx context.Context, what string, now, since time.Time) (tries int, err error) {
	return tries, q.get(ctx, &tries, `INSERT INTO sign_in_count (what, tries, since) VALUES (?, 1, ?)
		ON DUPLICATE KEY UPDATE tries = IF(since < ?, 1, tries + 1), since = IF(since < ?, VALUES(since), since) RETURNING tries`, what, now, since, since)
}

// UncountSignIn takes good tries out of the count: all under the name, and one from the address; and forgets what was
// counted before a time.
func (q Queries) UncountSignIn(ctx context.Context, name, from string, since time.Time) error {
	if _, err := q.do(ctx, `DELETE FROM sign_in_count WHERE what = ? OR since < ?`, name, since); err != nil {
		return err
	}
	_, err := q.do(ctx, `UPDATE sign_in_count SET tries = GREATEST(tries - 1, 0) WHERE what = ?`, from)
	return err
}
