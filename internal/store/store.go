// Package store keeps everything in MariaDB. One file of queries a table family; a Queries runs them on the pool or
// inside a transaction.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"mendry/internal/core/refusal"

	"github.com/go-sql-driver/mysql"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNone is returned where a row that was asked for by its key does not exist.
var ErrNone error = refusal.New(refusal.Nothing, "There is no such thing, or no longer. Go back and look again.")

// Queries are the questions that the store answers.
type Queries struct {
	x     sqlx.ExtContext
	wrote *atomic.Uint64 // see Store.Wrote; nil in a transaction, which counts when it is committed
}

// Store is a connection to the database.
type Store struct {
	Queries
	db *sqlx.DB
}

// Open connects to dsn and brings the tables up to date.
func Open(ctx context.Context, dsn string) (*Store, error) {
	db, err := sqlx.Open("mysql", dsn)
	if err != nil {
		return nil, fmt.Errorf("open the database: %w", err)
	}
	db.SetMaxOpenConns(24)
	db.SetMaxIdleConns(24)
	db.SetConnMaxLifetime(10 * time.Minute)
	if err := db.PingContext(ctx); err != nil {
		return nil, errors.Join(fmt.Errorf("reach the database: %w", err), db.Close())
	}
	if err := migrate(ctx, db.DB); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return &Store{Queries: Queries{db, new(atomic.Uint64)}, db: db}, nil
}

func migrate(ctx context.Context, db *sql.DB) error {
	goose.SetBaseFS(migrations)
	goose.SetLogger(goose.NopLogger())
	if err := goose.SetDialect("mysql"); err != nil {
		return err
	}
	// Several servers may come up on one database at once: one of them does it, the others wait.
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	var got sql.NullInt64
	switch err := conn.QueryRowContext(ctx, `SELECT GET_LOCK(CONCAT(DATABASE(), '.migrations'), 600)`).Scan(&got); {
	case err != nil:
		return fmt.Errorf("bring the tables up to date: ask whether another server is at it: %w", err)
	case !got.Valid:
		return errors.New("bring the tables up to date: the database gave up waiting for another server")
	case got.Int64 != 1:
		return errors.New("bring the tables up to date: another server has been at it for ten minutes")
	}
	defer func() {
		_, _ = conn.ExecContext(context.WithoutCancel(ctx), `DO RELEASE_LOCK(CONCAT(DATABASE(), '.migrations'))`)
	}()
	if err := goose.UpContext(ctx, db, "migrations"); err != nil {
		return fmt.Errorf("bring the tables up to date: %w", err)
	}
	return nil
}

// DB is the pool, for what keeps tables of its own (sessions).
func (s *Store) DB() *sql.DB { return s.db.DB }

// Close closes the pool.
func (s *Store) Close() error { return s.db.Close() }

// Tx runs f in a transaction in which every statement reads what is committed by then, again where it met another one.
// f holds no network call and takes no second connection.
func (s *Store) Tx(ctx context.Context, f func(Queries) error) error {
	defer s.count()
	for try := 0; ; try++ {
		if err := s.once(ctx, f); try == mostTries || !met(err) {
			return err
		}
	}
}

// met reports whether a transaction ended because it met another one.
func met(err error) bool { return thrownOut(err) || errorNumber(err) == duplicate }

// thrownOut reports whether the database undid what was asked for, since it met something else.
func thrownOut(err error) bool { return retried[errorNumber(err)] }

// Unfit reports whether the database refused values that fit no column: too long, or no characters (SQLSTATE class 22, and
// two of MariaDB's that have none).
func Unfit(err error) bool {
	var my *mysql.MySQLError
	if !errors.As(err, &my) {
		return false
	}
	const wrongValue, wrongCharacters = 1366, 1300 // ER_TRUNCATED_WRONG_VALUE_FOR_FIELD, ER_INVALID_CHARACTER_STRING
	return string(my.SQLState[:2]) == "22" || my.Number == wrongValue || my.Number == wrongCharacters
}

func errorNumber(err error) uint16 {
	var my *mysql.MySQLError
	if errors.As(err, &my) {
		return my.Number
	}
	return 0
}

// mostTries is how often a transaction is run again. A row that is really there twice is found out after so many.
const mostTries = 5

// duplicate is the error of a key that is there already (ER_DUP_ENTRY).
const duplicate = 1062

// retried are the errors after which a transaction is worth another try: deadlock (ER_LOCK_DEADLOCK), a lock that took
// too long (ER_LOCK_WAIT_TIMEOUT), a record that changed since it was read (ER_CHECKREAD).
var retried = map[uint16]bool{1213: true, 1205: true, 1020: true}

func (s *Store) once(ctx context.Context, f func(Queries) error) error {
	tx, err := s.db.BeginTxx(ctx, &sql.TxOptions{Isolation: sql.LevelReadCommitted})
	if err != nil {
		return fmt.Errorf("begin a transaction: %w", lost(err))
	}
	if err := f(Queries{x: tx}); err != nil {
		return errors.Join(err, tx.Rollback())
	}
	return lost(tx.Commit())
}

// Wrote counts what this process has written. As long as it stays, so does what is read, but for other processes.
func (s *Store) Wrote() uint64 { return s.wrote.Load() }

// quiet are queries whose writes do not count: what they write is on no list.
func (q Queries) quiet() Queries { return Queries{x: q.x} }

func (q Queries) count() {
	if q.wrote != nil {
		q.wrote.Add(1)
	}
}

// At is a time as the database keeps it: UTC, microseconds.
func At(t time.Time) time.Time { return t.UTC().Truncate(time.Microsecond) }

func (q Queries) get(ctx context.Context, dest any, query string, args ...any) error {
	err := sqlx.GetContext(ctx, q.x, dest, query, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	}
	return lost(err)
}

func (q Queries) all(ctx context.Context, dest any, query string, args ...any) error {
	return lost(sqlx.SelectContext(ctx, q.x, dest, query, args...))
}

// do runs a statement and returns how many rows it met.
func (q Queries) do(ctx context.Context, query string, args ...any) (int64, error) {
	defer q.count()
	r, err := q.run(func() (sql.Result, error) { return q.x.ExecContext(ctx, query, args...) })
	if err != nil {
		return 0, err
	}
	return r.RowsAffected()
}

// run runs a statement that stands outside of any transaction again where it met another one: nothing of it was done.
// In a transaction all of it was thrown away, and begins anew in Store.Tx.
func (q Queries) run(do func() (sql.Result, error)) (sql.Result, error) {
	_, inside := q.x.(*sqlx.Tx)
	for try := 0; ; try++ {
		if r, err := do(); inside || try == mostTries || !thrownOut(err) {
			return r, lost(err)
		}
	}
}

// one runs a statement that must meet a row.
func (q Queries) one(ctx context.Context, query string, args ...any) error {
	n, err := q.do(ctx, query, args...)
	if err == nil && n == 0 {
		return ErrNone
	}
	return err
}

// add runs a named INSERT and returns the new key.
func (q Queries) add(ctx context.Context, query string, row any) (int64, error) {
	defer q.count()
	r, err := q.run(func() (sql.Result, error) { return sqlx.NamedExecContext(ctx, q.x, query, row) })
	if err != nil {
		return 0, err
	}
	return r.LastInsertId()
}
