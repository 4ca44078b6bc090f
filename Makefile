# make demo and make test do everything on a bare Debian machine with Go, Node and root.
SHELL := /bin/bash
WEB := $(shell find web/src web/public web/index.html web/client.html web/vite.config.ts -type f)

.PHONY: demo test build system check generate

demo: system bin/mendry
	./bin/mendry demo $(ARGS)

test: system
	./scripts/test.sh

# Everything that a test can try, and the race detector: hours. Before a release of the heart is called done.
test-long: system
	MENDRY_LONG=yes MENDRY_LIMIT=$${MENDRY_LIMIT:-28800} ./scripts/test.sh
.PHONY: test-long

build: bin/mendry

# What has to be on the machine: MariaDB's programs and a browser for the tests, from Debian's packages.
system:
	@./scripts/system.sh

web/node_modules: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	@touch web/node_modules

e2e/node_modules: e2e/package-lock.json
	cd e2e && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund
	@touch e2e/node_modules

internal/httpd/dist/index.html: web/node_modules $(WEB)
	cd web && npx vite build --logLevel warn
	@touch internal/httpd/dist/index.html

bin/mendry: internal/httpd/dist/index.html $(shell find cmd internal api -name '*.go' -o -name '*.sql' -o -name 'bench.js' -o -path 'internal/demo/pages/*' -type f) go.mod
	go build -o bin/mendry ./cmd/mendry

# The server on the demo's data, built anew by hand; the interface from Vite at :5173, reloaded as it is edited.
dev: system bin/mendry
	./bin/mendry demo $(ARGS) & trap "kill %1" EXIT; cd web && npx vite
.PHONY: dev

generate:
	go generate ./...
	cd web && npm run api

# Pictures of the main views for docs/screenshots, from the demo's data.
screenshots: system bin/mendry e2e/node_modules
	cd e2e && npx playwright test -c screens.config.ts
.PHONY: screenshots
