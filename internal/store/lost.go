package store

import (
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"

	"github.com/go-sql-driver/mysql"
)

// goes are the errors by which the database says that it goes, or takes nobody more: ER_SERVER_SHUTDOWN,
// ER_CON_COUNT_ERROR, ER_TOO_MANY_USER_CONNECTIONS, ER_CONNECTION_KILLED, ER_QUERY_INTERRUPTED.
var goes = map[uint16]bool{1053: true, 1040: true, 1203: true, 1927: true, 1317: true}

// ErrLost is that something failed because the database is not there: what was asked may be asked again.
var ErrLost = errors.New("the database is not there")

// lost says of an error of the database that it is not there, where that is what it means. Elsewhere, as in what a
// client sends, the same errors mean something else.
func lost(err error) error {
	var line *net.OpError
	gone := goes[errorNumber(err)] || errors.As(err, &line)
	for _, one := range []error{driver.ErrBadConn, mysql.ErrInvalidConn, sql.ErrConnDone, io.ErrUnexpectedEOF, io.EOF} {
		gone = gone || errors.Is(err, one)
	}
	if gone {
		return fmt.Errorf("%w: %w", ErrLost, err)
	}
	return err
}
