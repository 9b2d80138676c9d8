# Still Reed: make targets. `make` alone lists them.
.PHONY: help demo test test-long walks pieces mutants check wheel rehearse rehearse-upgrade rehearse-hosts rehearse-full-disk rehearse-restore rehearse-soak bench bench-hard bench-scale bench-live bench-clinical shots assets lock stop clean

help:
	@sed -n 's/^## //p' Makefile

## make demo    start with demo data on http://127.0.0.1:8000 (PORT=8001 for another port)
demo:
	@PORT=$(or $(PORT),8000) bin/demo

## make test    the tests that a change needs before it lands (ten minutes on two cores)
test:
	@bin/test

## make test-long   everything at full size: every task and piece, long random walks, the rehearsals (three hours)
test-long:
	@WALKS=500 EDITS=200 PIECES=all bin/test --long
	@$(MAKE) rehearse rehearse-upgrade rehearse-hosts rehearse-full-disk rehearse-restore rehearse-soak

## make walks   random input: five hundred walks through a session (half an hour), and two
##              composers on one draft, two hundred edits each
walks:
	@EDITS=200 bin/test tests/browser/test_two_composers.py -rA
	@WALKS=500 bin/test tests/browser/test_walks.py -n 2 -rA

## make pieces   every part of a session, composed and played in the player in real time (half an hour)
pieces:
	@PIECES=all bin/test tests/browser/test_pieces_played.py

## make mutants  mutation test of the rules: the number of small changes that no test detects (45 minutes)
mutants:
	@bin/mutants

## make check   style, types, import directions, templates, migrations, stylesheet
check:
	@bin/check

## make wheel   a release in dist/: the wheel and its locked requirements
wheel:
	@bin/wheel

## make rehearse   follows the installation guide word for word, on a disposable machine
rehearse:
	@bin/rehearse

## make rehearse-upgrade FROM=REVISION   an older version and this one side by side, without data loss (two minutes)
rehearse-upgrade:
	@bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-upgrade $(or $(FROM),HEAD~1)

## make rehearse-hosts   two hosts behind a load balancer (network namespaces, as root), one fails, without data loss (a minute)
rehearse-hosts:
	@bin/system-packages hosts && bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-hosts

## make rehearse-full-disk   the database's disk fills up (a small one, mounted as root), without data loss (a minute)
rehearse-full-disk:
	@bin/environment dev && .venv/bin/python bin/rehearse-full-disk

## make rehearse-restore   the machine is lost, and a copied backup is restored on another (as root), without data loss (two minutes)
rehearse-restore:
	@bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-restore

## make rehearse-soak   an evening: sixty clients practise, five clinicians read, for ten minutes; no loss, constant memory
rehearse-soak:
	@bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-soak

## make bench   accuracy and speed of the measuring
bench:
	@bin/bench

## make bench-hard   hard recordings, made from scripts, half of them held out from tuning
bench-hard:
	@bin/bench-hard

## make bench-scale   the board and a client's results as the database grows to 2 million tries
bench-scale:
	@bin/bench-scale

## make bench-live   the number of live takes that this machine carries, behind nginx with TLS
bench-live:
	@bin/bench-live

## make bench-clinical   decisions over thousands of simulated courses: false alarms, declines found, stable targets (a quarter of an hour)
bench-clinical:
	@bin/bench-clinical

## make shots   take the pictures in docs/screenshots again
shots:
	@bin/shots

## make assets  rebuild the stylesheet, the fonts and the bundles of scripts
assets:
	@bin/assets

## make lock    compile the requirements files again
lock:
	@bin/lock

## make stop    stop this checkout's PostgreSQL
stop:
	@bin/postgres stop

## make clean   remove everything made on this machine, including this checkout's database
clean:
	@bin/postgres destroy
	@rm -rf .venv .local node_modules test-results web/collected
	@find . -name __pycache__ -prune -exec rm -rf {} +
	@rm -rf .pytest_cache .mypy_cache .ruff_cache .import_linter_cache .hypothesis
