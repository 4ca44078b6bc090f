package localdb

import (
	"database/sql"
	"fmt"
	"path/filepath"
	"testing"

	_ "github.com/go-sql-driver/mysql"
)

// Servers that start at once do not clear away each other's temporary tables, and each prepares its own folder.
func TestServersStartBesideEachOther(t *testing.T) {
	root := t.TempDir()
	for i := range 3 {
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			t.Parallel()
			dir := filepath.Join(root, fmt.Sprint(i))
			s, err := Start(dir, Options{Forgetful: true})
			if err != nil {
				t.Fatal(err)
			}
			defer s.Stop()
			db, err := sql.Open("mysql", s.DSN(""))
			if err != nil {
				t.Fatal(err)
			}
			defer db.Close()
			var temp, zone string
			if err := db.QueryRow(`SELECT @@tmpdir, @@time_zone`).Scan(&temp, &zone); err != nil {
				t.Fatal(err)
			}
			if temp != dir+"-temp" || zone != "+00:00" {
				t.Errorf("temporary tables lie in %s, times are in %s", temp, zone)
			}
		})
	}
}

func TestAFolderThatCannotBeWrittenIsRefused(t *testing.T) {
	if s, err := Start("/proc/nowhere/db", Options{}); err == nil {
		s.Stop()
		t.Error("it started")
	}
}
