#!/usr/bin/env bash
# Runs everything: static checks, Go tests, browser tests. The last lines are the counts.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS=-buildvcs=false
make -s web/node_modules e2e/node_modules internal/httpd/dist/index.html bin/mendry
echo "== static checks"
test -z "$(gofmt -l cmd internal api)" || { gofmt -l cmd internal api; exit 1; }
go vet ./...
go tool staticcheck ./cmd/... ./internal/core/... ./internal/desk/... ./internal/store/... ./internal/host/... ./internal/post/... ./internal/standin/... ./internal/demo/... ./internal/localdb/... ./internal/httpd/...
(cd web && npm run --silent check && npx eslint . && npx prettier --check . >/dev/null)
(cd e2e && npx tsc --noEmit)
echo "== go test"
go test ./...
echo "== browser tests"
(cd e2e && npx playwright test)
