# Every command prepares what it needs; nothing has to be installed by hand.
PORT ?= 8765
NORVIK_DATA ?= $(CURDIR)/data
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
export PIP_DISABLE_PIP_VERSION_CHECK := 1

.PHONY: demo install test check bench format styles clean mutate

demo: install
	@NORVIK_DATA="$(NORVIK_DATA)" $(BIN)/norvik demo --port $(PORT)

install: $(VENV)/.installed

test: $(VENV)/.dev
	@sh scripts/need-chromium.sh
	@sh scripts/need-redis.sh
	@$(BIN)/python -m pytest -n auto --dist worksteal

check: $(VENV)/.dev
	@$(BIN)/ruff format --check .
	@$(BIN)/ruff check .
	@$(BIN)/mypy
	@sh scripts/check-scripts.sh
	@$(MAKE) --no-print-directory test

# Breaks the core in small ways and lists the breaks that no test notices: the modules that changed, or
# make mutate MODULES=all, or make mutate MODULES="judging.verdicts prescription.plan.sets"
mutate: $(VENV)/.dev
	@$(BIN)/python scripts/mutate.py $(MODULES)

bench: $(VENV)/.dev
	@sh scripts/need-chromium.sh
	@sh scripts/need-ffmpeg.sh
	@sh scripts/need-redis.sh
	@$(BIN)/python -m bench

format: $(VENV)/.dev
	@$(BIN)/ruff format .
	@$(BIN)/ruff check --fix .

# Only for whoever changes the look: the built stylesheet is committed.
styles:
	@sh scripts/build-styles.sh

clean:
	rm -rf $(VENV) data build src/*.egg-info .pytest_cache .mypy_cache .ruff_cache

$(VENV)/bin/pip:
	@$(PYTHON) -c 'import sys; sys.exit("Norvik needs Python 3.11 or newer; this is " + sys.version.split()[0]) if sys.version_info < (3, 11) else None'
	@$(PYTHON) -m venv $(VENV) || { echo "The virtual environment could not be made: install Debian's package python3-venv and try again."; rm -rf $(VENV); exit 1; }

$(VENV)/.installed: requirements.txt pyproject.toml | $(VENV)/bin/pip
	@echo "Installing the packages Norvik needs ..."
	@$(BIN)/pip install -q --require-hashes -r requirements.txt
	@$(BIN)/pip install -q --no-deps --no-build-isolation -e .
	@touch $@

$(VENV)/.dev: requirements-dev.txt $(VENV)/.installed
	@echo "Installing the packages the tests need ..."
	@$(BIN)/pip install -q --require-hashes -r requirements-dev.txt
	@touch $@
