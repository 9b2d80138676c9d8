"""``python -m bench.hard``: makes, measures and judges; the table goes into docs/benchmarks.md."""

from __future__ import annotations

import argparse
import json
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from datetime import UTC, datetime
from pathlib import Path

from ..sections import put
from . import families, held_out
from .case import HardRecording, Verdict, verdict_on

ROOT = Path(__file__).resolve().parents[2]
KEPT = ROOT / "bench" / "latest-hard.json"


def cases() -> list[HardRecording]:
    """Return the cases of tuned sources, and those of held-out ones."""
    return [*families.cases(), *held_out.cases()]


def _judge_case(which: tuple[str, str]) -> tuple[str, str, str, str, str]:
    family, name = which
    case = next(each for each in cases() if (each.family, each.name) == which)
    verdict, words = verdict_on(case)
    return family, name, case.half, verdict.value, words


def main() -> None:
    """Run all of them, one half or one family; write the table only if all were judged."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--half", choices=["tuning", "held-out", "held-out source"])
    asked.add_argument("--family")
    asked.add_argument("--show", action="store_true", help="what was not right")
    given = asked.parse_args()
    wanted = [
        (each.family, each.name)
        for each in cases()
        if given.half in (None, each.half) and given.family in (None, each.family)
    ]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(_judge_case, wanted, chunksize=4))
    rows = _table(found)
    print("\n".join(rows))
    others = [each for each in found if each[3] != Verdict.RIGHT]
    if given.show:
        print("\n".join(": ".join(each) for each in others))
    if given.half is None and given.family is None:
        _keep(others)
        put("Hard recordings", _page(rows))


def _keep(others: list[tuple[str, ...]]) -> None:
    names = ("family", "name", "half", "verdict", "words")
    kept = {
        "measured": f"{datetime.now(UTC):%Y-%m-%d}",
        "not right": [dict(zip(names, each, strict=True)) for each in others],
    }
    KEPT.write_text(json.dumps(kept, indent=1, ensure_ascii=False) + "\n")


def _page(rows: list[str]) -> str:
    return "\n".join(
        [
            "By `make bench-hard`: voices of another glottal source, of three speech synthesisers,"
            " of a sampler, and words recorded by people; none shares anything with the simulated"
            " voice. Which half a recording belongs to hangs on its name alone, and the held-out"
            " half was not looked at while the measuring was tuned. Of held-out sources (formant"
            " wave functions, physical models, speech from hidden Markov models, people's vowels"
            " laid over one another) no recording was: they show how it does on sound that it was"
            " not made for.",
            "",
            *rows,
        ]
    )


def _table(found: list[tuple[str, str, str, str, str]]) -> list[str]:
    rows = [
        "| family | half | recordings | right | unsure, and said so | silently wrong | crashed |",
        "|---|---|---:|---:|---:|---:|---:|",
    ]
    groups = sorted(
        {(family, half) for family, _, half, _, _ in found}, key=lambda each: (each[1], each[0])
    )
    for family, half in [*groups, *sorted({("all", half) for _, half in groups})]:
        some = Counter(v for f, _, h, v, _ in found if h == half and family in (f, "all"))
        figures = [some[each.value] for each in Verdict]
        rows.append(
            f"| {family} | {half} | {sum(figures)} | " + " | ".join(map(str, figures)) + " |"
        )
    return rows


if __name__ == "__main__":
    main()
