"""Sessions due on each day, and their outcome."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from reedcore.dose import Dose, DoseKind
from reedcore.dose.adherence import Outcome, SlotAdherence, adherence
from reedcore.dose.slots import due_dates

from .history import History
from .values import SessionRecord, StopRecord

FORTNIGHT = 14
#: (first day, the sessions that a version's document asks for).
Doses = Sequence[tuple[date, Sequence[Dose]]]


#: Sessions that fill no slot: extra ones, and those on a trigger.
NO_SLOT = ("extra", "reset", "event")


def due_days(history: History, today: date) -> dict[date, int]:
    """Return how many sessions were due on each past day, by the version that was in force
    on it."""
    found: dict[date, int] | None = history.cache.get(("due", today))
    if found is None:
        doses = [(version.on, tuple(version.doses.values())) for version in history.in_force]
        pauses = [*pauses_of(history.stops, ZoneInfo(history.zone), today), *history.rested]
        found = history.cache["due", today] = dict(due_by_doses(doses, today, pauses))
    return found


def pauses_of(stops: Iterable[StopRecord], zone: ZoneInfo, today: date) -> list[tuple[date, date]]:
    """Return the days, both included, on which practice is paused: from a stop to the day it
    is cleared, or to today."""
    return [
        (
            stop.said_at.astimezone(zone).date(),
            stop.cleared_at.astimezone(zone).date() if stop.cleared_at else today,
        )
        for stop in stops
        # A stop withdrawn at once did not pause practice.
        if stop.pauses and (stop.cancelled_at is None or stop.cancelled_at != stop.cleared_at)
    ]


def due_by_doses(doses: Doses, until: date, pauses: Sequence[tuple[date, date]]) -> dict[date, int]:
    """Return the number of sessions due on each day before ``until``, by the doses of successive
    versions.

    Nothing is due while the programme is paused: those days are excused, not missed.
    """
    due: dict[date, int] = defaultdict(int)
    ends = [*(day for day, _ in doses[1:]), until]
    for (first, value), end in zip(doses, ends, strict=False):
        if not value or first == end:
            continue
        for dose in value:
            if dose.kind is DoseKind.ON_DEMAND:
                continue
            for day in due_dates(dose, first=first, until=end - timedelta(days=1)):
                if not any(begun <= day <= cleared for begun, cleared in pauses):
                    due[day] += dose.a_day
    return due


def sessions_by_day(sessions: Iterable[SessionRecord]) -> dict[date, list[SessionRecord]]:
    """Return the programme's sessions by the client's day; extra ones separately."""
    found: dict[date, list[SessionRecord]] = defaultdict(list)
    for session in sessions:
        if session.sort not in NO_SLOT:
            found[session.on].append(session)
    return found


def slots_of_day(sessions: Iterable[SessionRecord], due: int) -> list[SlotAdherence]:
    """Return the slots of a day with their sessions, the fullest first."""
    kept = sorted(
        (_session_adherence(session) for session in sessions), key=lambda each: -each.fraction
    )
    kept = kept[:due]
    return kept + [SlotAdherence(Outcome.MISSED)] * (due - len(kept))


def _session_adherence(session: SessionRecord) -> SlotAdherence:
    if session.day == "rest":
        return SlotAdherence(Outcome.EXCUSED, 1.0)
    if session.ending == "done":
        return SlotAdherence(Outcome.SHORT if session.sort == "short" else Outcome.DONE, 1.0)
    return SlotAdherence(
        Outcome.PARTIAL, session.done / session.planned if session.planned else 0.0
    )


def adherence_between(history: History, first: date, until: date) -> float | None:
    """Return the adherence to the slots due from ``first`` to the day before ``until``, 0 to 1."""
    _, kept = slots_between(history, first, until)
    return adherence(kept)


def slots_between(history: History, first: date, until: date) -> tuple[int, list[SlotAdherence]]:
    """Return the number of slots due from ``first`` to the day before ``until``, and the result of
    each."""
    done = sessions_by_day(history.sessions)
    due = {day: count for day, count in due_days(history, until).items() if day >= first}
    slots = [slot for day, count in due.items() for slot in slots_of_day(done[day], count)]
    return sum(due.values()), slots


def adherence_14(history: History, today: date) -> float | None:
    """Return the adherence of the 14 days before today."""
    return adherence_between(history, today - timedelta(days=FORTNIGHT), today)


def missed_in_a_row(history: History, today: date, *, asked_on: date | None) -> int:
    """Return consecutive due days without a session, up to yesterday; days covered by a check in on
    ``asked_on`` do not count again."""
    practised, missed = practised_days(history), 0
    for day in sorted(due_days(history, today), reverse=True):
        if day in practised or (asked_on and day <= asked_on):
            break
        missed += 1
    return missed


def missed_days(history: History, first: date, until: date) -> list[date]:
    """Return days from ``first`` to before ``until`` with a due session and no practice."""
    practised = practised_days(history)
    return [day for day in due_days(history, until) if day >= first and day not in practised]


def practised_days(history: History) -> set[date]:
    """Return the days with a session of the programme, or with a trial from before sessions
    existed."""
    alone = {each.on for each in history.trials if each.session is None and each.role != "poor"}
    return alone | {each.on for each in history.sessions if each.sort not in NO_SLOT}


def has_practised_on(history: History, day: date) -> bool:
    """Return whether anything of the programme was done on that day."""
    return day in practised_days(history)
