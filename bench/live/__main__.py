"""``python -m bench.live [takes] [seconds]``: into bench/latest-live.json and
docs/benchmarks.md."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
from django.db import connection
from django.test import Client as Browser

# readies Django before anything below is imported
import bench.pages  # noqa: F401
from bench.sections import put
from web.accounts.models import Clinic, User
from web.clients.models import Client
from web.programmes.actions import publish_programme
from web.record.models import PrescribedTask, Trial
from web.screening.actions import record_screen

from .site import Site, running

ROOT = Path(__file__).resolve().parents[2]
#: The bar: number of takes, and their maximum lag at the 95th and the 99th percentile, ms.
TAKES, P95_MS, P99_MS = 40, 300.0, 600.0
SECONDS, TAKE_S = 60.0, 20.0
TICKS = os.sysconf("SC_CLK_TCK")


def clients(count: int) -> list[tuple[str, int]]:
    """Create clients with one held sound each, signed in: cookie and task."""
    clinic = Clinic.objects.create(name="Benchmark clinic", time_zone="Europe/Lisbon")
    by = User.objects.create_user("bench", role=User.Role.CLINICIAN, clinic=clinic)
    made = []
    for number in range(count):
        account = User.objects.create_user(f"c{number}", role=User.Role.CLIENT, clinic=clinic)
        client = Client.objects.create(clinic=clinic, name=f"Client {number}", account=account)
        record_screen(client, by=by, flags=[], cautions=[], note="", complaint=Client.Complaint.NO)
        client.refresh_from_db()
        task = PrescribedTask(sound="oh", target_s=15.0, tries=5)
        publish_programme(client, by=by, task=task)
        browser = Browser()
        browser.force_login(account, "django.contrib.auth.backends.ModelBackend")
        made.append((browser.cookies["sessionid"].value, task.pk))
    return made


def cpu_s(pids: list[int]) -> float:
    """Return the processor seconds used by these processes so far."""
    used = 0.0
    for pid in pids:
        fields = Path(f"/proc/{pid}/stat").read_text().rsplit(") ", 1)[1].split()
        used += (int(fields[11]) + int(fields[12])) / TICKS
    return used


def family(pid: int) -> list[int]:
    """Return a process and all its descendants."""
    found = [pid]
    for each in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = each.read_text().rsplit(") ", 1)[1].split()
        except OSError:
            continue
        if int(fields[1]) == pid:
            found += family(int(each.parent.name))
    return found


def memory_mb(pids: list[int]) -> float:
    """Return the memory in use now."""
    pages = sum(int(Path(f"/proc/{pid}/statm").read_text().split()[1]) for pid in pids)
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def measured(site: Site, made: list[tuple[str, int]], seconds: float) -> dict[str, Any]:
    """Return the lags of this many clients over this time."""
    plan = {
        "site": f"https://127.0.0.1:{site.port}", "host": f"127.0.0.1:{site.port}",
        "clients": made, "seconds": seconds, "take_s": TAKE_S,
    }  # fmt: skip
    # A file, because a pipe that nobody reads would fill.
    with tempfile.TemporaryFile("w+") as out:
        took, before, peak = _run_clients(site, plan, out)
        out.seek(0)
        seen, after = json.load(out), usage(site)
    live_s = len(seen["saved_ms"]) * TAKE_S
    lags = np.array(seen["lags_ms"] or [np.nan])
    per_live = {
        f"{k} CPU, ms a live second": round(1000 * (after[k] - before[k]) / max(live_s, 1), 1)
        for k in after
    }
    return {
        "takes at once": len(made),
        "seconds": round(took, 1),
        "takes saved": seen["saved"],
        "refused, measured afterwards": seen["busy"],
        "torn or failed": seen["torn"] + seen["failed"],
        "lag ms, middle": round(float(np.percentile(lags, 50))),
        "lag ms, 95 %": round(float(np.percentile(lags, 95))),
        "lag ms, 99 %": round(float(np.percentile(lags, 99))),
        "saved after ms, 95 %": round(float(np.percentile(seen["saved_ms"] or [np.nan], 95))),
        **per_live,
        "memory of the servers, MB": round(peak),
    }


def _run_clients(
    site: Site, plan: dict[str, Any], out: Any
) -> tuple[float, dict[str, float], float]:
    """Run the clients; return the duration, the processor time before, and the peak memory."""
    client = subprocess.Popen(
        [sys.executable, "-m", "bench.live.client"],
        stdin=subprocess.PIPE, stdout=out, stderr=subprocess.PIPE, text=True, cwd=ROOT,
    )  # fmt: skip
    heard, said = client.stdin, client.stderr
    if heard is None or said is None:
        raise RuntimeError("no way to the clients")
    heard.write(json.dumps(plan))
    heard.close()
    if (word := said.readline().strip()) != "ready":
        raise RuntimeError(f"the clients did not begin: {word} {said.read()}")
    began, before, peak = time.monotonic(), usage(site), 0.0
    while client.poll() is None:
        peak = max(peak, memory_mb([p for pid in site.servers for p in family(pid)]))
        time.sleep(0.5)
    return time.monotonic() - began, before, peak


def usage(site: Site) -> dict[str, float]:
    """Return the processor seconds by part."""
    servers = [p for pid in site.servers for p in family(pid)]
    return {"application": cpu_s(servers), "nginx": cpu_s(family(site.nginx))}


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else TAKES
    seconds = float(sys.argv[2]) if len(sys.argv) > 2 else SECONDS
    connection.settings_dict["TEST"]["NAME"] = "still_reed_live"
    usual = connection.settings_dict["NAME"]
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    try:
        made = clients(count)
        address = os.environ["DATABASE_URL"].rsplit("/", 1)[0]
        settings = {
            "DATABASE_URL": f"{address}/still_reed_live",
            "DJANGO_SETTINGS_MODULE": "web.config.settings.test",
        }
        with running({**os.environ, **settings}) as site:
            row = measured(site, made, seconds)
        row["tries in the database"] = Trial.objects.count()
    finally:
        connection.close()
        connection.creation.destroy_test_db(usual, verbosity=0)
    within = row["lag ms, 95 %"] < P95_MS and row["lag ms, 99 %"] < P99_MS
    whole = row["takes saved"] == row["tries in the database"] and not row["torn or failed"]
    for name, value in row.items():
        print(f"{name:36} {value}")
    print(
        f"within {P95_MS:.0f} and {P99_MS:.0f} ms, all saved: {'yes' if within and whole else 'NO'}"
    )
    if len(sys.argv) == 1:
        (ROOT / "bench" / "latest-live.json").write_text(json.dumps(row, indent=1) + "\n")
        put("Live takes", section(row))


def section(row: dict[str, Any]) -> str:
    """Return the section for docs/benchmarks.md."""
    lines = [
        "By `make bench-live`: nginx with TLS, two serving processes and the clients on one "
        "machine of two cores; lag is from the sound to the arrival of its frame, of the oldest "
        f"frame in each message. The bar: {P95_MS:.0f} ms at 95 %, {P99_MS:.0f} ms at 99 %, all "
        "saved.",
        "",
        "| | |",
        "|---|---:|",
        *(f"| {name} | {value} |" for name, value in row.items()),
    ]
    return "\n".join(lines)


if __name__ == "__main__":
    main()
