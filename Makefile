# Plain Shank. `make help` lists what there is.
SHELL := /bin/bash
.DEFAULT_GOAL := help
export PATH := $(CURDIR)/.tools/node/bin:$(PATH)
PY := .venv/bin/python
PORT ?= 8420
DEPS := .venv/.stamp
WEB_DEPS := web/node_modules/.stamp
WEB := web/dist/.stamp

help: ## list the targets
	@grep -hE '^[a-z-]+:.*##' Makefile | sed 's/:.*## /\t/' | expand -t 12

demo: system $(DEPS) $(WEB) ## install what is missing and run the demo workshop
	@exec $(PY) -m tools.demo --port $(PORT)

cluster: system-cluster $(DEPS) $(WEB) ## three database nodes, two processes, a balancer: the demo on it
	@exec $(PY) -m tools.cluster --port $(PORT)

reset: ## forget the demo's data; the next demo starts afresh
	@$(PY) -m tools.demo --reset

# which eighth of the sweeps runs: the count of commits, so that eight landings see all of them
SLICE ?= $(shell echo $$(( $$(git rev-list --count HEAD 2>/dev/null || echo 0) % 8 )))

test: system system-test $(DEPS) $(WEB) ## checks and tests, with one eighth of the sweeps: SLICE=0 to 7
	@SLICE=$(SLICE) $(PY) -m tools.tests

test-all: ## every test there is, before a release
	@$(MAKE) test SLICE=all
	@$(PY) -m tools.ids

quick: $(DEPS) $(WEB_DEPS) ## checks and the heart's tests, in a minute
	@SLICE=$(SLICE) $(PY) -m tools.tests --quick

check: $(DEPS) $(WEB_DEPS) ## formatting, types, layers, generated files
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	$(PY) -m tools.types --check
	cd web && npm run check --silent

format: $(DEPS) $(WEB_DEPS) ## put every file into its format
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .
	cd web && npm run format --silent

types: $(DEPS) $(WEB_DEPS) ## write the API's schema and the front end's types from the code
	$(PY) -m tools.types

fresh-test: ## as root: a new user with nothing, from clone to bench
	@/usr/bin/python3 -m tools.fresh

shop-test: ## as root, before a release: a shop's own from install to upgrade
	@/usr/bin/python3 -m tools.shop_test

cluster-test: system-cluster $(DEPS) $(WEB) ## as root, before a release: nodes and processes die while people work
	@$(PY) -m tools.cluster.test

mutants: $(DEPS) ## change the heart in small ways: a test must notice each (an hour)
	.venv/bin/mutmut run
	.venv/bin/mutmut results | tail -40

bench: $(DEPS) $(WEB) ## measure speed as ratios
	$(PY) -m tools.bench

shots: $(DEPS) $(WEB) ## rewrite docs/screenshots from the demo data
	$(PY) -m tools.shots

ratio: ## tests as a share of the code
	@python3 -m tools.ratio

lock: .tools/.stamp ## write the lock files from requirements*.in
	for f in requirements requirements-dev tools/sbom; do .tools/bin/uv pip compile -q --generate-hashes --python-version 3.11 \
	  --no-emit-index-url --no-emit-find-links --custom-compile-command "make lock" -o $$f.txt $$f.in; done

sbom: $(WEB_DEPS) .tools/.stamp ## every part of it as CycloneDX in var/sbom, and their licences in docs/licences.md
	.tools/bin/uv venv -q --clear --python "$$(command -v python3)" .tools/sbom
	.tools/bin/uv pip sync -q --python .tools/sbom/bin/python --require-hashes tools/sbom.txt
	.tools/bin/uv venv -q --clear --python "$$(command -v python3)" .tools/shipped
	.tools/bin/uv pip sync -q --python .tools/shipped/bin/python --require-hashes requirements.txt
	mkdir -p var/sbom
	.tools/sbom/bin/cyclonedx-py environment --spec-version 1.6 --output-reproducible --of JSON \
	  -o var/sbom/python.cdx.json .tools/shipped/bin/python
	cd web && npm sbom --sbom-format cyclonedx --loglevel=error > ../var/sbom/web.cdx.json
	python3 -m tools.licences

build: system $(DEPS) $(WEB) ## all that running it needs: packages, Python's environment, the front end

install: build ## as root, for a shop: user, database, settings, what systemd starts; prints the first link
	@$(PY) -m tools.shop install

upgrade: build ## as root, for a shop: this folder's version on a copy of the records, after a backup, then in use
	@$(PY) -m tools.shop upgrade $(if $(STOPPED),--stopped)

system: ## Debian's parts that the application needs
	@tools/system.sh app

system-cluster: ## Debian's parts that a group of nodes needs; none of its servers is started
	@tools/system.sh cluster

system-test: ## Debian's parts that the browser tests need
	@tools/system.sh test

.tools/.stamp: tools/tools.txt
	python3 -m venv .tools
	.tools/bin/pip install -q --disable-pip-version-check -r tools/tools.txt
	@touch $@

$(DEPS): requirements-dev.txt | .tools/.stamp
	.tools/bin/uv venv -q --allow-existing --python "$$(command -v python3)" .venv
	.tools/bin/uv pip sync -q --compile-bytecode --python $(PY) --require-hashes requirements-dev.txt
	@touch $@

$(WEB_DEPS): web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(WEB): $(WEB_DEPS) workshop/api/openapi.json $(shell find web/src web/public web/index.html web/*.ts -type f ! -name schema.d.ts 2>/dev/null)
	cd web && npm run build --silent
	@touch $@

.PHONY: help demo reset test test-all quick check format types bench mutants shots ratio lock sbom build install upgrade system system-test system-cluster cluster cluster-test fresh-test shop-test
