// Package internal_test holds the house's own rules.
package internal_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// ranks is how high each room stands: imports go downwards only, httpd → desk → {release, work} → {store, host, post,
// shots} → core.
var ranks = map[string]int{
	"core": 0, "foreign": 0, "tries": 0,
	"store": 1, "host": 1, "post": 1, "localdb": 1, "standin": 1, "shots": 1,
	"release": 2, "work": 2, "watch": 2,
	"desk":  3,
	"httpd": 4, "demo": 4,
}

// rank is how high a package stands; -1 in a room that nobody has given a place.
func rank(pkg string) int {
	room, _, _ := strings.Cut(strings.TrimPrefix(pkg, "mendry/internal/"), "/")
	if r, ok := ranks[room]; ok {
		return r
	}
	return -1
}

// importsOf is what each of some packages imports.
func importsOf(t *testing.T, packages string) map[string][]string {
	t.Helper()
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, packages).Output()
	if err != nil {
		t.Fatal(err)
	}
	of := map[string][]string{}
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		of[words[0]] = words[1:]
	}
	return of
}

func TestImportsGoDownwardsOnly(t *testing.T) {
	for pkg, imports := range importsOf(t, "./...") {
		if pkg == "mendry/internal" {
			continue // this test
		}
		if rank(pkg) < 0 {
			t.Errorf("%s is a room without a place: say in ranks how high it stands", pkg)
		}
		for _, imp := range imports {
			if !strings.HasPrefix(imp, "mendry/internal/") || rank(pkg) == 0 && rank(imp) == 0 {
				continue
			}
			below := rank(imp) < rank(pkg)
			core := strings.HasPrefix(pkg, "mendry/internal/core/")
			own := strings.HasPrefix(imp, pkg+"/") || strings.HasPrefix(pkg, imp+"/")
			if core || !below && !own {
				t.Errorf("%s imports %s", pkg, imp)
			}
		}
	}
}

func TestTheCoreKnowsNoServerDatabaseNetworkOrFiles(t *testing.T) {
	forbidden := []string{"database/sql", "net/http", "os", "os/exec", "net", "github.com/gin-gonic/gin", "io/fs", "log", "log/slog"}
	for pkg, imports := range importsOf(t, "./core/...") {
		for _, imp := range imports {
			for _, f := range forbidden {
				if imp == f {
					t.Errorf("%s imports %s", pkg, imp)
				}
			}
		}
	}
}

// The generated halves of the interface must be what api/openapi.yaml gives now.
func TestGeneratedCodeIsFresh(t *testing.T) {
	for _, g := range []struct{ dir, config, spec, file string }{
		{"../api", "models.yaml", "openapi.yaml", "models.gen.go"},
		{"httpd", "server.yaml", "../../api/openapi.yaml", "server.gen.go"},
	} {
		out, config := filepath.Join(t.TempDir(), g.file), filepath.Join(t.TempDir(), g.config)
		settings, err := os.ReadFile(filepath.Join(g.dir, g.config))
		if err != nil {
			t.Fatal(err)
		}
		settings = bytes.Replace(settings, []byte("output: "+g.file), []byte("output: "+out), 1)
		if err := os.WriteFile(config, settings, 0o600); err != nil {
			t.Fatal(err)
		}
		c := exec.Command("go", "tool", "oapi-codegen", "-config", config, g.spec)
		c.Dir = g.dir
		if msg, err := c.CombinedOutput(); err != nil {
			t.Fatalf("%v\n%s", err, msg)
		}
		now, errNow := os.ReadFile(out)
		kept, errKept := os.ReadFile(filepath.Join(g.dir, g.file))
		if errNow != nil || errKept != nil || !bytes.Equal(now, kept) {
			t.Errorf("%s is stale: run make generate", g.file)
		}
	}
}
