"""A client's whole practice as one JSON file, written by the product and read by the command line.

The schema is made of the values themselves, so that it cannot lag behind them.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from functools import cache
from typing import Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import TypeAdapter, ValidationError

from reedcore.catalogue import BadTask, Task, shipped_tasks, task_from
from reedcore.checks import Person
from reedcore.errors import NotAPracticeFile
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import doses_from, programme_document, programme_from
from reedcore.programme.prescribed_item import PrescribedItem

from .history import History
from .values import (
    DecisionRecord,
    Report,
    Screening,
    SessionRecord,
    StopRecord,
    TrialRecord,
    Version,
)

FORMAT = "still-reed-practice"
VERSION = 3
#: Fields of version 2 that have another name now, by list.
_RENAMED = {
    "stops": {"taken_back_at": "cancelled_at"},
    "decisions": {"rests_on": "evidence", "made": "created_version"},
}


@dataclass(frozen=True, slots=True)
class TaskRecord:
    """A prescribed task; its settings are in the version's document."""

    key: int
    code: str
    measure: str
    sound: str
    note_midi: int | None
    target_s: float | None
    counts: str
    tries: int
    item_id: str


@dataclass(frozen=True, slots=True)
class VersionRecord:
    """A version of the programme; ``document`` is empty if one sound was prescribed alone."""

    number: int
    at: datetime
    on: date
    reason: str
    withdrawn: bool
    document: dict[str, Any]
    tasks: list[TaskRecord]


@dataclass(frozen=True, slots=True)
class OwnTaskRecord:
    """A task of the clinic's own."""

    family: str
    data: dict[str, Any]


@dataclass(frozen=True, slots=True)
class PracticeFile:
    """All of it.

    Attributes:
        client: name, birth date, age band, goals, time zone.
        record: what else the record says, by field.
        person: the same as the programme check sees it.
        bests: the client's best seconds, by task code and by measure.
        rules: the thresholds that were changed for this client.
        baselines, targets, notes: as they were kept.
        goal_s: the hold goal accepted last.
    """

    format: Literal["still-reed-practice"]
    version: Literal[3]
    written_at: datetime
    client: dict[str, Any]
    time_zone: str
    a4_hz: float
    record: dict[str, Any]
    person: Person
    bests: dict[str, float]
    rules: dict[str, float]
    own_tasks: list[OwnTaskRecord]
    screens: list[Screening]
    baselines: list[dict[str, Any]]
    targets: list[dict[str, Any]]
    programmes: list[VersionRecord]
    sessions: list[SessionRecord]
    trials: list[TrialRecord]
    reports: list[Report]
    stops: list[StopRecord]
    decisions: list[DecisionRecord]
    notes: list[dict[str, Any]] = field(default_factory=list)
    goal_s: float | None = None

    def catalogue(self) -> dict[str, Task]:
        """Return the tasks that ship, and the clinic's own.

        Raises:
            NotAPracticeFile: one of its own is no task.
        """
        found = dict(shipped_tasks())
        for own in self.own_tasks:
            try:
                task = task_from(own.data, family=own.family, own=True)
            except BadTask as problem:
                raise NotAPracticeFile(where="own_tasks", problem=str(problem)) from problem
            found[task.code] = task
        return found

    def history(self) -> History:
        """Return the history that it holds."""
        catalogue = self.catalogue()
        return History(
            zone=self.time_zone,
            versions=tuple(_version(each, catalogue, self.a4_hz) for each in self.programmes),
            trials=tuple(self.trials),
            sessions=tuple(self.sessions),
            reports=tuple(self.reports),
            stops=tuple(self.stops),
            screens=tuple(self.screens),
            decisions=tuple(self.decisions),
            goal_s=self.goal_s,
        )


def version_record(version: Version) -> VersionRecord:
    """Return a version in the format of the file."""
    return VersionRecord(
        number=version.number,
        at=version.at,
        on=version.on,
        reason=version.reason,
        withdrawn=version.is_withdrawn,
        document=programme_document(version.programme) if version.programme else {},
        tasks=[
            TaskRecord(
                each.key, each.code, each.measure, each.sound, each.note_midi, each.target_s,
                each.counts, each.tries, each.item_id,
            )
            for each in version.tasks
        ],
    )  # fmt: skip


def _version(record: VersionRecord, catalogue: Mapping[str, Task], a4_hz: float) -> Version:
    programme = programme_from(record.document) if record.document else None
    items = {item.id: item for item in programme.items} if programme else {}
    return Version(
        number=record.number,
        at=record.at,
        on=record.on,
        doses=doses_from(record.document.get("dose"), record.document.get("beside", {})),
        programme=programme,
        is_withdrawn=record.withdrawn,
        reason=record.reason,
        tasks=tuple(
            PrescribedItem(
                key=each.key,
                version=record.number,
                code=each.code,
                measure=each.measure,
                sound=each.sound,
                note_midi=each.note_midi,
                target_s=each.target_s,
                counts=each.counts,
                tries=each.tries,
                item_id=each.item_id,
                item=items.get(each.item_id),
                shipped=catalogue.get(each.code) if each.code else None,
                a4_hz=a4_hz,
            )
            for each in record.tasks
        ),
    )


@cache
def _adapter() -> TypeAdapter[PracticeFile]:
    return TypeAdapter(PracticeFile)


def write_practice_file(file: PracticeFile) -> bytes:
    """Return the file's bytes: JSON, UTF-8, indented; unknown is null."""
    return _adapter().dump_json(file, indent=1)


def read_practice_file(data: bytes) -> PracticeFile:
    """Return a file as its values.

    A file of version 2 is read as well: it differs in some names.

    Raises:
        NotAPracticeFile: it is none, or of another version; the problem names the first place.
    """
    try:
        found = _adapter().validate_json(_with_current_names(data))
    except ValidationError as problem:
        first = problem.errors(include_url=False, include_input=False)[0]
        where = ".".join(str(part) for part in first["loc"])
        raise NotAPracticeFile(where=where, problem=str(first["msg"])) from problem
    for where, misfit in _misfits(found):
        raise NotAPracticeFile(where=where, problem=misfit)
    return found


def _with_current_names(data: bytes) -> bytes:
    """Return a file of version 2 under the names of this version; any other unchanged."""
    try:
        raw = json.loads(data)
    except ValueError:
        return data
    if not isinstance(raw, dict) or raw.get("version") != VERSION - 1:
        return data
    for part, names in _RENAMED.items():
        rows = raw.get(part)
        for row in rows if isinstance(rows, list) else ():
            for old, new in names.items():
                if isinstance(row, dict) and old in row:
                    row[new] = row.pop(old)
    return json.dumps(raw | {"version": VERSION}).encode()


#: Allowed values of a self-report by kind; other kinds can hold anything.
_SAID = {
    "effort": (int, float),
    "bother": (int, float),
    "strain": (dict,),
}


def _misfits(found: PracticeFile) -> Iterator[tuple[str, str]]:
    """Yield errors that the types do not catch: an unknown time zone, a document, a report's
    value."""
    try:
        ZoneInfo(found.time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        yield "time_zone", f"there is no time zone {found.time_zone[:60]!r}"
    catalogue = found.catalogue()
    for place, version in enumerate(found.programmes):
        if version.document:
            for problem in clean_document(version.document, tasks=catalogue)[1]:
                if problem.code not in _OF_ANOTHER_TIME:
                    yield f"programmes.{place}.document", problem.code
    for place, trial in enumerate(found.trials):
        if not all({"start_s", "end_s"} <= set(gap) for gap in trial.breaks):
            yield f"trials.{place}.breaks", "a break has a start_s and an end_s"
    for place, report in enumerate(found.reports):
        if not isinstance(report.value, _SAID.get(report.kind, (object,))):
            yield f"reports.{place}.value", f"no value of {report.kind}"
        if report.kind == "strain" and not isinstance(report.value.get("said"), bool):
            yield f"reports.{place}.value", "whether strain was said"


#: The catalogue may have changed since a version was published.
_OF_ANOTHER_TIME = {"no_such_task", "no_such_setting", "outside"}


def schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of the file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A client's practice",
        **_adapter().json_schema(mode="serialization"),
    }


__all__ = [
    "FORMAT",
    "VERSION",
    "OwnTaskRecord",
    "PracticeFile",
    "TaskRecord",
    "VersionRecord",
    "read_practice_file",
    "schema",
    "version_record",
    "write_practice_file",
]
