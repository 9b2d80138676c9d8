"""``start``: a starting programme as a file, fitted to a client's record where one is given."""

from __future__ import annotations

import argparse
import json
import sys
from datetime import date, datetime
from pathlib import Path
from typing import Any

from reedcore.catalogue import shipped_tasks
from reedcore.catalogue.ages import ADULT, age_in_years, wording_at
from reedcore.history import file as practice_file
from reedcore.pitch.note_sets import USUAL_SETS
from reedcore.programme.document_values import programme_document
from reedcore.programme.file_format import programme_file
from reedcore.programme.starting import (
    AcceptedTarget,
    ClientFigures,
    starting_programme,
    starting_programmes,
)

from .commands import DONE


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add the arguments of the command."""
    parser.add_argument("programme", choices=sorted(starting_programmes()))
    parser.add_argument("--record", metavar="PRACTICE.json", help="the client's exported file")
    parser.add_argument(
        "--voice", choices=sorted({*USUAL_SETS, "own"}), help="without a record: whose notes"
    )
    parser.add_argument(
        "--today", type=date.fromisoformat, metavar="DATE", help="the programme's first day"
    )
    parser.set_defaults(run=_start)


def _start(options: argparse.Namespace) -> int:
    record = (
        practice_file.read_practice_file(Path(options.record).read_bytes())
        if options.record
        else None
    )
    today = options.today or (record.written_at.date() if record else datetime.now().date())
    tasks = record.catalogue() if record else shipped_tasks()
    client = _figures(record, today) if record else ClientFigures(voice=options.voice or "own")
    programme = starting_programme(options.programme, client, tasks, today=today)
    made = programme_file(programme_document(programme))
    sys.stdout.write(json.dumps(made, indent=1, ensure_ascii=False) + "\n")
    return DONE


def _figures(record: practice_file.PracticeFile, today: date) -> ClientFigures:
    born_on = record.client.get("born_on")
    years = age_in_years(date.fromisoformat(born_on), today) if born_on else None
    return ClientFigures(
        voice=record.record.get("voice", "own"),
        wording=ADULT if years is None else wording_at(years),
        is_child=record.person.is_child,
        props=tuple(record.record.get("props", ())),
        comfortable=record.person.comfortable,
        longest_hiss_s=record.bests.get("hiss"),
        targets=_newest(record.targets),
        a4_hz=record.a4_hz,
    )


def _newest(targets: list[dict[str, Any]]) -> dict[str, AcceptedTarget]:
    """Return the newest decision of each kind."""
    decided = sorted(targets, key=lambda each: str(each["decided_at"]))
    return {
        each["kind"]: AcceptedTarget(each.get("values") or {}, each.get("counts") or "")
        for each in decided
    }
