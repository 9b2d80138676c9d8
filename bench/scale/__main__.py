"""``python -m bench.scale [CLIENTS]``: into bench/latest-scale.json and its part of
docs/benchmarks.md; with a larger number of clients (6000: 6 million tries) one size more.

In a database of its own, made for the run and dropped after it; 2 million tries load in minutes.
"""

from __future__ import annotations

import json
import sys
import time
from pathlib import Path
from typing import Any

from django.db import connection

# readies Django before anything below is imported
from bench.pages import Browser, time_page
from web.config.warmup import settle
from web.decisions.models import ClientStatus
from web.record.models import Trace, Trial

from ..sections import put
from . import load
from .page import section

ROOT = Path(__file__).resolve().parents[2]
#: Clients in the whole database at each size; the first size is the measured clinic alone.
SIZES = (load.CLINIC_SIZE, 232, 2000)
TIMES = 15
Row = dict[str, Any]


def stale() -> None:
    """Mark every client's status as stale."""
    ClientStatus.objects.update(stale=True)


def at_this_size(looked: load.Visit) -> list[Row]:
    """Measure every page."""
    browser = Browser()
    browser.force_login(looked.user, "django.contrib.auth.backends.ModelBackend")
    browser.get("/board/")
    settle()  # As a serving process does once everything is loaded.
    one = f"/clients/{looked.client.pk}/"
    rows = []
    for name, path, before in (
        ("board of 60 clients", "/board/", lambda: None),
        ("board, every status worked out again", "/board/", stale),
        ("client's results", one, lambda: None),
        ("client's results by week", f"{one}?by=week", lambda: None),
        ("client's voice range, by its traces", f"{one}voice-range-profile/", lambda: None),
    ):
        middle, cpu, queries = time_page(browser, path, times=TIMES, before=before)
        figures = {"ms": round(middle, 1), "cpu_ms": round(cpu, 1), "queries": queries}
        rows.append({"page": name, **figures})
    return rows


def _gigabytes() -> float:
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_database_size(current_database())")
        return float(cursor.fetchone()[0]) / 1e9


def main() -> None:
    connection.settings_dict["TEST"]["NAME"] = "still_reed_scale"
    usual = connection.settings_dict["NAME"]
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    found = []
    try:
        looked = load.load_looked_at()
        for clients in (*SIZES, *map(int, sys.argv[1:])):
            begun = time.perf_counter()
            full = load.grow(clients) if clients > load.CLINIC_SIZE else None
            loaded_s = time.perf_counter() - begun
            size = {"clients": clients, "tries": Trial.objects.count(), "loaded_s": round(loaded_s)}
            size |= {"traces": Trace.objects.count(), "gb": round(_gigabytes(), 1)}
            print(f"{size['tries']} tries, loaded in {loaded_s:.0f} s, {size['gb']} GB", flush=True)
            for row in at_this_size(looked):
                cpu, queries = row["cpu_ms"], row["queries"]
                told = f"{row['ms']:7.1f} ms, processor {cpu:.1f}, {queries} queries"
                print(f"  {row['page']:40} {told}", flush=True)
                found.append({**size, **row})
        for row in at_this_size(full):
            print(f"  {row['page']:40} {row['ms']:7.1f} ms, 1,044 tries each", flush=True)
            found.append({**size, **row, "page": f"{row['page']}, 1,044 tries each"})
    finally:
        connection.creation.destroy_test_db(usual, verbosity=0)
    (ROOT / "bench" / "latest-scale.json").write_text(json.dumps(found, indent=1) + "\n")
    put("As the database grows", section(found))


main()
