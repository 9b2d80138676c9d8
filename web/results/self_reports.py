"""Practice that is reported, not measured: breaths, counts, repetitions, ticks, felt checks."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from web.practice.result_words import AFTER_BREATH, FELT, reported_words
from web.practice.wording import title_of
from web.record.models import PrescribedTask, SelfReport, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from web.clients.models import Client

#: Days shown on the page; the files contain all.
MOST_DAYS, READ_DAYS = 28, 182


@dataclass
class ReportedDay:
    """Reports about one task on one day."""

    on: date
    title: str
    done: list[str] = field(default_factory=list)
    felt: list[str] = field(default_factory=list)


def recent_reports(
    client: Client, catalogue: dict[str, Task], *, today: date
) -> list[tuple[date, list[ReportedDay]]]:
    """Return the newest self-reports by day, as many as fit on a page, from at most half a
    year."""
    return days_of(reports_between(client, catalogue, first=today - timedelta(days=READ_DAYS)))


def reports_between(
    client: Client, catalogue: Any, *, first: Any = None, last: Any = None, session: Any = None
) -> list[ReportedDay]:
    """Return reported practice, the newest day first; ``first`` and ``last`` are days,
    included."""
    zone = client.zone
    found: dict[tuple, ReportedDay] = {}
    trials = Trial.objects.filter(client=client, source=Trial.Source.TOLD)
    reports = SelfReport.objects.filter(client=client, kind__in=_SAID).exclude(task=None)
    if first is not None:
        since = datetime.combine(first, time(), zone)
        trials = trials.filter(performed_at__gte=since)
        reports = reports.filter(said_at__gte=since)
    if session is not None:
        trials, reports = trials.filter(session=session), reports.filter(session=session)
    done = list(
        trials.order_by("performed_at", "key").values_list("task", "performed_at", "figures")
    )
    rows = list(reports.order_by("said_at", "key").values_list("task", "said_at", "kind", "value"))
    titles = _titles({row[0] for row in (*done, *rows)}, client, catalogue)

    def of(task: Any, at: Any) -> Any:
        day = at.astimezone(zone).date()
        if (first and day < first) or (last and day > last):
            return None
        return found.setdefault((day, titles[task]), ReportedDay(day, titles[task]))

    for task, at, figures in done:
        if (day := of(task, at)) is not None:
            day.done.append(reported_words(figures))
    for task, at, kind, value in rows:
        if (day := of(task, at)) is not None:
            day.felt.append(_SAID[SelfReport.Kind(kind)](value))
    return sorted(found.values(), key=lambda each: each.on, reverse=True)


def microphone_check(client: Client) -> dict[str, Any] | None:
    """Return the newest microphone check at home with its day; None if there was none."""
    found = client.self_reports.filter(kind=SelfReport.Kind.MICROPHONE).order_by("-said_at").first()
    if found is None:
        return None
    above = found.value["voice_dbfs"] - found.value["room_dbfs"]
    return {"on": found.said_at, "above_db": above, **found.value}


def _titles(keys: set[Any], client: Client, catalogue: dict[str, Task]) -> dict[int, str]:
    """Return the titles of these tasks; each programme's document is read once."""
    if not keys:
        return {}
    tasks = PrescribedTask.objects.prefetch_related("programme").in_bulk(keys)
    for task in tasks.values():
        task.programme.client = client
    return {
        key: title_of(PrescribedRow(task, catalogue), note=note_name(task))
        for key, task in tasks.items()
    }


def days_of(days: list[ReportedDay]) -> list[tuple[date, list[ReportedDay]]]:
    """Return the number per day."""
    by_day = defaultdict(list)
    for each in days:
        by_day[each.on].append(each)
    return list(by_day.items())[:MOST_DAYS]


_SAID = {
    SelfReport.Kind.FELT: lambda value: FELT[value],
    SelfReport.Kind.BREATH: lambda value: AFTER_BREATH[value],
    SelfReport.Kind.DEPTH: lambda value: gettext("{value:g} cm deep").format(value=value),
}
