"""``check``, ``decide``, ``judge``, ``plan``, ``edit`` and ``simulate``: exported files in, JSON
out. ``schema`` prints the format of each."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter

from reedcore.catalogue import Task, shipped_tasks
from reedcore.checks import Person, check_all
from reedcore.decisions.answer import DecisionAnswer, answer
from reedcore.decisions.simulating import SimulationAssumptions, SimulationOutcome, simulate
from reedcore.errors import NotAPracticeFile
from reedcore.formats.wav import read_wav
from reedcore.history import file as practice_file
from reedcore.history import seconds_before, version_week_ago
from reedcore.measures import TrialContext, kind_of, measure_trial
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import item_from, programme_from
from reedcore.programme.edits import EDITS, apply_edits, edit_of
from reedcore.programme.file_format import (
    document_from_file,
    file_schema,
    item_from_file,
    programme_file,
)
from reedcore.programme.loads import Loads, loads_of
from reedcore.programme.plan import checked_item, plan_of, plans_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.programme import Item, Programme
from reedcore.programme.sounds import line_of
from reedcore.progress.day_to_day import USUAL_AUTOCORRELATION

from .answers import CheckAnswer, FindingAnswer, JudgeAnswer, PartAnswer, PlanAnswer, PlanItem
from .commands import DONE


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add the arguments of one of these commands."""
    _ADD[name](parser)


def _add_check(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("programme", metavar="PROGRAMME.json")
    parser.add_argument("--record", metavar="PRACTICE.json", help="the client's exported file")
    parser.set_defaults(run=_check)


def _add_decide(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("practice", metavar="PRACTICE.json")
    parser.add_argument(
        "--today", type=date.fromisoformat, metavar="DATE", help="as of noon that day"
    )
    parser.set_defaults(run=_decide)


def _add_judge(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("recording", metavar="RECORDING.wav")
    parser.add_argument("--task", required=True, metavar="ITEM.json", help="an item of a programme")
    parser.add_argument("--comfortable-dbfs", type=float, default=None, metavar="DBFS")
    parser.set_defaults(run=_judge)


def _add_plan(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("programme", metavar="PROGRAMME.json")
    parser.set_defaults(run=_plan)


def _add_edit(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("programme", metavar="PROGRAMME.json")
    parser.add_argument("edits", metavar="EDITS.json", help="a list of edits; schema edit")
    parser.set_defaults(run=_edit)


def _add_simulate(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("practice", metavar="PRACTICE.json")
    parser.add_argument("--days", type=_within(int, 1, 730), default=56)
    parser.add_argument("--runs", type=_within(int, 1, 1000), default=20)
    parser.add_argument(
        "--spread", type=_within(float, 0, 1), default=0.10, help="day to day, as a share"
    )
    parser.add_argument(
        "--adherence", type=_within(float, 0, 1), default=0.8, help="share of due days practised"
    )
    parser.add_argument(
        "--gain", type=_within(float, -0.5, 0.5), default=0.0, help="a week, as a share"
    )
    parser.add_argument(
        "--autocorrelation", type=_within(float, 0, 0.9), default=USUAL_AUTOCORRELATION,
        help="how much one practised day says of the next",
    )  # fmt: skip
    parser.add_argument(
        "--takes", action="store_true", help="every step in seconds that is proposed is taken"
    )
    parser.add_argument(
        "--stops", action="store_true", help="each hold ends at the target, where it is reached"
    )
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--today", type=date.fromisoformat, metavar="DATE")
    parser.set_defaults(run=_simulate)


def _add_schema(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("of", choices=sorted(SCHEMAS))
    parser.set_defaults(run=_schema)


_ADD = {
    "check": _add_check,
    "decide": _add_decide,
    "judge": _add_judge,
    "plan": _add_plan,
    "edit": _add_edit,
    "simulate": _add_simulate,
    "schema": _add_schema,
}

ANSWERS: dict[str, Any] = {
    "check": CheckAnswer,
    "decide": DecisionAnswer,
    "judge": JudgeAnswer,
    "plan": PlanAnswer,
    "simulate": SimulationOutcome,
}
SCHEMAS = {"practice", "programme", "edit", *ANSWERS}


def _within(kind: Callable[[str], float], lowest: float, highest: float) -> Callable[[str], float]:
    """Return a number between two limits, both included."""

    def number(text: str) -> float:
        value = kind(text)
        if not lowest <= value <= highest:
            raise argparse.ArgumentTypeError(f"{text} lies outside {lowest:g} to {highest:g}")
        return value

    return number


def _say(kind: Any, value: Any) -> int:
    sys.stdout.write(TypeAdapter(kind).dump_json(value, indent=1).decode() + "\n")
    return DONE


def _check(options: argparse.Namespace) -> int:
    record = _practice(options.record) if options.record else None
    programme, tasks = _programme(options.programme, record.catalogue() if record else None)
    person = record.person if record else Person()
    before, loads = {}, Loads()
    if record:
        history = record.history()
        today = history.day(record.written_at)
        before = seconds_before(history.in_force, today)
        then = version_week_ago(history.in_force, today)
        if then is not None and then.programme:
            loads = loads_of(then.programme, tasks)
    plans = plans_of(
        programme,
        tasks,
        best=record.bests if record else {},
        before=before,
        cautions=person.cautions,
        before_cmh2o=loads.cmh2o,
        before_loud_s=loads.loud_s,
    )
    findings = [
        FindingAnswer(each.level.value, each.code, each.item, each.about, each.facts)
        for _, each in check_all([(strand.id, plan) for strand, plan in plans], person)
    ]
    return _say(CheckAnswer, CheckAnswer(findings))


def _decide(options: argparse.Namespace) -> int:
    found = _practice(options.practice)
    return _say(
        DecisionAnswer, answer(found.history(), found.rules, now=_noon(found, options.today))
    )


def _simulate(options: argparse.Namespace) -> int:
    found = _practice(options.practice)
    assumed = SimulationAssumptions(
        days=options.days,
        runs=options.runs,
        spread=options.spread,
        adherence=options.adherence,
        gain_a_week=options.gain,
        autocorrelation=options.autocorrelation,
        accepts_steps=options.takes,
        stops_at_target=options.stops,
        seed=options.seed,
    )
    now = _noon(found, options.today)
    return _say(SimulationOutcome, simulate(found.history(), found.rules, assumed, now=now))


def _judge(options: argparse.Namespace) -> int:
    tasks = shipped_tasks()
    sent = _json(options.task)
    document, problems = clean_document(_around(item_from_file(sent)), tasks=tasks)
    if problems or not document.get("items"):
        raise NotAPracticeFile(where=options.task, problem=_first(problems))
    recording = read_wav(Path(options.recording).read_bytes())
    goal = _prescribed_item(item_from(document["items"][0]), tasks).goal
    measurement = measure_trial(
        goal,
        TrialContext(reference_dbfs=options.comfortable_dbfs),
        recording.samples,
        recording.rate_hz,
    )
    parts = [
        PartAnswer(part.part.value, part.verdict.value, part.why.value)
        for part in measurement.judgement.parts
    ]
    overall = measurement.judgement.overall.value if parts else "not_judged"
    return _say(JudgeAnswer, JudgeAnswer(overall, parts, measurement.columns))


def _plan(options: argparse.Namespace) -> int:
    programme, tasks = _programme(options.programme)
    plan = plan_of(programme, tasks)
    items = []
    for item, planned in zip(programme.items, plan.items, strict=True):
        line = line_of(item, tasks[item.task])
        items.append(
            PlanItem(
                id=item.id,
                task=item.task,
                tries=planned.part.tries,
                seconds_a_try=planned.part.target_s,
                total_s=planned.part.seconds,
                voiced_s=planned.part.voiced_s,
                sounds=[[note.midi if note else None, seconds] for note, seconds in line],
            )
        )
    total, voiced = (sum(getattr(each, name) for each in items) for name in ("total_s", "voiced_s"))
    return _say(PlanAnswer, PlanAnswer(total, voiced, items))


def _edit(options: argparse.Namespace) -> int:
    document, tasks = _document(options.programme)
    sent = _json(options.edits)
    if not isinstance(sent, list):
        raise NotAPracticeFile(where=options.edits, problem="a list of edits is wanted")
    after, problems = clean_document(apply_edits(document, map(edit_of, sent), tasks), tasks=tasks)
    if problems:
        raise NotAPracticeFile(where=options.edits, problem=_first(problems))
    sys.stdout.write(json.dumps(programme_file(after), indent=1, ensure_ascii=False) + "\n")
    return DONE


def _schema(options: argparse.Namespace) -> int:
    if options.of == "practice":
        found = practice_file.schema()
    elif options.of == "programme":
        found = file_schema()
    elif options.of == "edit":
        found = EDITS.json_schema()
    else:
        found = TypeAdapter(ANSWERS[options.of]).json_schema(mode="serialization")
    sys.stdout.write(json.dumps(found, indent=1) + "\n")
    return DONE


def _prescribed_item(item: Item, tasks: Mapping[str, Task]) -> PrescribedItem:
    """Return a single item as prescribed for one try."""
    task = tasks[item.task]
    kind = kind_of(task.measure)
    seconds = item.params.get("seconds") if kind.is_in_seconds else None
    return PrescribedItem(
        key=0,
        version=0,
        code=task.code,
        measure=task.measure,
        sound=item.sound,
        note_midi=item.notes[0] if item.notes and kind.is_by_note else None,
        target_s=float(seconds) if seconds else None,
        counts=item.counts,
        tries=checked_item(item, task).part.tries,
        item_id=item.id,
        item=item,
        shipped=task,
    )


def _noon(found: practice_file.PracticeFile, today: date | None) -> datetime:
    if today is None:
        return found.written_at
    return datetime.combine(today, time(12), ZoneInfo(found.time_zone)).astimezone(UTC)


def _practice(path: str) -> practice_file.PracticeFile:
    return practice_file.read_practice_file(Path(path).read_bytes())


def _json(path: str) -> Any:
    try:
        return json.loads(Path(path).read_bytes())
    except ValueError as problem:
        raise NotAPracticeFile(where=path, problem=str(problem)) from problem


def _programme(
    path: str, tasks: Mapping[str, Task] | None = None
) -> tuple[Programme, Mapping[str, Task]]:
    document, tasks = _document(path, tasks)
    return programme_from(document), tasks


def _document(
    path: str, tasks: Mapping[str, Task] | None = None
) -> tuple[dict[str, Any], Mapping[str, Task]]:
    """Return a programme's document, or the one in force of a practice file, with the tasks it
    names."""
    sent = _json(path)
    if isinstance(sent, dict) and sent.get("format") == practice_file.FORMAT:
        found = _practice(path)
        in_force = [each for each in found.programmes if not each.withdrawn]
        sent = in_force[-1].document if in_force else {}
        tasks = tasks or found.catalogue()
    tasks = tasks or shipped_tasks()
    document, problems = clean_document(document_from_file(sent), tasks=tasks)
    if problems or not document:
        raise NotAPracticeFile(where=path, problem=_first(problems))
    return document, tasks


def _around(item: Any) -> dict[str, Any]:
    dose = {"kind": "on_demand", "start": "2000-01-01", "a_day": 1, "weekdays": [0], "weeks": 1}
    return {"dose": dose, "items": [item]}


def _first(problems: list[Any]) -> str:
    if not problems:
        return "there is no item in it"
    first = problems[0]
    where = f"item {first.item}: " if first.item else ""
    return f"{where}{first.code} {first.facts}"
