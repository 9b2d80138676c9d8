"""Everything that the cases of some clients rest on, read at once.

The number of queries does not depend on how many clients, tasks or trials there are.
"""

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import NamedTuple
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db.models import Q

from reedcore.decisions import Settings, settings_with
from reedcore.safety import Tier
from web.catalogue.queries import every_task
from web.clients.models import Client, Screen, Stop, Target
from web.practice.models import SelfReport, Session, Trial
from web.programmes.models import PrescribedTask, Programme

from .models import ClientStatus, Decision, RuleSettings

#: The rules hold seven days against the 28 before, also for a decline that began weeks ago.
LOOK_BACK = timedelta(days=63)
WEEK = timedelta(days=7)


class Tried(NamedTuple):
    """What is read of a trial."""

    key: UUID
    client: int
    task: int
    session: UUID | None
    at: datetime
    outcome: str
    set_s: float | None
    total_s: float | None
    steady_s: float | None
    level_db: float | None
    lean_cents: float | None
    spread_cents: float | None
    breaks: list
    role: str
    device: str | None
    on: date


class Said(NamedTuple):
    """What is read of a report."""

    key: UUID
    client: int
    kind: str
    task: int | None
    value: object
    at: datetime
    session: UUID | None
    on: date


class Sat(NamedTuple):
    """What is read of a session."""

    key: UUID
    client: int
    sort: str
    day: str
    ending: str
    done: int
    planned: int
    at: datetime
    on: date


@dataclass
class History:
    """One client's own part of it, oldest first."""

    client: Client
    catalogue: dict
    settings: Settings
    programme: Programme | None = None
    #: (from which day, the dose as its document says it) of each version, oldest first.
    doses: list[tuple[date, dict | None]] = field(default_factory=list)
    before: dict[str, float] = field(default_factory=dict)
    since: dict[tuple, date] = field(default_factory=dict)
    trials: dict[tuple, list[Tried]] = field(default_factory=lambda: defaultdict(list))
    reports: dict[tuple[str, str], list[Said]] = field(default_factory=lambda: defaultdict(list))
    sessions: list[Sat] = field(default_factory=list)
    #: Those that nobody has cleared; :attr:`said` holds those of the window that were, as well.
    stops: list[Stop] = field(default_factory=list)
    said: list[Stop] = field(default_factory=list)
    #: When the last red flag was cleared or declared safe: evidence starts anew then.
    cleared_at: datetime | None = None
    screen_flags: tuple[str, ...] = ()
    goal_s: float | None = None
    #: What was taken, refused or undone within the look back; the newest last.
    decisions: list[Decision] = field(default_factory=list)
    status: ClientStatus | None = None
    #: Due days missed in a row and adherence, once they are worked out: they hold for every task.
    kept: tuple[int, float | None] | None = None
    tasks: dict[int, PrescribedTask] = field(default_factory=dict)

    @property
    def zone(self) -> ZoneInfo:
        return self.client.zone

    def day(self, moment: datetime) -> date:
        """The day it was where the client lives."""
        return moment.astimezone(self.zone).date()


def series(task: PrescribedTask) -> tuple:
    """Results are never joined across task, note and sound (MEASURES §5.10)."""
    return task.task_code, task.note_midi, task.sound, task.measure


def histories(clients: list[Client], *, now: datetime) -> dict[int, History]:
    """The history of each of these clients of one clinic, by the client's key."""
    if not clients:
        return {}
    catalogue = every_task(clients[0].clinic)
    keys = [client.pk for client in clients]
    rules = dict(RuleSettings.objects.filter(client__in=keys).values_list("client", "changed"))
    found = {
        client.pk: History(client, catalogue, settings_with(rules.get(client.pk, {})))
        for client in clients
    }
    _programmes(found, keys, now)
    since = now - LOOK_BACK
    zones = {client.pk: client.zone for client in clients}
    tried = _trials(keys, since, zones)
    reports = _reports(keys, since, zones)
    tasks = _tasks({each.task for each in tried} | {each.task for each in reports if each.task})
    for each in tried:
        if each.role != "poor":
            found[each.client].trials[series(tasks[each.task])].append(each)
    for each in reports:
        code = tasks[each.task].task_code if each.task else ""
        found[each.client].reports[each.kind, code].append(each)
    for each in sessions_since(keys, since, zones):
        found[each.client].sessions.append(each)
    for history in found.values():
        history.tasks = tasks
    _rest(found, keys, since)
    return found


def _programmes(found, keys, now):
    in_force = Programme.objects.filter(client__in=keys, withdrawn_at=None)
    newest = in_force.order_by("client_id", "-version")
    for programme in newest.distinct("client_id").prefetch_related("tasks"):
        history = found[programme.client_id]
        programme.client = history.client
        for task in programme.tasks.all():
            task.programme = programme
        history.programme = programme
    every = in_force.order_by("version")
    for client, at, dose in every.values_list("client", "published_at", "document__dose"):
        found[client].doses.append((found[client].day(at), dose))
    # seven days ago; within the first week what it began with, which the cap covers too
    first = in_force.order_by("client_id", "version").distinct("client_id")
    week_old = in_force.filter(published_at__lte=now - WEEK)
    earlier = week_old.order_by("client_id", "-version").distinct("client_id")
    held = PrescribedTask.objects.filter(target_s__isnull=False).filter(
        Q(programme__in=first.values("pk")) | Q(programme__in=earlier.values("pk"))
    )
    for client, code, seconds in held.order_by("programme__version").values_list(
        "programme__client", "task_code", "target_s"
    ):
        found[client].before[code] = seconds
    _same_target(found, keys)


def _same_target(found, keys):
    """Since when each series has been asked for the seconds it is asked for now."""
    versions = PrescribedTask.objects.filter(
        programme__client__in=keys, programme__withdrawn_at=None, target_s__isnull=False
    )
    rows = versions.order_by("programme__version").values_list(
        "programme__client", "programme__published_at", "task_code", "note_midi", "sound",
        "measure", "target_s",
    )  # fmt: skip
    asked = {}
    for client, at, *of, seconds in rows:
        which = client, tuple(of)
        if asked.get(which, (None, None))[0] != seconds:
            asked[which] = seconds, at
    for (client, of), (_, at) in asked.items():
        found[client].since[of] = found[client].day(at)


def _trials(keys, since, zones):
    rows = Trial.objects.filter(client__in=keys, performed_at__gte=since)
    return [
        Tried(*row, on=row[4].astimezone(zones[row[1]]).date())
        for row in rows.order_by("performed_at", "key").values_list(
            "key", "client", "task", "session", "performed_at", "outcome", "set_s", "total_s",
            "steady_s", "level_db", "end_error_cents", "spread_cents", "breaks", "role",
            "capture__device",
        )
    ]  # fmt: skip


def _reports(keys, since, zones):
    rows = SelfReport.objects.filter(client__in=keys, said_at__gte=since).order_by("said_at", "key")
    return [
        Said(*row, on=row[5].astimezone(zones[row[1]]).date())
        for row in rows.values_list("key", "client", "kind", "task", "value", "said_at", "session")
    ]


def sessions_since(keys, since, zones):
    rows = Session.objects.filter(client__in=keys, begun_at__gte=since).order_by("begun_at", "key")
    return [
        Sat(*row, on=row[7].astimezone(zones[row[1]]).date())
        for row in rows.values_list(
            "key", "client", "sort", "day", "ending", "items_done", "items_planned", "begun_at"
        )
    ]


def _tasks(keys):
    return {task.pk: task for task in PrescribedTask.objects.filter(pk__in=keys)}


def _rest(found, keys, since):
    known = Stop.objects.filter(client__in=keys).filter(
        Q(cleared_at=None) | Q(cleared_at__gte=since) | Q(received_at__gte=since)
    )
    for stop in known:
        history = found[stop.client_id]
        if stop.cleared_at is None:
            history.stops.append(stop)
        history.said.append(stop)
        if stop.taken_back_at is None and stop.cleared_at is not None and stop.pauses:
            history.cleared_at = max(stop.cleared_at, history.cleared_at or stop.cleared_at)
    screens = Screen.objects.filter(client__in=keys).order_by("client_id", "-asked_at", "-pk")
    for screen in screens.distinct("client_id"):
        history = found[screen.client_id]
        history.screen_flags = tuple(screen.open_flags)
        if screen.flags and screen.safe_at is not None:
            history.cleared_at = max(screen.safe_at, history.cleared_at or screen.safe_at)
    goals = Target.objects.filter(client__in=keys, kind="hold")
    for target in goals.order_by("client_id", "-decided_at", "-pk").distinct("client_id"):
        found[target.client_id].goal_s = (target.values or {}).get("goal_s")
    made = Decision.objects.filter(client__in=keys).filter(
        Q(decided_at__gte=since) | Q(undone_at__gte=since)
    )
    for decision in made.order_by("decided_at", "pk").select_related("task"):
        found[decision.client_id].decisions.append(decision)
    for status in ClientStatus.objects.filter(client__in=keys):
        found[status.client_id].status = status


def red_flags(history: History) -> tuple[str, ...]:
    """Keys of what lets nothing advance; a session that was merely ended does."""
    ended = Tier.END_SESSION.value
    stops = [str(stop.key) for stop in history.stops if stop.pauses or stop.tier != ended]
    return (*stops, *history.screen_flags)


def open_flags(history: History) -> list[str]:
    """What was said, by its codes."""
    said = [code for stop in history.stops for code in stop.flags]
    return list(dict.fromkeys([*said, *history.screen_flags]))
