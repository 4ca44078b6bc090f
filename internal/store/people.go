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

// AddSignInTry notes a failed sign-in.
func (q Queries) AddSignInTry(ctx context.Context, signIn, from string, at time.Time) error {
	_, err := q.do(ctx, `INSERT INTO sign_in_try (sign_in, from_address, tried_at) VALUES (?, ?, ?)`, signIn, from, at)
	return err
}

// SignInTries counts failed sign-ins since a time: for this name, and from this address.
func (q Queries) SignInTries(ctx context.Context, signIn, from string, since time.Time) (byName, byAddress int, err error) {
	var n struct {
		ByName    int `db:"by_name"`
		ByAddress int `db:"by_address"`
	}
	err = q.get(ctx, &n, `SELECT (SELECT COUNT(*) FROM sign_in_try WHERE sign_in = ? AND tried_at > ?) by_name,
		(SELECT COUNT(*) FROM sign_in_try WHERE from_address = ? AND tried_at > ?) by_address`, signIn, since, from, since)
	return n.ByName, n.ByAddress, err
}

// ClearSignInTries forgets the failed sign-ins of a name after a good one, and all older than a day.
func (q Queries) ClearSignInTries(ctx context.Context, signIn string, now time.Time) error {
	_, err := q.do(ctx, `DELETE FROM sign_in_try WHERE sign_in = ? OR tried_at < ?`, signIn, now.Add(-24*time.Hour))
	return err
}
