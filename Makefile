# make demo    sets up all that is missing, then opens the desktop with the demo jobs
# make test    sets up, then runs every test on a virtual display of its own
# make fuzz    N broken files of all formats and N/50 random lines, each from seed FIRST on (N=10000 FIRST=0)
# make kill    a save and a build killed N times each (N=300)
# make handbook  builds the handbook anew after docs have changed
# make deb     builds the Debian package into build/deb (FAST=1 packs it hardly)
# make deb-check  builds it, installs it in a bare Debian of its own, runs it there and takes it away again (as root)
# make soak    random hands on the real window for HOURS= (0.1), with a heartbeat; nothing may be left
# make laws    the laws that hold for random shapes, on ten times as many as the suite
PYTHON := .venv/bin/python
# A machine that keeps no compiled sources would compile ours anew in every process of the suite.
export PYTHONDONTWRITEBYTECODE :=
# As the program has it: tests load numpy before they load the program.
export OPENBLAS_NUM_THREADS := 1
.PHONY: demo test laws fuzz kill measure lint bench shots setup demo-data lock clean deb deb-check handbook soak

demo:
	@scripts/setup.sh --display
	@if [ -n "$${DISPLAY:-}$${WAYLAND_DISPLAY:-}" ]; then $(PYTHON) -m pounce demo; \
	else echo "There is no display here, so the desktop starts on a virtual one."; \
	scripts/with-display.sh $(PYTHON) -m pounce demo --pictures demo-views; fi

test:
	@scripts/setup.sh --display
	@scripts/with-display.sh $(PYTHON) -m pytest -n 2 --dist worksteal --durations=40 -m "not alone"
	@scripts/with-display.sh $(PYTHON) -m pytest -m alone

laws:
	@scripts/setup.sh --display
	@POUNCE_LAWS=1 scripts/with-display.sh $(PYTHON) -m pytest -n 2 --dist worksteal -m law

fuzz:
	@scripts/setup.sh
	@$(PYTHON) -m tests.fuzz files $(or $(FIRST),0) $(or $(N),10000)
	@$(PYTHON) -m tests.fuzz lines $(or $(FIRST),0) $$(( $(or $(N),10000) / 50 ))

kill:
	@scripts/setup.sh
	@POUNCE_CELLS=20000 $(PYTHON) -m tests.fuzz kill $(or $(N),300) $(or $(N),300)

soak:
	@scripts/setup.sh --display
	@scripts/with-display.sh $(PYTHON) -m tests.fuzz soak $$(awk 'BEGIN { print 60 * $(or $(HOURS),0.1) }') $(or $(FIRST),0)

measure:
	@scripts/setup.sh
	@$(PYTHON) scripts/measure.py

lint:
	@scripts/setup.sh
	$(PYTHON) -m ruff check src tests scripts
	$(PYTHON) -m ruff format --check src tests scripts
	$(PYTHON) -m mypy
	.venv/bin/lint-imports --no-cache

bench:
	@scripts/setup.sh --display
	@POUNCE_BENCH_STRICT=$(STRICT) $(if $(PARTS),POUNCE_PARTS=$(PARTS)) scripts/with-display.sh $(PYTHON) -m pytest tests/speed --benchmark-enable --benchmark-only --benchmark-columns=min,median,max,rounds -s

shots:
	@scripts/setup.sh --display
	@home=$$(mktemp -d); XDG_CONFIG_HOME=$$home XDG_DATA_HOME=$$home \
	scripts/with-display.sh $(PYTHON) -m pounce demo --pictures docs/screenshots; rm -rf $$home
	@scripts/with-display.sh $(PYTHON) scripts/sheet_picture.py docs/screenshots

setup:
	@scripts/setup.sh

handbook:
	@scripts/setup.sh
	@$(PYTHON) scripts/make_handbook.py

deb:
	@scripts/setup.sh
	@$(PYTHON) packaging/deb.py build/deb $(if $(FAST),--fast)

deb-check:
	@scripts/setup.sh
	@packaging/try-deb.sh


demo-data:
	@scripts/setup.sh
	QT_QPA_PLATFORM=offscreen $(PYTHON) scripts/make_demo.py

clean:
	rm -rf .venv demo-views .mypy_cache .ruff_cache
