# Braxel: `make demo` runs it on demo data, `make test` passes all tests. Both install what they need.
SHELL := /bin/bash
.DELETE_ON_ERROR:
BIN := bin/braxel
GO_FILES := $(shell find cmd internal web/embed.go -name '*.go' -o -name '*.sql' -o -path '*/internal/*.json' -o -path '*/internal/*.yaml') go.mod go.sum
WEB_FILES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/tsconfig.json $(wildcard docs/guide/*.md)
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

.PHONY: demo test build dev lint shots bench api docs browser dist clean

demo: build
	$(BIN) demo

build: $(BIN)

$(BIN): $(GO_FILES) web/dist/index.html
	go build -trimpath -ldflags='-s -w' -o $@ ./cmd/braxel

web/node_modules/.package-lock.json: web/package-lock.json
	cd web && npm ci --no-fund --no-audit --loglevel=error && touch node_modules/.package-lock.json

# The API's description comes from the Go types, the front end's types from the description: a drift fails the build.
web/src/api/schema.gen.ts: $(GO_FILES) web/node_modules/.package-lock.json
	mkdir -p web/dist && touch web/dist/.gitkeep
	go run ./cmd/braxel openapi > web/openapi.json
	go run ./cmd/braxel openapi --rulebook > web/src/api/rulebook.gen.json
	cd web && npm run --silent api
	touch $@

api: web/src/api/schema.gen.ts

web/dist/index.html: web/src/api/schema.gen.ts $(WEB_FILES)
	cd web && npm run --silent build

# Chromium from the distribution's packages, for the tests that drive the real interface, and what reads papers back.
browser:
	@(command -v chromium-headless-shell && command -v pdftotext) >/dev/null || ($(SUDO) apt-get update -qq && DEBIAN_FRONTEND=noninteractive $(SUDO) apt-get install -y -qq --no-install-recommends chromium-headless-shell poppler-utils)

# All tests: the front end's own, the Go packages', then the program as a whole. Packages that wait leave their core to another.
test: build browser
	@git diff --exit-code --stat -- web/openapi.json web/src/api/schema.gen.ts web/src/api/constants.gen.ts web/src/api/rulebook.gen.json || (echo 'the API changed: commit the regenerated types'; exit 1)
	cd web && npm run --silent test
	go vet ./...
	go test -p 3 -timeout 20m ./internal/... ./cmd/...
	go test -p 1 -timeout 20m -parallel 5 ./attack ./e2e

.PHONY: test-quick attack
# For daily work: no browser, no kills, and none of the tests that simulate hundreds of engines or wait for a clock.
LONG := FilmsOfMade|EveryPaperOf|EveryReadingOf|AloneItGoes|WhatItSends|ItCranks|RoughLives|NineOfTen|NeverJudgedMilder|IsNotMilder|SheetsOfEveryHabit|AHeldFile|NothingChangedIs|ComparisonsKeep|KilledAtAnything|TwoShopsHold|EveryLesson|GoesOutTheSame|EngineIsCrankedFrom
test-quick:
	$(MAKE) --no-print-directory -j2 quick-go quick-web

.PHONY: quick-go quick-web
quick-go:
	go test -skip '$(LONG)' ./internal/... ./cmd/...

quick-web:
	cd web && npx vitest run --silent --exclude '**/*Step.spec.ts'

# The trial: strangers, bombs, kills, full disks, against the built program. docs/security.md says what each is for.
attack: build
	go test ./attack -count=1 -v -timeout 60m -args -full | grep -vE '^=== '

# Vite with a proxy to the Go server; both start again when their files change.
dev: build
	(cd web && npx vite) & trap 'kill %1' EXIT; \
	while true; do go build -o $(BIN) ./cmd/braxel && ($(BIN) demo & p=$$!; \
	  a=$$(find cmd internal -name '*.go' | xargs cat | cksum); \
	  while [ "$$a" = "$$(find cmd internal -name '*.go' | xargs cat | cksum)" ]; do sleep 1; done; kill $$p; wait $$p) || sleep 2; done

lint: api
	gofmt -l cmd internal e2e attack | (! grep .)
	go vet ./...
	go run honnef.co/go/tools/cmd/staticcheck@v0.8.2 ./...
	cd web && npx vue-tsc --noEmit -p tsconfig.json && npm run --silent lint

shots: build browser
	go test ./e2e -run 'Shots$$' -count=1 -shots ../docs/screenshots

# The pages that are made of the rules; a test holds them to it.
docs:
	go run ./internal/ruledocs

bench: build browser
	go test ./internal/core/judge -run 'Lives|Projections' -v | grep -E 'alarms|projections'
	go run ./internal/measure
	BRAXEL_SHEETS=3000 go test ./internal/logfile -run NoSheet -v | grep right
	go test ./internal/... -run '^$$' -bench . -benchtime 200x
	go test ./e2e -run '^$$' -bench . -benchtime 3x

# One file for each system, to take away: nothing beside it is needed. VERSION names it.
VERSION ?= $(shell git describe --tags --always --dirty)
SYSTEMS := linux/amd64 linux/arm64 darwin/amd64 darwin/arm64 windows/amd64 windows/arm64

dist: web/dist/index.html
	rm -rf dist && mkdir -p dist
	@set -e; for s in $(SYSTEMS); do os=$${s%/*}; arch=$${s#*/}; out=dist/braxel-$(VERSION)-$$os-$$arch; \
	  [ $$os = windows ] && out=$$out.exe; echo $$out; \
	  CGO_ENABLED=0 GOOS=$$os GOARCH=$$arch go build -trimpath -ldflags='-s -w -X main.version=$(VERSION)' -o $$out ./cmd/braxel; done
	go run ./internal/licences > dist/LICENCES.txt
	cp -r examples dist/examples
	cd dist && sha256sum braxel-* LICENCES.txt > SHA256SUMS

clean:
	rm -rf bin web/node_modules && find web/dist -mindepth 1 ! -name .gitkeep -delete
