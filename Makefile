# Two commands matter: `make demo` and `make test`. The rest is for developers.
PYTHON ?= python3
PORT ?= 8127
# As many as there are cores: a third is worth half a minute of ten, and makes every answer that is timed slower.
WORKERS ?= 2
# A test that hangs says where, and fails; the longest take half a minute on a slow machine.
HANGS := -o faulthandler_timeout=600 -o faulthandler_exit_on_timeout=true
VENV := .venv
BIN := $(VENV)/bin
INSTALL = $(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --require-hashes --no-compile
STAMPS := .stamps
SOURCES := $(shell find src/olvask -name "*.py")
COMPILED := $(wildcard src/olvask/core/physics/*.py src/olvask/core/circuit/*.py src/olvask/core/simulate/*.py)
FRONT := $(shell find frontend/src frontend/public frontend/theme -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts

.PHONY: help demo fast dev test lint fmt types types-of-python types-of-pages pytest coverage vitest bench check-designs check-circuits check-surveys check-anything check-remedies check-two-way check-sheets check-orders check-faults check-refit check-papers check-logs check-days check-crash check-races check-fuzz check-mutants check-postgres check-away check-yard check-servers check-restores check-practice check-reach screenshots api clean
.DELETE_ON_ERROR:

help: ## what there is
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## (.*)/\1|\2/' | column -t -s '|'

demo: ## the application with sample jobs, on PORT
	@$(MAKE) --no-print-directory -j2 $(STAMPS)/built $(STAMPS)/fast $(STAMPS)/bytecode
	@$(BIN)/olvask demo --port $(PORT)

# Both at once, each in its terminal: the server with sample jobs, and the front end that follows every change.
dev: $(STAMPS)/dev $(STAMPS)/front ## the server and a front end that follows every change
	@trap 'kill 0' INT TERM EXIT; $(BIN)/olvask demo --port $(PORT) & cd frontend && npm run --silent dev

test: ## everything CI runs; what needs one core runs two at a time
	@$(MAKE) --no-print-directory -j2 $(STAMPS)/fast types-of-python types-of-pages lint vitest $(STAMPS)/built
	@$(MAKE) --no-print-directory pytest

$(STAMPS):
	@mkdir -p $@

# A pip of today installs in a third of the time that the one takes which comes with Python.
$(STAMPS)/venv: requirements-pip.lock | $(STAMPS)
	$(PYTHON) -m venv $(VENV)
	$(INSTALL) -r $<
	@touch $@

# What running needs: locked packages by hash, compiled on every core but for the odd file meant for another Python;
# then this package itself.
$(STAMPS)/run: requirements.lock pyproject.toml | $(STAMPS)/venv
	$(INSTALL) -r requirements.lock
	@$(BIN)/python -m compileall -qq -j 0 $(VENV)/lib/python*/site-packages || true
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

# The simulator as machine code; used for as long as its sources are what was compiled.
fast: $(STAMPS)/fast ## the simulator as machine code, four to eight times as fast
$(STAMPS)/fast: tools/compile.py $(COMPILED) $(STAMPS)/run
	@$(BIN)/python tools/compile.py > $(STAMPS)/fast.txt 2>&1 || (cat $(STAMPS)/fast.txt && false)
	@tail -n 1 $(STAMPS)/fast.txt
	@touch $@

# Bytecode once, not at each start: two fifths of it, where Python is told to write none.
$(STAMPS)/bytecode: $(SOURCES) $(STAMPS)/run
	@$(BIN)/python -m compileall -q src/olvask
	@touch $@

# What tests need besides.
$(STAMPS)/dev: requirements-dev.lock $(STAMPS)/run
	$(INSTALL) -r requirements-dev.lock
	@touch $@

$(STAMPS)/chromium: | $(STAMPS)
	@[ -x /usr/bin/chromium-headless-shell ] || \
		(apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium-headless-shell) || \
		[ -x /usr/bin/chromium ] || apt-get install -y -qq --no-install-recommends chromium
	@touch $@

$(STAMPS)/front: frontend/package-lock.json frontend/package.json | $(STAMPS)
	cd frontend && npm ci --no-audit --no-fund
	@touch $@

$(STAMPS)/built: $(STAMPS)/front $(FRONT) frontend/src/api/schema.gen.ts
	cd frontend && npm run --silent build
	@touch $@

lint: $(STAMPS)/dev $(STAMPS)/front ## style, layers, dependencies
	$(BIN)/ruff check src tests tools
	$(BIN)/ruff format --check src tests tools
	$(BIN)/lint-imports --no-cache > $(STAMPS)/imports.txt || (cat $(STAMPS)/imports.txt && false)
	$(BIN)/deptry src
	cd frontend && npm run --silent lint

fmt: $(STAMPS)/dev $(STAMPS)/front ## set the layout of every file
	$(BIN)/ruff check --fix-only src tests tools
	$(BIN)/ruff format src tests tools
	cd frontend && npm run --silent fmt

types: types-of-python types-of-pages ## types, and that what is made from the models is fresh

types-of-python: $(STAMPS)/dev
	$(BIN)/mypy

types-of-pages: $(STAMPS)/dev $(STAMPS)/front
	cd frontend && npx vue-tsc --noEmit
	$(BIN)/python tools/check_api.py

vitest: $(STAMPS)/front
	cd frontend && npm run --silent test

# What one process compiles the others take, wherever else Python is told to write no bytecode.
pytest: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/fast $(STAMPS)/bytecode $(STAMPS)/chromium
	PYTHONDONTWRITEBYTECODE= $(BIN)/pytest -n $(WORKERS) --dist worksteal $(HANGS)

coverage: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/chromium ## the tests again, with the share of lines they run
	OLVASK_INTERPRETED=1 $(BIN)/pytest -n $(WORKERS) --dist worksteal --cov=olvask --cov-report=term:skip-covered

# The generated OpenAPI document and TypeScript types.
api: $(STAMPS)/dev $(STAMPS)/front ## the generated OpenAPI document, types and fields
	$(BIN)/olvask openapi > frontend/openapi.gen.json
	$(BIN)/olvask fields > frontend/src/api/fields.gen.ts
	cd frontend && npm run --silent api

# The long forms of tests: ten thousand random designs against the independent checker, and the core against
# the circuit solver ngspice (Debian package of that name).
check-designs: $(STAMPS)/dev
	OLVASK_EXAMPLES=10000 $(BIN)/pytest tests/core/test_laws.py -k breaks_a_rule
	OLVASK_EXAMPLES=2000 $(BIN)/pytest tests/core/stages/build/test_one_bill.py

check-circuits: $(STAMPS)/dev
	@command -v ngspice >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends ngspice)
	$(BIN)/python tools/compare_circuits.py

# Two thousand random surveys, recommended settings taken, each driven in both simulators.
check-surveys: $(STAMPS)/dev
	OLVASK_SURVEYS=2000 $(BIN)/pytest tests/core/analyses/test_recommended.py

# A hundred thousand designs, extremes of every field among them: answered by every question.
check-anything: $(STAMPS)/dev
	OLVASK_ANYTHING=100000 $(BIN)/pytest -s -n $(WORKERS) tests/core/test_anything.py

# Twenty thousand remedies applied.
check-remedies: $(STAMPS)/dev
	OLVASK_REMEDIES=20000 $(BIN)/pytest -s -n $(WORKERS) tests/core/test_remedies.py

# Five thousand random menus: whoever keys the sheet in ends with what the simulator drives with.
check-sheets: $(STAMPS)/dev
	OLVASK_SHEETS=5000 $(BIN)/pytest -n $(WORKERS) tests/core/stages/settings/test_sheet_law.py

# Five thousand designs of any kind, each procedure walked through on an imagined vehicle.
check-orders: $(STAMPS)/dev
	OLVASK_ORDERS=5000 $(BIN)/pytest -n $(WORKERS) tests/core/stages/build/test_procedure_law.py

# Three thousand random vehicles with one fault each, measured as the diagnosis asks: how often it is named, and in how many
# measurements; bands and bad joints of sixteen hundred more.
check-faults: $(STAMPS)/dev
	OLVASK_FAULTS=80 OLVASK_BANDS=400 $(BIN)/pytest -s -n $(WORKERS) --dist worksteal tests/core/analyses/test_diagnosis.py tests/core/stages/prove/test_bands.py

# Two thousand users' diaries: how often the true use and rate lie in the interval told.
check-refit: $(STAMPS)/dev
	OLVASK_USERS=2000 $(BIN)/pytest -s -q tests/core/analyses/test_refit.py

# Five hundred sheets read by a reader of their own.
check-papers: $(STAMPS)/dev
	OLVASK_PAPERS=500 $(BIN)/pytest -s -q -n $(WORKERS) tests/documents/test_sheet_alone.py

# Two hundred logs of vehicles driven for days against what really happened in them; three hundred files spoilt.
check-logs: $(STAMPS)/dev
	OLVASK_LOGS=200 OLVASK_SPOILT=300 $(BIN)/pytest -s -q -n $(WORKERS) tests/logs

# Five thousand surveys: what findings claim happens when driven, and the other way about.
check-two-way: $(STAMPS)/dev
	OLVASK_TWO_WAY=5000 $(BIN)/pytest -s -n $(WORKERS) tests/core/test_two_way.py

# Balances over two thousand random days, halved steps, and five hundred days against the second simulator.
check-days: $(STAMPS)/dev
	OLVASK_DAYS=2000 OLVASK_TWINS=500 $(BIN)/pytest -s -n $(WORKERS) tests/core/simulate/test_balance.py tests/core/simulate/test_twins.py

# A server killed 500 times while it writes, and at its first starts; a database cut off after every statement of its making.
check-crash: $(STAMPS)/dev
	OLVASK_KILLS=500 OLVASK_CUTS=120 $(BIN)/pytest tests/store/test_kills_and_races.py tests/store/test_storage.py -k "killed or cut_off or many_begin"

# Eight clients that write everything at once, two hundred rounds.
check-races: $(STAMPS)/dev
	OLVASK_ROUNDS=200 $(BIN)/pytest tests/store/test_kills_and_races.py -k crowd

# Ten minutes of requests drawn from the served document, and ten thousand spoilt files.
check-fuzz: $(STAMPS)/dev
	OLVASK_FUZZ=20 OLVASK_FUZZ_S=600 OLVASK_FILES=10000 $(BIN)/pytest -n $(WORKERS) tests/web/test_fuzz.py

# The store's and the web's tests once more with every store on a PostgreSQL server of their own (Debian's postgresql, if it
# is there). Left out are tests of the file itself.
check-postgres: $(STAMPS)/dev
	@command -v pg_virtualenv >/dev/null || { echo "no PostgreSQL server on this machine: apt-get install postgresql"; exit 1; }
	pg_virtualenv env PYTHONPATH=. $(BIN)/pytest -n $(WORKERS) -p tests.on_postgres tests/store/test_jobs.py \
	  tests/store/test_shelf_and_options.py tests/store/test_build_store.py tests/store/test_instruments_and_signatures.py \
	  tests/store/test_device_logs.py tests/web -m "not file" --ignore tests/web/test_fuzz.py

# Ten thousand jobs judged anew on one process, on two, on a dask cluster of two; a worker killed half-way.
check-yard: $(STAMPS)/dev
	OLVASK_YARD=10000 $(BIN)/pytest -s -q tests/work

# Two servers over one store under sixteen clients, five minutes on a file and five on a PostgreSQL server of its own.
check-servers: $(STAMPS)/dev
	OLVASK_SERVERS_S=300 pg_virtualenv $(BIN)/pytest -s -q tests/store/test_two_servers.py

# Two hundred backups of a store that is written to, restored elsewhere; backup, restore or server killed in the middle.
check-restores: $(STAMPS)/dev
	OLVASK_RESTORES=200 $(BIN)/pytest -q tests/store/test_restores.py

# Ten thousand cases, five hundred played by three kinds of people, a thousand drills of each kind. About three hours.
check-practice: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/chromium
	OLVASK_CASES=10000 OLVASK_PLAYS=500 OLVASK_DRILLS=1000 $(BIN)/pytest -s -q -n $(WORKERS) --dist worksteal tests/core/practice tests/e2e/test_practice.py

# Signing in, and phones without signal: several browsers, a server that is killed and comes back.
check-away: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/chromium
	OLVASK_AWAY=1 $(BIN)/pytest tests/e2e/test_people.py tests/e2e/test_vehicle.py

# Every page in both themes and at both sizes: contrast and names, sizes, and each control by key.
check-reach: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/chromium
	OLVASK_REACH=all $(BIN)/pytest -n $(WORKERS) tests/e2e/test_every_page.py tests/e2e/test_house.py

# Four hundred small mistakes in rules, circuit, physics and simulator: how many a test notices; survivors are named.
check-mutants: $(STAMPS)/dev
	$(BIN)/python -m tools.mutation --count 420 --budget 30

bench: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/fast $(STAMPS)/bytecode $(STAMPS)/chromium ## speed and size
	$(BIN)/python tools/bench.py

screenshots: $(STAMPS)/dev $(STAMPS)/built $(STAMPS)/chromium ## the pictures in docs/screenshots
	$(BIN)/python tools/screenshots.py

clean: ## take out what was made
	rm -rf $(STAMPS) $(VENV) frontend/node_modules src/olvask/web/app src/olvask/fast
