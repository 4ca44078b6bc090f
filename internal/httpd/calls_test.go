package httpd

import (
	"encoding/json"
	"maps"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"mendry/internal/core/act"

	"github.com/getkin/kin-openapi/openapi3"
)

// open are the calls that need no session: signing in, and the client's page.
var open = regexp.MustCompile(`^(POST /api/session|GET /api/people|(GET|POST|PUT) /api/p(roofs)?/.*)$`)

// everyCall goes through every call that the interface describes, with 1 for every number in its path.
func everyCall(t *testing.T, yield func(method, path string, op *openapi3.Operation)) {
	t.Helper()
	spec, err := openapi3.NewLoader().LoadFromFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	n := 0
	for _, path := range spec.Paths.InMatchingOrder() {
		for method, op := range spec.Paths.Value(path).Operations() {
			if op.Security != nil && len(*op.Security) == 0 {
				continue
			}
			at := "/api" + regexp.MustCompile(`\{[a-z_]+\}`).ReplaceAllString(path, "1")
			if !open.MatchString(method + " " + at) {
				yield(method, at, op)
				n++
			}
		}
	}
	if n < 30 {
		t.Errorf("only %d calls were tried", n)
	}
}

func TestNoCallIsAnsweredWithoutSigningIn(t *testing.T) {
	c, _, _ := serve(t)
	everyCall(t, func(method, path string, _ *openapi3.Operation) {
		if status, _, _ := c.call(method, path, "{}"); status != http.StatusUnauthorized {
			t.Errorf("%s %s: %d", method, path, status)
		}
	})
}

func TestNoCallChangesSomethingWithoutTheToken(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	c.token = "wrong"
	everyCall(t, func(method, path string, _ *openapi3.Operation) {
		if method == http.MethodGet {
			return
		}
		if status, _, _ := c.call(method, path, "{}"); status != http.StatusForbidden {
			t.Errorf("%s %s: %d", method, path, status)
		}
	})
}

// What is asked for is not there, or makes no sense: every call says so in words, and none shows what went wrong
// inside.
func TestEveryCallSaysInWordsWhatItCannotDo(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	everyCall(t, func(method, path string, op *openapi3.Operation) {
		if method == http.MethodDelete && path == "/api/session" {
			return
		}
		for _, body := range []string{"", "{", `{"a":1}`, `[]`, `{"words":"\u0000"}`} {
			status, v, r := c.call(method, path, body)
			switch {
			case status >= 500:
				t.Errorf("%s %s %q: %d %v", method, path, body, status, v)
			case status >= 400:
				say, _ := v["say"].(string)
				if say == "" || strings.Contains(say, "sql") || strings.Contains(say, ".go") || strings.Contains(say, "Error ") || r.Header.Get("Content-Type") == "text/plain" {
					t.Errorf("%s %s %q: %d says %q", method, path, body, status, say)
				}
			}
		}
	})
}

// What the core can do to a page is what the interface's description offers, act by act, with the same fields.
func TestEveryActIsDescribed(t *testing.T) {
	spec, err := openapi3.NewLoader().LoadFromFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	described := spec.Components.Schemas["Act"].Value.Discriminator.Mapping
	if len(described) != len(act.Names()) {
		t.Errorf("%d acts are described, %d are known", len(described), len(act.Names()))
	}
	for _, name := range act.Names() {
		schema := spec.Components.Schemas[strings.TrimPrefix(described[name].Ref, "#/components/schemas/")]
		if schema == nil {
			t.Errorf("%s is not described", name)
			continue
		}
		fields := map[string]any{"do": name}
		for _, f := range schema.Value.Required {
			if f != "do" {
				fields[f] = nil
			}
		}
		whole, _ := json.Marshal(fields)
		if _, err := act.Read(whole); err != nil {
			t.Errorf("%s with all that it has to have: %v", name, err)
		}
		for f := range schema.Value.Properties {
			_, required := fields[f]
			rest := maps.Clone(fields)
			delete(rest, f)
			without, _ := json.Marshal(rest)
			if _, err := act.Read(without); (err != nil) != required {
				t.Errorf("%s without its %s: %v, described as required: %v", name, f, err, required)
			}
			rest[f] = nil
			with, _ := json.Marshal(rest)
			if _, err := act.Read(with); err != nil && f != "do" {
				t.Errorf("%s with its %s: %v", name, f, err)
			}
		}
	}
}
