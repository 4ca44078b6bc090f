#!/usr/bin/env bash
# Runs everything: static checks, Go tests, browser tests. The last lines are what go test and the browser tests said.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS=-buildvcs=false
said=$(mktemp -d)
trap 'rm -rf "$said"' EXIT

make -s web/node_modules e2e/node_modules internal/httpd/dist/index.html bin/mendry
echo "== static checks"
unformatted=$(gofmt -l cmd internal api)
[ -z "$unformatted" ] || { echo "gofmt: $unformatted"; exit 1; }
packages="./api ./cmd/... ./internal/..."
go vet $packages
go tool staticcheck $packages
(
  cd web
  npm run --silent check
  npx eslint .
  npx prettier --check . >/dev/null || { echo "prettier: run npm run format in web"; exit 1; }
  npm run --silent test -- --reporter=dot
  npx openapi-typescript ../api/openapi.yaml -o "$said/schema.d.ts" >/dev/null
  cmp "$said/schema.d.ts" src/api/schema.d.ts || { echo "src/api/schema.d.ts is stale: run make generate"; exit 1; }
)
(cd e2e && npx tsc --noEmit)
echo "== go test"
go test $packages | tee "$said/go"
echo "== browser tests"
(cd e2e && npx playwright test) | tee "$said/browser"
echo "== all of it"
grep -v 'no test files' "$said/go"
grep -E '^ +[0-9]+ (passed|failed|flaky|skipped)' "$said/browser"
