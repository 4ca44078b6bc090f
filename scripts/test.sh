#!/usr/bin/env bash
# Runs everything: static checks, Go tests, browser tests. The last lines are what go test and the browser tests said.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS=-buildvcs=false
said=$(mktemp -d)

trap 'rm -rf "$said"; kill ${jobs[@]+"${jobs[@]}"} 2>/dev/null || true' EXIT
jobs=()

make -s web/node_modules e2e/node_modules internal/httpd/dist/index.html bin/mendry
echo "== static checks"
unformatted=$(gofmt -l cmd internal api)
[ -z "$unformatted" ] || { echo "gofmt: $unformatted"; exit 1; }
packages="./api ./cmd/... ./internal/..."
( # those of the front end, beside Go's own
  set -e
  cd web
  npm run --silent check
  npx eslint .
  npx prettier --check . >/dev/null || { echo "prettier: run npm run format in web"; exit 1; }
  npm run --silent test -- --reporter=dot
  npx openapi-typescript ../api/openapi.yaml -o "$said/schema.d.ts" >/dev/null
  cmp "$said/schema.d.ts" src/api/schema.d.ts || { echo "src/api/schema.d.ts is stale: run make generate"; exit 1; }
  cd ../e2e && npx tsc --noEmit
) >"$said/web" 2>&1 &
web=$!
jobs+=("$web")
go vet $packages
go tool staticcheck $packages
echo "== go test"
# Many of them wait more than they work: more of them run at a time than there are processors, the longest from the start.
longest='^mendry/internal/(host|desk)$'
all=$(go list $packages)
go test -timeout 20m -p 5 -parallel 4 $(grep -E "$longest" <<<"$all") $(grep -vE "$longest" <<<"$all") | tee "$said/go"
wait "$web" || { cat "$said/web"; exit 1; }
cat "$said/web"
echo "== browser tests"
failed=0
(cd e2e && npx playwright test) | tee "$said/browser" || failed=1
echo "== all of it"
grep -v 'no test files' "$said/go"
# A fault is named here again, with where it fell: the end of a long run may be all that is kept of it.
grep -E '^ +([0-9]+\) |Error: |Test timeout|Locator: |Expected|Received|> [0-9]+ \|)' "$said/browser" | cut -c1-200 || true
sed -n -E '/^ +[0-9]+ (failed|flaky)$/,$p' "$said/browser" | grep -E '^ ' || grep -E '^ +[0-9]+ passed' "$said/browser"
exit "$failed"
