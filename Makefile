# make demo | test | sweep | setup | check | shots | bench | fuzz | docs | install-desktop
PY := .venv/bin/python
STAMP := .venv/.ready
SYSTEM := libegl1 libgl1 libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxcb-shape0 libxcb-image0 libxcb-render-util0 libdbus-1-3 libfontconfig1 libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 xvfb xauth

.PHONY: demo test sweep setup check shots bench docs fuzz install-desktop
setup: $(STAMP)

$(STAMP): requirements.lock pyproject.toml
	@bash tools/system_libraries.sh $(SYSTEM)
	test -x $(PY) || python3 -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps -e .
	@$(PY) -m compileall -q -j 0 src
	@touch $(STAMP)

demo: setup
	$(PY) tools/demo.py

# Every program that a test starts would otherwise compile all modules again where bytecode is not written.
test: setup
	@$(PY) -m compileall -q -j 0 src tests
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -q -n 2 --dist loadscope tests

# All of every sweep, of which a run of the tests takes a share a day.
sweep: setup
	NUTHATCH_THOROUGH=1 $(MAKE) test

check: setup
	.venv/bin/ruff check src tests tools benchmarks
	.venv/bin/ruff format --check src tests tools benchmarks
	.venv/bin/mypy
	.venv/bin/lint-imports

shots: setup
	$(PY) tools/shots.py

bench: setup
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -q -s benchmarks

fuzz: setup
	QT_QPA_PLATFORM=offscreen $(PY) -m tests.fuzz 20000

install-desktop: setup
	$(PY) -m nuthatch.cli install-desktop

docs: setup
	$(PY) tools/make_docs.py
