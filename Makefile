# Grapnel. `make help` lists what can be asked for.
SHELL := /bin/bash
.DEFAULT_GOAL := help
ADDRESS ?= 127.0.0.1:8080
export GRAPNEL_ADDRESS ?= $(ADDRESS)

WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/package-lock.json
GO := $(shell find cmd core internal -name '*.go' -o -name '*.sql' -path '*migrations*' 2>/dev/null) web/embed.go go.mod go.sum

.PHONY: help demo demo-reset test quick long nightly check dev build bench bench-short mutants cluster-test clinic plots record types schema screenshots setup setup-test clean

help: ## list the commands
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## (.*)/  make \1\t\2/' | expand -t 22

demo: setup build ## install what is missing and start the demo workshop
	@exec ./bin/grapnel demo

demo-reset: ## throw the demo workshop's data away and start anew
	@./scripts/demo-stop
	rm -rf .run/db
	@$(MAKE) --no-print-directory demo

# Nothing in it waits without a bound of its own; an hour and a quarter is for all of it, on a
# machine that has little time for it.
test: setup-test build ## set up and run every test
	./scripts/within 75 go test -vet=off -timeout 0 -parallel 4 ./...

quick: ## the tests of a minute, for every save: no browser, no database
	go test -short -vet=off ./...

long: setup-test build ## the long checks whose files changed since they last passed; scripts/long --list
	./scripts/long --changed

nightly: setup-test build ## everything: all tests, all long checks, any time of the year, the faults, the benchmarks
	./scripts/nightly

check: web/node_modules/.ready bin/grapnel ## run the linters, and see that generated files are fresh
	./scripts/check

dev: setup build ## the demo workshop with the front end reloading on change
	./scripts/dev

build: bin/grapnel ## the one binary, front end inside

bench: setup-test build ## measure speed, and write docs/benchmarks.md
	go run ./checks/bench

bench-short: setup-test build ## the same in five minutes: one round of all, told and not written
	go run ./checks/bench -short

mutants: setup-test build ## make small faults one at a time, and write docs/mutants.md: what the tests notice
	go run ./checks/mutants

cluster-test: build ## copies on a Galera cluster, both killed at random for two minutes
	./scripts/setup mariadb-server galera-4 rsync
	go run ./checks/cluster

clinic: ## work ten thousand simulated vehicles, and write docs/clinic.md
	go run ./checks/clinic/run -out docs/clinic.md

plots: ## draw the pictures in docs/plots again
	go run ./docs/plots

types: ## write the front end's client types from the HTTP description
	./scripts/generate types

schema: bin/grapnel ## write the published JSON Schemas
	GRAPNEL=$$PWD/bin/grapnel ./scripts/generate schemas

record: ## write down anew what Grapnel says of the cases in checks/record
	go run ./checks/record/write

screenshots: setup-test build ## take the pictures in docs/screenshots again
	go run ./docs/shots

setup:
	@./scripts/setup mariadb-server

setup-test:
	@./scripts/setup mariadb-server chromium-headless-shell ngspice poppler-utils python3-ephem python3-scipy units systemd

clean: ## remove what was built; data stays
	rm -rf bin web/dist/* web/node_modules

bin/grapnel: $(GO) web/dist/index.html
	go build -o $@ ./cmd/grapnel

web/dist/index.html: $(WEB) web/node_modules/.ready
	cd web && npm run --silent build

web/node_modules/.ready: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	@touch $@
