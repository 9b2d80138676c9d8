"""A client's history, read into the core's values: here and nowhere else.

The number of queries does not depend on how many clients, tasks or trials there are.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.db.models import Max, Q, QuerySet
from django.db.models.functions import Coalesce, TruncDate
from orjson import loads

from reedcore.catalogue.tasks import Task
from reedcore.decisions import Settings, changed_settings
from reedcore.history import (
    LONG_LOOK_BACK,
    LOOK_BACK,
    DecisionRecord,
    History,
    LongestOfDay,
    Report,
    Screening,
    SessionRecord,
    StopRecord,
    TrialRecord,
    Version,
)  # fmt: skip
from reedcore.programme.document_values import doses_from
from reedcore.programme.prescribed_item import PrescribedItem
from web.baseline.models import Target
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.record.models import PrescribedTask, ProgrammeVersion
from web.record.programmes import load_prescribed_item
from web.screening import models as screening

from . import models
from .columns import ALONE, AS_TEXT, DAYS, DECISION, RULED, SELDOM, SESSION, SHOWN, STOP


@dataclass(frozen=True)
class ClientSnapshot:
    """A client's history for the rules, with the rows that a decision writes to."""

    client: Client
    history: History
    settings: Settings
    catalogue: dict[str, Task]
    programme: ProgrammeVersion | None

    def task(self, prescribed: PrescribedItem | None) -> PrescribedTask | None:
        """Return the row of a task in force."""
        if self.programme is None or prescribed is None:
            return None
        return next(
            (each for each in self.programme.tasks.all() if each.pk == prescribed.key), None
        )


def load_snapshots(whom: list[Client], *, now: datetime) -> dict[int, ClientSnapshot]:
    """Return the data for the rules of each of these clients of one clinic, by the client's key."""
    if not whom:
        return {}
    catalogue = all_tasks(whom[0].clinic)
    keys, since = [client.pk for client in whom], now - LOOK_BACK
    by_key = {client.pk: client for client in whom}
    rules = dict(
        models.RuleSettings.objects.filter(client__in=keys).values_list("client", "changed")
    )
    current = _current(by_key)
    versions = _versions(by_key, catalogue, current, since=since)
    trials = _rows_by_client(
        by_key, models.Trial.objects.counted().filter(performed_at__gte=since), RULED
    )
    reports = _reports(by_key, since)
    earlier = _earlier(by_key, now)
    more = _tasks_of_older_versions(versions, trials, reports, earlier, catalogue)
    parts: dict[str, dict[int, list[Any]]] = {
        "sessions": _sessions(by_key, since),
        "stops": _stops(by_key, since),
        "screens": _screens(by_key, is_newest=True),
        "decisions": _decisions(by_key, since),
    }
    goals, rested = _goals(keys), _rest_days(whom)
    return {
        client.pk: ClientSnapshot(
            client=client,
            history=History(
                zone=str(client.zone),
                versions=tuple(versions[client.pk]),
                trials=tuple(trials[client.pk]),
                reports=tuple(reports[client.pk]),
                goal_s=goals.get(client.pk),
                more=more,
                earlier=_longest_by_series(earlier[client.pk], versions[client.pk], more),
                rested=rested.get(client.pk, ()),
                **{name: tuple(found[client.pk]) for name, found in parts.items()},
            ),
            settings=changed_settings(rules.get(client.pk, {})),
            catalogue=catalogue,
            programme=current.get(client.pk),
        )
        for client in whom
    }


def whole_history(client: Client, catalogue: dict[str, Task]) -> History:
    """Return everything on record of one client's practice."""
    by_key = {client.pk: client}
    rows = client.programmes.order_by("version").prefetch_related("tasks")
    versions = []
    for programme in rows:
        versions.append(_version(client, programme, catalogue))
    return History(
        zone=str(client.zone),
        versions=tuple(versions),
        trials=tuple(read_trials(client, client.trials.counted(), SHOWN)),
        sessions=tuple(_sessions(by_key)[client.pk]),
        stops=tuple(_stops(by_key)[client.pk]),
        reports=tuple(_reports(by_key)[client.pk]),
        screens=tuple(_screens(by_key)[client.pk]),
        decisions=tuple(_decisions(by_key)[client.pk]),
        goal_s=_goals([client.pk]).get(client.pk),
    )


def practice_of(client: Client, *, since: datetime) -> History:
    """Return doses, sessions, stops, and trials without a session."""
    by_key = {client.pk: client}
    rows = client.programmes.order_by("version").values_list(
        "version", "published_at", "document__dose", "document__beside", "withdrawn_at"
    )
    versions = [
        Version(
            number,
            at,
            _day(client, at),
            doses_from(dose, beside or {}),
            is_withdrawn=gone is not None,
        )
        for number, at, dose, beside, gone in rows
    ]
    alone = client.trials.counted().filter(session=None, performed_at__gte=since)
    return History(
        zone=str(client.zone),
        versions=tuple(versions),
        trials=tuple(read_trials(client, alone, ALONE)),
        sessions=tuple(_sessions(by_key, since, DAYS)[client.pk]),
        stops=tuple(_stops(by_key, since)[client.pk]),
    )


def read_trials(
    client: Client, rows: QuerySet[Any], columns: dict[str, Any] = SHOWN
) -> list[TrialRecord]:
    """Return these trials of one client as values, oldest first."""
    names, zone = tuple(columns), client.zone
    read = rows.order_by("performed_at", "key").values_list(*columns.values())
    return [_trial(names, row, zone) for row in read]


def _trial(names: tuple[Any, ...], row: list[Any] | tuple[Any, ...], zone: ZoneInfo) -> TrialRecord:
    values = dict(zip(names, row, strict=True))
    for name in SELDOM:
        if values.get(name, row) is None:
            del values[name]
    for name in AS_TEXT:
        if name in values:
            values[name] = loads(values[name])
    if "device_alone" in values:
        values["capture"] = {"device": values.pop("device_alone")}
    return TrialRecord(on=values["at"].astimezone(zone).date(), **values)


def _rows_by_client(by_key: dict[int, Client], rows: QuerySet[Any], columns: dict[str, Any]) -> Any:
    """Return one query for all of them."""
    found = defaultdict(list)
    names = tuple(columns)
    zones = {key: client.zone for key, client in by_key.items()}
    ordered = rows.filter(client__in=by_key).order_by("performed_at", "key")
    for client, *row in ordered.values_list("client", *columns.values()):
        found[client].append(_trial(names, row, zones[client]))
    return found


def _day(client: Client, moment: datetime) -> date:
    return moment.astimezone(client.zone).date()


def _current(by_key: dict[int, Client]) -> dict[int, ProgrammeVersion]:
    """Return the version in force of each, with its tasks."""
    in_force = ProgrammeVersion.objects.filter(client__in=by_key, withdrawn_at=None)
    newest = in_force.order_by("client_id", "-version").distinct("client_id")
    found = {}
    for programme in newest.prefetch_related("tasks"):
        programme.client = by_key[programme.client_id]
        for task in programme.tasks.all():
            task.programme = programme
        found[programme.client_id] = programme
    return found


def _version(client: Client, programme: ProgrammeVersion, catalogue: dict[str, Task]) -> Version:
    programme.client = client
    tasks = list(programme.tasks.all())
    for task in tasks:
        task.programme = programme
    return Version(
        number=programme.version,
        at=programme.published_at,
        on=_day(client, programme.published_at),
        doses=doses_from(programme.document.get("dose"), programme.document.get("beside", {})),
        programme=programme.prescribed,
        tasks=tuple(load_prescribed_item(task, catalogue) for task in tasks),
        is_withdrawn=programme.withdrawn_at is not None,
        reason=programme.reason,
    )


def _versions(by_key: Any, catalogue: Any, current: Any, *, since: Any) -> dict[int, list[Version]]:
    """Return those in force within the look back; of the older ones only the dose and the tasks."""
    found: dict[int, list[tuple[int, Version]]] = defaultdict(list)
    rows = ProgrammeVersion.objects.filter(client__in=by_key, withdrawn_at=None).order_by("version")
    for key, client, number, at, dose, beside in rows.values_list(
        "pk", "client", "version", "published_at", "document__dose", "document__beside"
    ):
        version = Version(number, at, _day(by_key[client], at), doses_from(dose, beside or {}))
        if found[client] and at < since:
            found[client] = []  # Another version was in force before the period.
        found[client].append((key, version))
    kept = {key: client for client, of in found.items() for key, _ in of}
    tasks = defaultdict(list)
    for task in PrescribedTask.objects.filter(programme__in=kept).order_by("position", "pk"):
        tasks[task.programme_id].append(task)
    return {
        client: [
            _version(by_key[client], current[client], catalogue)
            if current[client].pk == key
            else replace(
                version,
                tasks=tuple(
                    load_prescribed_item(each, {}, version=version.number) for each in tasks[key]
                ),
            )
            for key, version in of
        ]
        for client, of in found.items()
    } | {client: [] for client in by_key if client not in found}


def _prescribed_in_old_versions(
    keys: Iterable[int], catalogue: dict[str, Task]
) -> tuple[PrescribedItem, ...]:
    """Return prescribed tasks by key, without the settings in their documents."""
    rows = PrescribedTask.objects.filter(pk__in=keys).select_related("programme")
    return tuple(
        load_prescribed_item(task, catalogue, version=task.programme.version)
        for task in rows.defer("programme__document").order_by("programme__version", "position")
    )


def _earlier(by_key: dict[int, Client], now: datetime) -> Any:
    """Return each day's longest hold of each task in the half year before the look back, by client:
    (day, task, longest of all seconds, longest of the steady ones)."""
    found = defaultdict(list)
    zones = defaultdict(list)
    for client in by_key.values():
        zones[client.zone].append(client.pk)
    rows = models.Trial.objects.counted().filter(
        performed_at__gte=now - LONG_LOOK_BACK, performed_at__lt=now - LOOK_BACK,
        total_s__isnull=False,
    ).exclude(role="poor")  # fmt: skip
    for zone, keys in zones.items():
        days = rows.filter(client__in=keys).annotate(day=TruncDate("performed_at", tzinfo=zone))
        longest = days.values("client", "day", "task").annotate(
            total=Max("total_s"), steady=Max(Coalesce("steady_s", "total_s"))
        )
        for each in longest.order_by("day", "task"):
            found[each["client"]].append((each["day"], each["task"], each["total"], each["steady"]))
    return found


def _longest_by_series(
    earlier: list[Any], versions: list[Any], more: tuple[Any, ...]
) -> dict[Any, Any]:
    """Return the same as the core has it: the longest of a day, by series."""
    prescribed_items = {task.key: task for task in more}
    prescribed_items |= {task.key: task for version in versions for task in version.tasks}
    found: defaultdict[Any, dict[date, LongestOfDay]] = defaultdict(dict)
    for day, key, total, steady in earlier:
        prescribed = prescribed_items.get(key)
        if prescribed is None:
            continue
        held = steady if prescribed.counts == "steady" else total
        before = found[prescribed.series].get(day)
        if before is None or before.held_s < held:
            found[prescribed.series][day] = LongestOfDay(day, held, prescribed.target_s)
    return {series: tuple(days[day] for day in sorted(days)) for series, days in found.items()}


def _rest_days(whom: list[Client]) -> dict[int, tuple[tuple[date, date], ...]]:
    """Return the days of voice rest, from the entry to its end."""
    found: dict[int, tuple[tuple[date, date], ...]] = {}
    for client in whom:
        if (until := client.voice_rest_until) is None:
            continue
        rows = client.history.filter(voice_rest_until=until)
        since = rows.order_by("history_date").values_list("history_date", flat=True).first()
        if since is not None:
            found[client.pk] = ((_day(client, since), until),)
    return found


def _tasks_of_older_versions(
    versions: dict[int, Any], trials: Any, reports: Any, earlier: Any, catalogue: dict[str, Task]
) -> tuple[Any, ...]:
    """Return tasks of versions outside the query that still have practice."""
    known = {task.key for of in versions.values() for each in of for task in each.tasks}
    named = {each.task for of in trials.values() for each in of}
    named |= {task for of in earlier.values() for _, task, _, _ in of}
    named |= {each.task for of in reports.values() for each in of if each.task}
    return _prescribed_in_old_versions(named - known, catalogue) if named - known else ()


def _reports(by_key: dict[int, Client], since: datetime | None = None) -> dict[int, list[Report]]:
    rows = models.SelfReport.objects.filter(client__in=by_key).order_by("said_at", "key")
    if since is not None:
        rows = rows.filter(said_at__gte=since)
    found = defaultdict(list)
    for client, key, kind, value, at, session, task in rows.values_list(
        "client", "key", "kind", "value", "said_at", "session", "task"
    ):
        found[client].append(Report(key, kind, value, at, _day(by_key[client], at), session, task))
    return found


def _sessions(
    by_key: dict[int, Client], since: datetime | None = None, columns: dict[str, Any] = SESSION
) -> dict[int, list[SessionRecord]]:
    rows = models.Session.objects.filter(client__in=by_key).order_by("begun_at", "key")
    if since is not None:
        rows = rows.filter(begun_at__gte=since)
    found = defaultdict(list)
    for client, *row in rows.values_list("client", *columns.values()):
        values = dict(zip(columns, row, strict=True))
        found[client].append(SessionRecord(on=_day(by_key[client], values["at"]), **values))
    return found


def _stops(by_key: dict[int, Client], since: datetime | None = None) -> dict[int, list[StopRecord]]:
    rows = screening.Stop.objects.filter(client__in=by_key).order_by("said_at", "key")
    if since is not None:
        rows = rows.filter(
            Q(cleared_at=None) | Q(cleared_at__gte=since) | Q(received_at__gte=since)
        )
    found = defaultdict(list)
    for client, *row in rows.values_list("client", *STOP.values()):
        values = dict(zip(STOP, row, strict=True))
        found[client].append(StopRecord(**{**values, "flags": tuple(values["flags"])}))
    return found


def _screens(by_key: dict[int, Client], *, is_newest: bool = False) -> dict[int, list[Screening]]:
    rows = screening.Screen.objects.filter(client__in=by_key)
    if is_newest:
        rows = rows.order_by("client_id", "-asked_at", "-pk").distinct("client_id")
    else:
        rows = rows.order_by("asked_at", "pk")
    found = defaultdict(list)
    for screen in rows:
        found[screen.client_id].append(
            Screening(
                screen.asked_at,
                tuple(screen.flags),
                tuple(screen.open_flags),
                screen.safe_at,
                note=screen.note,
                safe_because=screen.safe_because,
                referred_at=screen.referred_at,
                referred_to=screen.referred_to,
            )
        )
    return found


def _decisions(
    by_key: dict[int, Client], since: datetime | None = None
) -> dict[int, list[DecisionRecord]]:
    rows = models.Decision.objects.filter(client__in=by_key).order_by("decided_at", "pk")
    if since is not None:
        rows = rows.filter(Q(decided_at__gte=since) | Q(undone_at__gte=since))
    found = defaultdict(list)
    for client, *row in rows.values_list("client", *DECISION.values()):
        values = dict(zip(DECISION, row, strict=True))
        found[client].append(DecisionRecord(**{**values, "evidence": tuple(values["evidence"])}))
    return found


def _goals(keys: list[int]) -> dict[int, float | None]:
    """Return the hold goal accepted last."""
    rows = Target.objects.filter(client__in=keys, kind="hold")
    newest = rows.order_by("client_id", "-decided_at", "-pk").distinct("client_id")
    return {target.client_id: (target.values or {}).get("goal_s") for target in newest}
