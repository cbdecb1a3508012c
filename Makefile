# Two commands do everything on a fresh machine: make demo, and make test.

BIN := bin/jarvo
GO := go
WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts

.PHONY: build demo test unit long bench shots lint lint-go lint-web types drift api tools browser clean

build: $(BIN)

$(BIN): web/dist/index.html $(shell find cmd internal web -name '*.go' -o -name '*.sql' 2>/dev/null | grep -v node_modules) go.mod go.sum
	CGO_ENABLED=1 $(GO) build -trimpath -o $@ ./cmd/jarvo

web/node_modules: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

web/dist/index.html: web/node_modules $(WEB)
	cd web && npm run --silent build

# The description of the HTTP interface, and the types the front end has from it.
api: web/node_modules
	$(GO) run ./cmd/jarvo openapi > docs/openapi.json
	cd web && npm run --silent api

demo: build
	$(BIN) demo

browser:
	sh scripts/browser.sh

lint: lint-go lint-web

lint-go:
	test -z "$$(gofmt -l cmd internal e2e web/*.go)"
	$(GO) tool -modfile=tools/go.mod golangci-lint run

lint-web: web/node_modules
	cd web && npm run --silent lint

types: web/node_modules
	cd web && npm run --silent types

# Generated files agree with what they are generated from.
drift: web/node_modules
	sh scripts/drift.sh

# The front end's own tests.
unit: web/node_modules
	cd web && npm run --silent test

test: web/dist/index.html browser
	$(MAKE) -j2 lint-go lint-web types drift unit
	$(GO) test -timeout 60m ./...

# What tests have a short form of: 200 kills, 50,000 requests, files that are made to hurt, books that are tampered with.
long: web/dist/index.html
	sh scripts/kills.sh
	sh scripts/requests.sh
	sh scripts/crafted.sh
	sh scripts/tampered.sh

bench: web/dist/index.html
	sh scripts/bench.sh

shots: web/dist/index.html browser
	$(GO) run ./e2e/shots

clean:
	rm -rf bin web/dist/assets web/dist/index.html
