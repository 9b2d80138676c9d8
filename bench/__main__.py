"""``python -m bench``: the table on screen, docs/benchmarks.md, and bench/latest.json."""

from __future__ import annotations

import json
import os
import platform
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np

from . import pages, speed
from .accuracy import Result, judged, worst_glide_end_cents
from .corpus import cases, glides
from .sections import put

ROOT = Path(__file__).resolve().parents[1]
SECONDS = 30.0
Row = dict[str, Any]


def row(
    name: str, value: float, unit: str, condition: str, peer: str = "", ratio: float = 0
) -> Row:
    """Return a row of the table; ``ratio`` is how many times faster than the peer in the same
    run."""
    return {
        "name": name,
        "value": round(float(value), 5),
        "unit": unit,
        "peer": peer or None,
        "ratio": round(ratio, 2) if ratio else None,
        "condition": condition,
    }


def accuracy_rows(results: list[Result]) -> list[Row]:
    """Return the worst and the median errors over the corpus, clean and noisy separately."""
    rows = []
    for noisy, where in ((False, "clean"), (True, "noise, trills, fading")):
        some = [result for result in results if result.noisy == noisy]
        count = f"{len(some)} clips, {where}"
        wrong = sum(not result.right_count for result in some)
        rows.append(row("clips with another number of holds", wrong, "clips", count))
        rows.append(
            row(
                "clips with a figure outside the bars",
                sum(bool(r.failures) for r in some),
                "clips",
                count,
            )
        )
        for name, unit, values in (
            ("hold start, worst error", "s", [r.start_error_s for r in some]),
            ("hold end, worst error", "s", [r.end_error_s for r in some]),
            ("hold duration, worst error", "s", [r.duration_error_s for r in some]),
            ("median pitch, worst error", "cents", [r.pitch_error_cents for r in some]),
            ("level slope, worst error", "dB/s", [r.slope_error_db_per_s for r in some]),
        ):
            rows.append(row(name, np.nanmax(np.abs(values)), unit, count))
        breaks = sum(r.right_count and not r.breaks_right for r in some)
        rows.append(row("clips with miscounted breaks", breaks, "clips", count))
    gross = sum(r.gross_frames for r in results) / sum(r.voiced_frames for r in results)
    rows.append(row("gross pitch errors", 100 * gross, "% of voiced frames", "all clips"))
    return rows


def speed_rows() -> list[Row]:
    """Yield our speed and the peers' on the same samples, on one core."""
    sound = speed.samples(SECONDS)
    speed.track(sound[: speed.RATE])
    others = speed.peers(sound)
    for name in ("librosa yin", "librosa pyin"):  # compiles on its first call
        speed.peers(sound[: speed.RATE])[name]()
    frames_s = speed.timed(lambda: speed.track(sound), 5)
    whole_s = speed.timed(lambda: speed.whole(sound), 5)
    condition = f"{SECONDS:.0f} s at 48 kHz"
    rows = [
        row("pitch tracking, times real time", SECONDS / frames_s, "×", condition),
        row("whole analysis, times real time", SECONDS / whole_s, "×", condition),
    ]
    for name, work in others.items():
        taken = speed.timed(work, 5 if name == "librosa yin" else 1)
        rows.append(row("pitch tracking", frames_s, "s", condition, name, taken / frames_s))
        rows.append(row("whole analysis", whole_s, "s", condition, name, taken / whole_s))
    for seconds in (5.0, 60.0, 300.0):
        part = speed.samples(seconds)
        cost = speed.timed(lambda part=part: speed.whole(part), 3) / seconds
        rows.append(row("cost of a second of sound", 1000 * cost, "ms", f"{seconds:.0f} s long"))
    rows.append(
        row("memory on top of the samples", speed.peak_memory_mb(300), "MB", "300 s at 48 kHz")
    )
    for takes in (1, 10, 40):
        live = min(speed.live_cpu_per_second(sound, takes) for _ in range(3))
        condition = f"{takes} takes at once, a message each 60 ms"
        rows.append(row("CPU for a second of live sound", 1000 * live, "ms", condition))
    rows.append(
        row("live takes that one core keeps up with", int(1 / live), "takes", "by the last row")
    )
    for seconds in (5.0, 60.0, 300.0):
        cost = speed.live_cpu_per_second(speed.samples(seconds))
        condition = f"one take of {seconds:.0f} s"
        rows.append(row("CPU for a second of live sound", 1000 * cost, "ms", condition))
    wait = speed.longest_wait_s(sound[: 5 * speed.RATE])
    rows.append(row("a frame comes out after its last sample", 1000 * wait, "ms", "the latest"))
    return rows


def page_rows() -> list[Row]:
    """Yield the server time of the pages that a clinician waits for."""
    print("Measuring pages …", flush=True)
    return [
        row(f"page: {name}", ms, "ms", f"{queries} queries") for name, ms, queries in pages.rows()
    ]


def as_markdown(rows: list[Row], failures: list[str]) -> str:
    """Return the page for docs/."""
    machine = f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}"
    lines = [
        "# Benchmarks",
        "",
        f"Measured {datetime.now(UTC):%Y-%m-%d} by `make bench` on {machine}, one core used. A ratio is "
        "the peer's time over ours in the same run on the same samples. Accuracy is over clips of the "
        "simulated voice, which shares no code with the measuring.",
        "",
        "| figure | value | unit | beside | times faster | condition |",
        "|---|---:|---|---|---:|---|",
    ]
    for each in rows:
        value = f"{each['value']:.3g}" if abs(each["value"]) < 100 else f"{each['value']:.0f}"
        ratio = "" if each["ratio"] is None else f"{each['ratio']:.1f}"
        lines.append(
            f"| {each['name']} | {value} | {each['unit']} | {each['peer'] or ''} | {ratio} "
            f"| {each['condition']} |"
        )
    if failures:
        lines += ["", "Outside the bars:", "", *(f"- {failure}" for failure in failures)]
    return "\n".join(lines) + "\n"


def main() -> None:
    print("Measuring the corpus …", flush=True)
    results = judged(cases())
    failures = [f"{r.name}: {', '.join(r.failures)}" for r in results if r.failures]
    print("Measuring speed …", flush=True)
    worst, count = worst_glide_end_cents(glides())
    glide = row("glide ends, worst error", worst, "cents", f"{count} glides, clean")
    rows = [*accuracy_rows(results), glide, *speed_rows(), *page_rows()]
    page = as_markdown(rows, failures)
    print(page)
    put("", page)
    (ROOT / "bench" / "latest.json").write_text(
        json.dumps(rows, indent=1, ensure_ascii=False) + "\n"
    )


if __name__ == "__main__":
    main()
