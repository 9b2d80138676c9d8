"""The whole clinic's practice as rows without names or dates."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any

from django.db.models import Min, QuerySet

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.formats.audit_csv import AuditRow
from reedcore.privacy import Traits, generalise_traits
from web.record.models import Trial
from web.results.hours import part_of_day

from .rows import breaks_of

if TYPE_CHECKING:
    from web.accounts.models import Clinic
    from web.clients.models import Client

_COLUMNS = (
    "performed_at", "task__programme__version", "task__programme__document__school",
    "task__task_code", "task__sound", "task__measure", "task__note_midi", "task__target_s", "set_s",
    "source", "total_s", "steady_s", "error_cents", "spread_cents", "breaks", "level_db", "outcome",
)  # fmt: skip
#: Rows per database fetch: the file is written as a stream.
AT_A_TIME = 2000


@dataclass(frozen=True)
class DeidentifiedPeople:
    """Traits that may be shown for each client, by key, and how many were withheld.

    Attributes:
        blurred: how many are shown with fewer traits than are on record.
        left_out: clients who would be unique with any trait shown.
    """

    shown: dict[int, Traits]
    blurred: int
    left_out: int


def _within(clinic: Clinic, first: date, last: date) -> QuerySet[Any]:
    begins = datetime.combine(first, time(), clinic.zone)
    ends = datetime.combine(last + timedelta(days=1), time(), clinic.zone)
    trials = Trial.objects.counted().filter(client__clinic=clinic).exclude(role="poor")
    return trials.filter(performed_at__gte=begins, performed_at__lt=ends)


def shown_of(clinic: Clinic, *, first: date, last: date) -> DeidentifiedPeople:
    """Return which clients with practice in these days may be in the file, with their traits."""
    practised = clinic.clients.filter(pk__in=_within(clinic, first, last).values("client"))
    known = {each.pk: Traits(each.age_band, each.voice, each.diagnosis) for each in practised}
    shown = generalise_traits(known)
    return DeidentifiedPeople(
        shown=shown,
        blurred=sum(traits != known[key] for key, traits in shown.items()),
        left_out=len(known) - len(shown),
    )


def audit_rows(clinic: Clinic, *, first: date, last: date) -> Iterator[AuditRow]:
    """Yield the tries of these days, person by person, deliberate poor ones left out."""
    trials = Trial.objects.counted().filter(client__clinic=clinic).exclude(role="poor")
    began = dict(trials.values_list("client").annotate(at=Min("performed_at")).order_by())
    within = _within(clinic, first, last)
    shown = shown_of(clinic, first=first, last=last).shown
    people = list(clinic.clients.filter(pk__in=shown))
    secrets.SystemRandom().shuffle(people)
    for number, client in enumerate(people, start=1):
        rows = within.filter(client=client).order_by("performed_at", "key")
        for row in rows.values_list(*_COLUMNS).iterator(chunk_size=AT_A_TIME):
            yield _row(row, client, shown[client.pk], number, began[client.pk])


def _round_to(value: float | None, step: float) -> float | None:
    """Return a rounded value, because the last digits of a figure could identify a client."""
    return None if value is None else round(value / step) * step


def _task(code: str, sound: str) -> str:
    """Replace the name of a task of the clinic's own: it may contain a person's name."""
    if not code:
        return f"hold {sound}"
    return code if code in shipped_tasks() else "a task of the clinic's own"


def _row(
    row: tuple[Any, ...], client: Client, traits: Traits, number: int, began: datetime
) -> AuditRow:
    (
        at, version, school, code, sound, measure, midi, target_s, set_s, source, total_s,
        steady_s, error, spread, breaks, level, outcome,
    ) = row  # fmt: skip
    local = at.astimezone(client.zone)
    return AuditRow(
        person=number,
        age_band=traits.age_band,
        voice=traits.voice,
        diagnosis=traits.diagnosis,
        school=school or "",
        week=(local.date() - began.astimezone(client.zone).date()).days // 7,
        part_of_day=part_of_day(local.hour),
        programme_version=version,
        task=_task(code, sound),
        measure=measure,
        note_midi=midi,
        source=source,
        target_s=set_s or target_s,
        total_s=_round_to(total_s, 0.5),
        steady_s=_round_to(steady_s, 0.5),
        pitch_error_cents=_round_to(error, 5),
        pitch_spread_cents=_round_to(spread, 5),
        breaks=breaks_of(source, total_s, breaks),
        level_db=_round_to(level, 1),
        outcome=outcome,
    )
