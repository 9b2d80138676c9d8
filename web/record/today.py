"""Today's practice and the remaining sessions."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from datetime import datetime, time, timedelta
from typing import TYPE_CHECKING, Any

from django.db.models import QuerySet
from django.utils import timezone

from reedcore.devices.levels import energetic_mean_db
from reedcore.measures import measures_with
from reedcore.safety import TIERS, Flag, Tier
from web.record.models import PrescribedTask

from .models import SelfReport, Session, Trial

if TYPE_CHECKING:
    from web.clients.models import Client

#: Ask once a week how much the voice was a bother.
BOTHER_EVERY = timedelta(days=7)
#: Number of vowels for a device's reference.
REFERENCE_VOWELS = 3
#: A session without an end counts as open for this long: longer than a session lasts.
OPEN_FOR = timedelta(minutes=30)


def tries_today(tasks: Iterable[PrescribedTask]) -> dict[int, list[Trial]]:
    """Return today's tries by the clinic's clock and by task key: oldest first, with their
    traces."""
    zone = timezone.get_current_timezone()
    midnight = datetime.combine(timezone.localdate(), time(), zone)
    by_key = {task.pk: task for task in tasks}
    found: dict[int, list[Trial]] = {key: [] for key in by_key}
    today = Trial.objects.counted().filter(
        task__in=by_key,
        performed_at__gte=midnight,
        performed_at__lt=midnight + timedelta(days=1),
    )
    for trial in today.select_related("trace").order_by("performed_at", "key"):
        trial.task = by_key[trial.task_id]  # Its programme and client are already loaded.
        found[trial.task_id].append(trial)
    return found


def open_session(client: Client, *, now: datetime) -> Session | None:
    """Return the client's open session on any device; None if there is none.

    A session that was left without an end counts for :data:`OPEN_FOR` after it was last taken up.
    """
    taken_up = client.sessions.filter(
        ended_at=None, place=Session.Place.HOME, claimed_at__gt=now - OPEN_FOR
    )
    return taken_up.order_by("-claimed_at").first()


def is_taken_over(session: Session) -> bool:
    """Return whether the client took up another session after this one, which has not ended."""
    if session.claimed_at is None or session.place != Session.Place.HOME:
        return False
    later = session.client.sessions.filter(
        ended_at=None, place=Session.Place.HOME, claimed_at__gt=session.claimed_at
    )
    return later.exclude(pk=session.pk).exists()


def measured_vowels(client: Client, capture: dict) -> QuerySet[Any]:
    """Return the comfortable vowels with a measured level on a take's device and browser."""
    return client.reference_vowels.filter(
        device=capture.get("device", ""),
        browser=capture.get("browser", ""),
        level_dbfs__isnull=False,
    )


def reference_dbfs(client: Client, capture: dict) -> float | None:
    """Return the energetic mean of a device's first three comfortable vowels; None for fewer than
    three, which are too few to compare with."""
    first = list(
        measured_vowels(client, capture).values_list("level_dbfs", flat=True)[:REFERENCE_VOWELS]
    )
    if len(first) < REFERENCE_VOWELS:
        return None
    return energetic_mean_db(first)


def asks_bother(client: Client, *, now: Any) -> bool:
    """Return whether the weekly question about bother is due."""
    is_recent = client.self_reports.filter(
        kind=SelfReport.Kind.BOTHER, said_at__gt=now - BOTHER_EVERY
    )
    return not is_recent.exists()


#: A device can ask about a stop after this long.
STOPS_KNOWN_FOR = timedelta(days=120)


def pausing_stops(client: Client) -> dict[str, bool]:
    """Return for the key of each pausing stop whether it still pauses."""
    rows = client.stops.filter(
        pauses=True, received_at__gte=timezone.now() - STOPS_KNOWN_FOR
    ).values_list("key", "cleared_at")
    return {str(key): cleared is None for key, cleared in rows}


def _midnight(client: Client, now: datetime) -> datetime:
    return datetime.combine(now.astimezone(client.zone).date(), time(), client.zone)


def flag_ending_today(client: Client, *, now: datetime) -> str:
    """Return the flag that ended today's practice, by the client's own day; empty without one."""
    today = client.stops.filter(said_at__gte=_midnight(client, now), cleared_at=None)
    for flags in today.exclude(tier=Tier.TELL_CLINICIAN).values_list("flags", flat=True):
        return min(flags, key=lambda code: list(Tier).index(TIERS[Flag(code)]))
    return ""


def sessions_today(client: Client, *, now: datetime) -> dict[str, int]:
    """Return how many sessions of each type were gone through to their end today, by the client's
    day."""
    today = client.sessions.filter(begun_at__gte=_midnight(client, now), ending=Session.Ending.DONE)
    return dict(Counter(today.values_list("sort", flat=True)))


def strain_today(client: Client, *, now: datetime) -> bool:
    """Return whether strain was reported today: no more loud work, on any device."""
    reports = client.self_reports.filter(kind=SelfReport.Kind.STRAIN)
    today = reports.filter(said_at__gte=_midnight(client, now))
    return today.filter(value__said=True).exists()


def voiced_today(client: Client, *, now: datetime) -> float:
    """Return today's seconds of voicing, by the client's own day, over all
    tasks: voiced time where a pitch was measured, else the length of the hold."""
    today = (
        client.trials.counted()
        .filter(performed_at__gte=_midnight(client, now))
        .exclude(task__measure__in=measures_with("is_air"))
    )
    rows = today.values_list("figures", "total_s")
    return float(sum(figures.get("load_s", held) or 0.0 for figures, held in rows))


def known_flags(client: Client) -> list[Flag]:
    """Return the flags of the newest screening, which are not new."""
    screen = client.screens.first()
    return [Flag(code) for code in screen.flags] if screen else []


def session_of(client: Any, key: Any) -> Session | None:
    """Return that session of this client."""
    return client.sessions.filter(pk=key).first()
