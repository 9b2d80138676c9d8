"""The whole clinic's practice as rows without names or dates."""

import secrets
from collections.abc import Iterator
from datetime import date, datetime, time, timedelta

from django.db.models import Min

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.formats.audit_csv import AuditRow
from web.practice.models import Trial
from web.results.hours import part_of_day

from .rows import breaks_of

_COLUMNS = (
    "performed_at", "task__programme__version", "task__programme__document__school",
    "task__task_code", "task__sound", "task__measure", "task__note_midi", "task__target_s", "set_s",
    "source", "total_s", "steady_s", "error_cents", "spread_cents", "breaks", "level_db", "outcome",
)  # fmt: skip
#: Rows fetched from the database at a time: the file is written as it comes.
AT_A_TIME = 2000


def audit_rows(clinic, *, first: date, last: date) -> Iterator[AuditRow]:
    """The tries of these days, person by person, deliberate poor ones left out."""
    people = list(clinic.clients.all())
    secrets.SystemRandom().shuffle(people)
    trials = Trial.objects.filter(client__in=people).exclude(role="poor")
    began = dict(trials.values_list("client").annotate(at=Min("performed_at")).order_by())
    begins = datetime.combine(first, time(), clinic.zone)
    ends = datetime.combine(last + timedelta(days=1), time(), clinic.zone)
    within = trials.filter(performed_at__gte=begins, performed_at__lt=ends)
    for number, client in enumerate(people, start=1):
        rows = within.filter(client=client).order_by("performed_at", "key")
        for row in rows.values_list(*_COLUMNS).iterator(chunk_size=AT_A_TIME):
            yield _row(row, client, number, began[client.pk])


def _task(code, sound):
    """A task of the clinic's own may be named after somebody."""
    if not code:
        return f"hold {sound}"
    return code if code in shipped_tasks() else "a task of the clinic's own"


def _row(row, client, number, began):
    (
        at, version, school, code, sound, measure, midi, target_s, set_s, source, total_s,
        steady_s, error, spread, breaks, level, outcome,
    ) = row  # fmt: skip
    local = at.astimezone(client.zone)
    return AuditRow(
        person=number,
        age_band=client.age_band,
        voice=client.voice,
        diagnosis=client.diagnosis,
        school=school or "",
        day=(local.date() - began.astimezone(client.zone).date()).days,
        part_of_day=part_of_day(local.hour),
        programme_version=version,
        task=_task(code, sound),
        measure=measure,
        note_midi=midi,
        source=source,
        target_s=set_s or target_s,
        total_s=total_s,
        steady_s=steady_s,
        pitch_error_cents=error,
        pitch_spread_cents=spread,
        breaks=breaks_of(source, total_s, breaks),
        level_db=level,
        outcome=outcome,
    )
