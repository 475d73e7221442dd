# Everything a person or CI needs. Nothing is installed outside this folder, except Chromium by test.
PY := .venv/bin/python
STAMPS := .make

.PHONY: demo run dev test test-long bench honesty soak web types lint check-types licences clean shots

demo: $(STAMPS)/python $(STAMPS)/web
	@.venv/bin/setback demo

run: $(STAMPS)/python $(STAMPS)/web
	@.venv/bin/setback serve

# Server and front end, each starting again by itself when its files change.
dev: $(STAMPS)/python $(STAMPS)/node
	@$(PY) -m tools.dev

# All but the long tests, from an empty folder: what each part needs is installed on the way; its seconds are printed at the end.
test:
	@mkdir -p $(STAMPS)
	@python3 -m tools.check

# ESLint, Prettier, the tests marked "long" and the short simulations of what the numbers promise, which CI runs too: the same over
# more pictures, processes and hours than fit into ten minutes.
test-long: $(STAMPS)/python-dev $(STAMPS)/web $(STAMPS)/chromium
	@python3 -m tools.check long

bench: $(STAMPS)/python
	$(PY) -m tests.bench

# Long simulations of what the numbers promise, and a long load on the server; a short form of each is in test-long and test.
honesty: $(STAMPS)/python-dev
	SETBACK_LENGTH=full $(PY) -m pytest -m honesty -s

soak: $(STAMPS)/python-dev
	SETBACK_LENGTH=full $(PY) -m pytest -m soak -s

web: $(STAMPS)/web

# The front end's types come from the API; a stale file fails the tests.
types: $(STAMPS)/python $(STAMPS)/node
	.venv/bin/setback openapi > docs/openapi.json
	cd web && npm run --silent types

check-types: $(STAMPS)/python $(STAMPS)/node
	@.venv/bin/setback openapi | cmp -s - docs/openapi.json || { echo "docs/openapi.json is stale: run make types"; exit 1; }
	@cd web && npx openapi-typescript ../docs/openapi.json -o ../$(STAMPS)/schema.d.ts >/dev/null && cmp -s ../$(STAMPS)/schema.d.ts src/shared/api/schema.d.ts || { echo "schema.d.ts is stale: run make types"; exit 1; }

# Mends what can be mended by itself, then says what is left.
lint: $(STAMPS)/python-dev $(STAMPS)/node
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .
	.venv/bin/mypy
	cd web && npm run --silent format && npm run --silent lint && npm run --silent check

licences: $(STAMPS)/python $(STAMPS)/node
	$(PY) -m tools.licences

shots: $(STAMPS)/python-dev $(STAMPS)/web $(STAMPS)/chromium
	$(PY) -m tests.browser.shots

$(STAMPS)/venv: requirements-installer.lock
	@mkdir -p $(STAMPS)
	python3.11 -m venv .venv || python3 -m venv .venv
	$(PIP) --require-hashes -r requirements-installer.lock || true
	@touch $@

# The lock names every package; modules are compiled when they are first used, which most never are. uv installs them in a tenth of the
# time; where it cannot (pip is told of another index than PyPI), pip does.
PIP := .venv/bin/pip install --quiet --disable-pip-version-check --no-compile --no-deps
UV := .venv/bin/uv pip install --quiet --python $(PY) --no-deps
INSTALL = $(UV) $(1) || $(PIP) $(1)

$(STAMPS)/python: $(STAMPS)/venv requirements.lock pyproject.toml
	$(call INSTALL,--require-hashes -r requirements.lock)
	$(call INSTALL,--editable .)
	@touch $@

# The tools for tests come with all that the app needs, so one pass does.
$(STAMPS)/python-dev: $(STAMPS)/venv requirements.lock requirements-dev.lock pyproject.toml
	$(call INSTALL,--require-hashes -r requirements-dev.lock)
	$(call INSTALL,--editable .)
	@touch $(STAMPS)/python $@

$(STAMPS)/node: web/package.json web/package-lock.json
	@mkdir -p $(STAMPS)
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(STAMPS)/web: $(STAMPS)/node $(shell find web/src web/index.html web/public web/vite.config.ts web/tsconfig.json -type f 2>/dev/null)
	cd web && npx vite build --logLevel warn
	@touch $@

$(STAMPS)/chromium:
	@mkdir -p $(STAMPS)
	@sh tests/browser/need_chromium.sh
	@touch $@

clean:
	rm -rf $(STAMPS) setback/web web/dist
