# Still Reed: what can be done here. `make` alone lists it.
.PHONY: help demo test test-long walks pieces mutants check wheel rehearse rehearse-upgrade rehearse-hosts rehearse-full-disk rehearse-restore rehearse-soak bench bench-hard bench-scale bench-live bench-clinical shots assets lock stop clean

help:
	@sed -n 's/^## //p' Makefile

## make demo    start with demo data on http://127.0.0.1:8000 (PORT=8001 for another port)
demo:
	@PORT=$(or $(PORT),8000) bin/demo

## make test    the tests that a change needs before it lands (eight minutes on two cores)
test:
	@bin/test

## make test-long   everything at full size: every task and piece, long random runs, the rehearsals (three hours)
test-long:
	@WALKS=500 EDITS=200 PIECES=all bin/test --long
	@$(MAKE) rehearse rehearse-upgrade rehearse-hosts rehearse-full-disk rehearse-restore rehearse-soak

## make walks   hands that act at random: five hundred walks through a session (half an hour), and two
##              composers on one draft, two hundred edits each
walks:
	@EDITS=200 bin/test tests/browser/test_two_composers.py -rA
	@WALKS=500 bin/test tests/browser/test_walks.py -n 2 -rA

## make pieces   every piece of a session, composed and played in the player, as long as that takes (half an hour)
pieces:
	@PIECES=all bin/test tests/browser/test_pieces_played.py

## make mutants  small changes of the rules, and how many of them no test notices (45 minutes)
mutants:
	@bin/mutants

## make check   style, types, import directions, templates, migrations, stylesheet
check:
	@bin/check

## make wheel   a release in dist/: the wheel, and what it stands on
wheel:
	@bin/wheel

## make rehearse   follows the guide for running it word for word, on a machine that is thrown away
rehearse:
	@bin/rehearse

## make rehearse-upgrade FROM=REVISION   an older version and this one side by side, and nothing lost (two minutes)
rehearse-upgrade:
	@bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-upgrade $(or $(FROM),HEAD~1)

## make rehearse-hosts   two hosts behind a balancer (network namespaces, as root), one goes dark, nothing lost (a minute)
rehearse-hosts:
	@bin/system-packages hosts && bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-hosts

## make rehearse-full-disk   the database's disk fills up (a small one, mounted as root), and nothing lost (a minute)
rehearse-full-disk:
	@bin/environment dev && .venv/bin/python bin/rehearse-full-disk

## make rehearse-restore   the machine is lost, a copied backup is brought back on another (as root), and nothing lost (two minutes)
rehearse-restore:
	@bin/environment dev && bin/postgres start && .venv/bin/python bin/rehearse-restore

## make rehearse-soak   an evening: sixty clients practise, five clinicians look, for ten minutes; nothing lost, memory flat
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

## make bench-live   how many live takes this machine carries, behind nginx with TLS
bench-live:
	@bin/bench-live

## make bench-clinical   what decisions do over thousands of courses: false alarms, declines found, targets that settle (a quarter of an hour)
bench-clinical:
	@bin/bench-clinical

## make shots   take the pictures in docs/screenshots anew
shots:
	@bin/shots

## make assets  rebuild the stylesheet, the fonts and the bundles of scripts
assets:
	@bin/assets

## make lock    compile the requirements files anew
lock:
	@bin/lock

## make stop    stop this checkout's PostgreSQL
stop:
	@bin/postgres stop

## make clean   remove everything made on this machine, this checkout's database included
clean:
	@bin/postgres destroy
	@rm -rf .venv .local node_modules test-results web/collected
	@find . -name __pycache__ -prune -exec rm -rf {} +
	@rm -rf .pytest_cache .mypy_cache .ruff_cache .import_linter_cache .hypothesis
