# make demo         run it with the demo boats
# make test         everything that must hold
# make bench        speed, as ratios in one run
# make help         the rest

PY ?= python3
BIN := .venv/bin
PORT ?=
# What is compiled once, the tests' rewritten asserts among it, is kept for every process that comes after.
export PYTHONDONTWRITEBYTECODE =

.PHONY: demo demo-reset serve test check css css-check chromium bench fuzz lock schema formulas mutants bands help clean attack whole

demo: .venv/run.stamp
	$(BIN)/yare-keel demo $(if $(PORT),--port $(PORT))

demo-reset: .venv/run.stamp
	$(BIN)/yare-keel demo --reset

serve: .venv/run.stamp
	$(BIN)/yare-keel serve $(if $(PORT),--port $(PORT))

# uv installs the locked packages, checked against their hashes; without it pip does the same, slower.
.venv/bin/python:
	@$(PY) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Yare Keel needs Python 3.11 or newer; name one with PY=..."; exit 1; }
	$(PY) -m venv .venv || { echo "Python's venv module is missing: apt-get install python3-venv"; exit 1; }
	$(BIN)/python -m pip install -q --disable-pip-version-check uv==0.13.9 || true

# The program's own packages are compiled once, so that it starts quickly; the tests' are not worth that minute.
INSTALL = $(BIN)/uv pip install -q --require-hashes $(1) || $(BIN)/python -m pip install -q --disable-pip-version-check --require-hashes $(filter-out --compile-bytecode,$(1))

.venv/run.stamp: requirements.txt pyproject.toml | .venv/bin/python
	$(call INSTALL,--compile-bytecode -r requirements.txt)
	$(BIN)/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . 2>/dev/null || $(BIN)/uv pip install -q --no-deps -e . || $(BIN)/python -m pip install -q --no-deps -e .
	$(BIN)/python -m compileall -q src
	touch $@

.venv/dev.stamp: requirements-dev.txt .venv/run.stamp
	$(call INSTALL,-r requirements.txt -r requirements-dev.txt)
	touch $@

# Where there is memory enough the tests' databases are kept in it: each save waits for its disk.
IN_MEMORY := $(shell [ "$$(df -Pm /dev/shm 2>/dev/null | awk 'NR == 2 {print $$4}')" -gt 4000 ] 2>/dev/null && echo TMPDIR=/dev/shm)

# Two workers more than there are processors: those that drive the browser or a server wait half their time.
test:
	$(MAKE) --no-print-directory -j3 -Otarget ready
	$(IN_MEMORY) $(BIN)/python -m pytest -n $$($(BIN)/python -c 'import os; print((os.cpu_count() or 1) + 2)') --dist worksteal

.PHONY: ready compiled wheel wheel-check
ready: check css-check chromium compiled wheel-check

# The tests are read once, so that not each of the workers rewrites all their asserts.
compiled: .venv/dev.stamp
	@$(BIN)/python -m pytest --collect-only -qq >/dev/null || true

# What others install: all assets in it, no Node and no make needed.
wheel: .venv/dev.stamp
	@rm -rf dist build src/yarekeel.egg-info/SOURCES.txt
	@$(BIN)/uv build -q --wheel -o dist . || $(BIN)/python -m pip wheel -q --disable-pip-version-check --no-deps -w dist .
	@rm -rf build

# It is installed by itself, with the locked packages, and its demo is asked for every page and asset.
wheel-check: wheel
	@rm -rf .venv/of-wheel
	@$(PY) -m venv .venv/of-wheel
	@$(BIN)/uv pip install -q --python .venv/of-wheel/bin/python -r requirements.txt dist/*.whl || .venv/of-wheel/bin/python -m pip install -q --disable-pip-version-check -c requirements.txt dist/*.whl
	@$(BIN)/python -m tools.wheel_check dist/*.whl .venv/of-wheel/bin/python

check: .venv/dev.stamp
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

# The browser tests need Debian's Chromium: installed where it is missing and that is allowed, else said how.
chromium:
	@command -v chromium >/dev/null || { \
	  if [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then \
	    echo "Installing chromium for the browser tests"; \
	    apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium >/dev/null; \
	  else echo "The browser tests need Chromium: sudo apt-get install --no-install-recommends chromium"; exit 1; fi; }

# The built style sheet is committed. With npm at hand it is built again and compared; a test compares its stamp in any case.
css: frontend/node_modules/.stamp .venv/dev.stamp
	cd frontend && npm run -s css
	$(BIN)/python -m tools.css_stamp --write

css-check: .venv/dev.stamp
	@if command -v npm >/dev/null; then $(MAKE) -s css-rebuild; else echo "npm is not here: the style sheet is checked by its stamp only"; fi

.PHONY: css-rebuild
css-rebuild: frontend/node_modules/.stamp
	@cd frontend && npm run -s css-to -- -o ../.venv/app.css 2>/dev/null && cmp ../.venv/app.css ../src/yarekeel/web/static/css/app.css || { echo "The style sheet is out of date: make css"; exit 1; }

frontend/node_modules/.stamp: frontend/package-lock.json
	cd frontend && npm ci --ignore-scripts --silent
	touch $@

# Every test over all that it could be tried on: more hostile files, more drives.
whole: ready
	YAREKEEL_ALL=1 $(BIN)/python -m pytest -n auto --dist worksteal

# Many new examples for the property tests; what fails here is a case to keep.
fuzz: .venv/dev.stamp
	YAREKEEL_FUZZ=$(or $(FUZZ),20) $(BIN)/python -m pytest tests/core tests/exchange -k "closed_at_every or any_table or mangled or below_plus_above"

# Judging, changes and wiring broken in small ways, for ten minutes: the share that the tests notice.
mutants: .venv/dev.stamp
	$(BIN)/python -m tools.mutants

bench: .venv/dev.stamp
	$(BIN)/python -m pytest -o addopts="-q" benchmarks --benchmark-disable-gc --benchmark-columns=median,iqr,rounds -s

# All hostile files, then five minutes of requests that mean harm over every route and of changed boat files: counts, and what was answered badly.
attack: .venv/dev.stamp
	YAREKEEL_ALL=1 YAREKEEL_BUSY=1 $(BIN)/python -m pytest -n 0 tests/web/test_hostile_files.py
	$(BIN)/python -m tools.attack 300

# How often what says 95 % holds, over 200 boats of every kind, and over 100 thrust tests of every trouble; and how many of 300 random boats run at every speed: four minutes.
bands: .venv/dev.stamp
	$(BIN)/python -m tools.bands
	$(BIN)/python -m tools.bench_shares
	$(BIN)/python -m tools.running_shares

lock: .venv/bin/python
	$(BIN)/uv pip compile -q --python-version 3.11 --generate-hashes -o requirements.txt requirements.in
	$(BIN)/uv pip compile -q --python-version 3.11 --generate-hashes -o requirements-dev.txt requirements-dev.in

schema: .venv/run.stamp
	$(BIN)/python -c "import json; from yarekeel.exchange.boat_file import schema; print(json.dumps(schema(), indent=1, ensure_ascii=False))" > docs/boat-file.schema.json

formulas: .venv/run.stamp
	@printf '# Relations\n\nEvery relation of the core, with its symbol, its source and where it holds. Written by `make formulas` from the code.\n\n' > docs/formulas.md
	@$(BIN)/python -c "from yarekeel.core.formulas import table; print(table(), end='')" >> docs/formulas.md

help:
	@sed -n 's/^# \{0,1\}\(make .*\)/\1/p' Makefile
	@echo "make check        lint, types and import rules alone"
	@echo "make wheel        build the wheel that others install, in dist"
	@echo "make whole        the tests, each over all that it could be tried on"
	@echo "make mutants      the share of small breakages that the tests notice"
	@echo "make css          build the style sheet again (needs npm)"
	@echo "make demo-reset   put the demo boats back as new"
	@echo "make lock schema formulas   refresh the lock files, the boat file's schema, the table of relations"

clean:
	rm -rf .venv frontend/node_modules
