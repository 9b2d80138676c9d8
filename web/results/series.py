"""The series of a client with their titles, and the trials of some of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

from django.db.models import Count, Max

from reedcore.history import TrialRecord
from reedcore.history import series as core
from reedcore.measures import kind_of, measures_with
from web.practice.wording import title_of
from web.record.columns import SHOWN
from web.record.history import read_trials
from web.record.models import PrescribedTask
from web.record.models import Trial as TrialRow
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name

if TYPE_CHECKING:
    from web.clients.models import Client


@dataclass
class SeriesShown(core.Series):
    """A series with its presentation."""

    title: str = ""
    trials: int = 0
    newest: datetime | None = None
    last_version: int = 0
    in_force: bool = False


def series_of(client: Client, catalogue: Any) -> list[SeriesShown]:
    """Return every series of a client that was tried, those in force first, the newest first."""
    tasks = PrescribedTask.objects.filter(
        programme__client=client, measure__in=measures_with("figure")
    )
    tasks = tasks.select_related("programme").defer("programme__document")
    found: dict[str, SeriesShown] = {}
    newest = 0
    for task in tasks.order_by("programme__version", "position"):
        task.programme.client = client
        newest = max(newest, task.programme.version)
        key = core.series_key(task.task_code, task.note_midi, task.sound, task.measure)
        series = found.get(key)
        if series is None:
            prescribed = PrescribedRow(task, catalogue, version=task.programme.version)
            series = found[key] = SeriesShown(
                key=key,
                code=task.task_code,
                sound=task.sound,
                measure=task.measure,
                note_midi=task.note_midi,
                counts=task.counts,
                is_loud=prescribed.prescribed_item.is_loud,
                title=title_of(prescribed, note=note_name(task)),
            )
        series.targets[task.pk] = task.target_s
        series.counts = task.counts
        series.last_version = task.programme.version
    for series in found.values():
        series.in_force = series.last_version == newest
    _count(found, client)
    return sorted(
        (each for each in found.values() if each.trials),
        key=lambda each: (
            not each.in_force,
            not kind_of(each.measure).can_be_steady,
            -each.newest.timestamp() if each.newest else 0.0,
        ),
    )


def _count(found: dict[str, Any], client: Client) -> None:
    counted = TrialRow.objects.filter(client=client).exclude(role="poor").values("task")
    by_task = {
        each["task"]: each for each in counted.annotate(n=Count("key"), at=Max("performed_at"))
    }
    for series in found.values():
        here = [by_task[pk] for pk in series.targets if pk in by_task]
        series.trials = sum(each["n"] for each in here)
        series.newest = max((each["at"] for each in here), default=None)


def trials_of(
    client: Client, series: list[SeriesShown], columns: dict[str, Any] = SHOWN
) -> list[TrialRecord]:
    """Return every trial of these series, oldest first; deliberate poor ones are left out."""
    tasks = [pk for each in series for pk in each.targets]
    rows = TrialRow.objects.filter(client=client, task__in=tasks).exclude(role="poor")
    return read_trials(client, rows, columns)
