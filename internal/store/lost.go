package store

import (
	"database/sql"
	"database/sql/driver"
	"errors"
	"io"
	"net"

	"github.com/go-sql-driver/mysql"
)

// goes are the errors by which the database says that it goes, or takes nobody more: ER_SERVER_SHUTDOWN,
// ER_CON_COUNT_ERROR, ER_TOO_MANY_USER_CONNECTIONS, ER_CONNECTION_KILLED, ER_QUERY_INTERRUPTED.
var goes = map[uint16]bool{1053: true, 1040: true, 1203: true, 1927: true, 1317: true}

// Lost reports whether something failed because the database is not there: what was asked may be asked again.
func Lost(err error) bool {
	for _, gone := range []error{driver.ErrBadConn, mysql.ErrInvalidConn, sql.ErrConnDone, io.ErrUnexpectedEOF, io.EOF} {
		if errors.Is(err, gone) {
			return true
		}
	}
	var line *net.OpError
	return goes[errorNumber(err)] || errors.As(err, &line)
}
