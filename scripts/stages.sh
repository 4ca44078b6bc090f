#!/usr/bin/env bash
# The stages of a test run, one after the other: what is built, static checks, Go's tests, the browser's. One that falls is
# noted in $MENDRY_LOGS/fell, and the next one runs all the same, so that one run tells all that is wrong.
set -uo pipefail
export GOFLAGS=-buildvcs=false
logs=${MENDRY_LOGS:?scripts/test.sh says where the logs go}
packages=$(go list ./api ./cmd/... ./internal/...)

trap 'kill $(jobs -p) 2>/dev/null' EXIT

# stage WHAT COMMAND…: runs it, keeps what it says, and how long it took.
stage() {
  local what=$1 began=$SECONDS code
  shift
  echo "== $what"
  "$@" 2>&1 | tee "$logs/$what.log"
  code=${PIPESTATUS[0]}
  echo "$what $((SECONDS - began))" >>"$logs/took"
  [ "$code" = 0 ] || echo "$what" >>"$logs/fell"
  return "$code"
}

build() { make -s web/node_modules e2e/node_modules internal/httpd/dist/index.html bin/mendry; }

checks() (
  set -e
  unformatted=$(gofmt -l cmd internal api)
  [ -z "$unformatted" ] || { echo "gofmt: $unformatted"; exit 1; }
  go vet $packages
  go tool staticcheck $packages
)

interface() (
  set -e
  cd web
  npm run --silent check
  npx eslint .
  npx prettier --check . >/dev/null || { echo "prettier: run npm run format in web"; exit 1; }
  npm run --silent test -- --reporter=dot
  node --test ../scripts/
  npx openapi-typescript ../api/openapi.yaml -o "$logs/schema.d.ts" >/dev/null
  cmp "$logs/schema.d.ts" src/api/schema.d.ts || { echo "src/api/schema.d.ts is stale: run make generate"; exit 1; }
  cd ../e2e && npx tsc --noEmit
)

# Many of Go's tests wait more than they work: more packages run at a time than there are processors, the longest from
# the start. Where no limit is said a package has ten minutes, which a busy machine may need.
gotests() {
  local longest='^mendry/internal/(host|desk)$'
  go tool gotestsum --format pkgname --hide-summary all --jsonfile "$logs/go.json" -- -timeout "${MENDRY_LONG:+3}30m" -p 3 -parallel 4 \
    $(grep -E "$longest" <<<"$packages") $(grep -vE "$longest" <<<"$packages")
}

# Where everything is tried, what works side by side is looked at by the race detector, too (in the short forms).
races() (
  unset MENDRY_LONG
  go test -race -timeout 90m -p 1 ./internal/desk ./internal/work ./internal/release ./internal/store ./internal/httpd ./internal/host
)

browser() { (cd e2e && MENDRY_SAID=$logs/browser.json npx playwright test --output "$logs/browser"); }

stage build build || exit 1
stage interface interface >"$logs/interface.said" & # beside Go's own checks: each keeps one processor busy
stage checks checks
wait $!
cat "$logs/interface.said"
stage go gotests
stage browser browser
[ -z "${MENDRY_LONG:-}" ] || stage races races
[ ! -e "$logs/fell" ]
