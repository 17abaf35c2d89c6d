# Every target sets up what it needs by itself; the second time that takes a moment.
PYTHON ?= python3
BIN := .venv/bin

.PHONY: demo run test soak lint docs rooms bench demos demos-check icons manual wheel install uninstall screenshots set-up clean

demo: set-up
	$(BIN)/japanner demo tidebell

run: set-up
	$(BIN)/japanner

set-up:
	@$(PYTHON) tools/set_up.py

test:
	@$(PYTHON) tools/set_up.py --tests
	$(BIN)/python -m pytest -n 2 --dist worksteal

# For hours, not for every day: kills, mutated inputs, everything pressed in every state, long walks.
soak:
	@$(PYTHON) tools/set_up.py --tests
	$(BIN)/python -m soak

lint: set-up
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/python tools/rooms.py --check

docs: set-up
	QT_QPA_PLATFORM=offscreen $(BIN)/pdoc --docformat numpy --output-directory out/api japanner

rooms: set-up
	$(BIN)/python tools/rooms.py

bench: set-up
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m bench
	$(BIN)/python -m bench.plots

# The demo paintings that are shipped, from their scripts: minutes. And whether they are what the scripts paint.
demos: set-up
	$(BIN)/python tools/demos.py

demos-check: set-up
	$(BIN)/python tools/demos.py --check

# The manual page, from the words of the command line.
manual: set-up
	$(BIN)/python -m tools.manual

icons: set-up
	$(BIN)/python tools/icons.py

wheel: set-up
	$(BIN)/python -m pip wheel --quiet --no-deps --wheel-dir dist .

# For yourself, under ~/.local or where PREFIX says; needs no set-up of the checkout.
install:
	$(PYTHON) tools/install.py

uninstall:
	$(PYTHON) tools/install.py --remove

screenshots: set-up
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/screenshots.py

clean:
	rm -rf .venv build out .pytest_cache .hypothesis .mypy_cache .ruff_cache
