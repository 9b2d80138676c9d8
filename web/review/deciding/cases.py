"""A client's history as the cases that the core decides on: one for each task in force."""

from collections import defaultdict
from datetime import date
from statistics import fmean, median

from reedcore.decisions import Case, Effort, Level, Tried
from reedcore.dose import DoseKind, due_slots
from reedcore.dose.adherence import Kept, Outcome, adherence
from reedcore.ladders import HISS_RUNGS_S, HOLD_RUNGS_S, rung_above_s
from reedcore.progress import BASELINE_SESSIONS, Point, change_limit, trend
from reedcore.safety import Flag
from web.practice.asked import Asked
from web.practice.models import Mark, Session, Trial
from web.programmes.document import dose_of

from .history import History, red_flags, series

FORTNIGHT = 14
POWER = "block_power"
MEASURED = ("hold", "hiss", "glide", "pattern", "compound")
_ON_TARGET = {Trial.Outcome.MET: True, Trial.Outcome.NOT_MET: False, Trial.Outcome.NOT_JUDGED: None}


def case_of(history: History, asked: Asked, *, today: date, worse_since: date | None) -> Case:
    """The case of one task on its note and sound."""
    task, code = asked.task, asked.task.task_code
    tried = history.trials.get(series(task), [])
    trials = tuple(_tried(history, task, each) for each in tried)
    said = _since(history)
    document = history.programme.document
    taper = document.get("taper") or {}
    maintained = document.get("sort") == "maintenance"  # it has no way on, and needs none
    rungs = HISS_RUNGS_S if task.measure == "hiss" else HOLD_RUNGS_S
    missed, kept = history.kept or kept_of(history, today)
    history.kept = missed, kept
    return Case(
        today=today,
        loud=asked.shipped is not None and asked.shipped.is_loud,
        measured=task.measure in MEASURED,
        trials=trials,
        efforts=tuple(
            Effort(mark.on, float(mark.value)) for mark in said.get((Mark.Kind.EFFORT, code), [])
        ),
        levels=tuple(Level(each.on, each.level_db) for each in tried if each.level_db is not None),
        stopped_on=_stopped_on(history, tried),
        strained_on=tuple(
            mark.on for mark in said.get((Mark.Kind.STRAIN, code), []) if mark.value["said"]
        ),
        cannot=tuple(
            str(mark.key)
            for mark in said.get((Mark.Kind.SKIPPED, code), [])
            if mark.value == "cant" and history.programme.published_at <= mark.at
        ),
        felt=tuple(mark.value for mark in said.get((Mark.Kind.FELT, code), [])),
        bothers=tuple(
            (mark.on, float(mark.value)) for mark in said.get((Mark.Kind.BOTHER, ""), [])
        ),
        open_flags=red_flags(history),
        tries_prescribed=task.tries,
        seconds_now=task.target_s,
        next_seconds=rung_above_s(task.target_s, rungs) if task.target_s else None,
        seconds_a_week_ago=history.before.get(code),
        change_limit_s=_limit(trials),
        worse_since=worse_since,
        block_means=_block_means(history) if code == POWER else (),
        goal_s=history.goal_s if code == POWER else None,
        taper_week=taper.get("week") if code == POWER or taper else None,
        taper_since=date.fromisoformat(taper["since"]) if taper else None,
        peak_s=taper.get("peak_s"),
        same_target_since=None if maintained else history.since.get(series(task)),
        rising=_rising(trials),
        due_days_missed=missed,
        adherence_14=kept,
    )


#: What ends a session for strain of the voice or of the breath.
_STRAINED = {Flag.STRAIN.value, Flag.LIGHT_HEADED.value}


def _since(history):
    """What was said, without what lies before the last red flag was cleared."""
    cleared = history.cleared_at
    if cleared is None:
        return history.marks
    return {
        which: [mark for mark in marks if mark.at > cleared]
        for which, marks in history.marks.items()
    }


def _stopped_on(history, tried):
    """Days on which a session that held this task was stopped for strain or light-headedness; a
    stop of a session that held no try counts for every task."""
    of_task = {each.session for each in tried if each.session}
    with_tries = {each.session for of in history.trials.values() for each in of if each.session}
    return tuple(
        history.day(stop.said_at)
        for stop in history.said
        if _STRAINED & set(stop.flags)
        and (history.cleared_at is None or stop.said_at > history.cleared_at)
        and (stop.session_key in of_task or stop.session_key not in with_tries)
    )


def _tried(history, task, each):
    same = _asked_s(history, each) == task.target_s
    return Tried(
        key=str(each.key),
        session=str(each.session or each.on),
        on=each.on,
        on_target=_ON_TARGET[each.outcome] if same else None,
        held_s=each.total_s,
        asked_other=not same,
        anew=history.cleared_at is None or each.at > history.cleared_at,
    )


def _asked_s(history, each):
    return each.set_s or history.tasks[each.task].target_s


def _limit(trials):
    occasions = defaultdict(list)
    for trial in trials:
        if trial.held_s is not None:
            occasions[trial.session].append(trial.held_s)
    found = change_limit(list(occasions.values())[:BASELINE_SESSIONS])
    return found.limit if found else None


def _rising(trials):
    """Whether the trend of a series rises; None where there is no trend to speak of."""
    sessions = defaultdict(list)
    for trial in trials:
        if trial.held_s is not None:
            sessions[trial.on, trial.session].append(trial.held_s)
    found = trend([Point(day, median(values)) for (day, _), values in sessions.items()])
    return None if found is None else found.rises


def _block_means(history):
    held = defaultdict(list)
    for (code, *_), trials in history.trials.items():
        if code == POWER:
            for trial in trials:
                if trial.total_s is not None:
                    held[trial.on].append(trial.total_s)
    return tuple((day, fmean(values)) for day, values in sorted(held.items()))


def kept_of(history, today):
    """Due days in a row without a session, and adherence over a fortnight."""
    due = due_days(history, today)
    if not due:
        return 0, None
    sessions = sessions_by_day(history)
    missed = 0
    for day in sorted(due, reverse=True):
        if sessions[day]:
            break
        missed += 1
    slots = [
        kept
        for day, count in due.items()
        if (today - day).days <= FORTNIGHT
        for kept in slots_of_day(sessions[day], count)
    ]
    return missed, adherence(slots)


def due_days(history, today) -> dict[date, int]:
    """How many sessions were due on each past day, by the version that was in force on it."""
    return due_by_doses(history.doses, today, pauses_of(history.said, history.zone, today))


def pauses_of(stops, zone, today) -> list[tuple[date, date]]:
    """The days, both included, on which nobody may practise: from a stop that pauses to the day it
    is cleared, or to today."""
    return [
        (
            stop.said_at.astimezone(zone).date(),
            stop.cleared_at.astimezone(zone).date() if stop.cleared_at else today,
        )
        for stop in stops
        if stop.pauses and stop.taken_back_at is None
    ]


def due_by_doses(doses, until, pauses) -> dict[date, int]:
    """How many sessions the doses of successive versions asked for on each day before ``until``.

    Nothing is due while the programme is paused: those days are excused, not missed.
    """
    due = defaultdict(int)
    ends = [*(day for day, _ in doses[1:]), until]
    for (first, said), end in zip(doses, ends, strict=False):
        if not said or first == end:
            continue
        dose = dose_of({"dose": said})
        if dose.kind is DoseKind.ON_DEMAND:
            continue
        for slot in due_slots(dose, until=end):
            paused = any(begun <= slot.day <= cleared for begun, cleared in pauses)
            if first <= slot.day < end and not paused:
                due[slot.day] += 1
    return due


def sessions_by_day(history):
    """The sessions of the programme by the client's day; what was done beyond it is apart."""
    found = defaultdict(list)
    for session in history.sessions:
        if session.sort != "extra":
            found[session.on].append(session)
    return found


def slots_of_day(sessions, due) -> list[Kept]:
    """What became of a day's slots: its sessions fill them, fullest first."""
    kept = sorted((_of_session(session) for session in sessions), key=lambda each: -each.fraction)
    kept = kept[:due]
    return kept + [Kept(Outcome.MISSED)] * (due - len(kept))


def _of_session(session):
    if session.day == "rest":
        return Kept(Outcome.EXCUSED, 1.0)
    if session.ending == Session.Ending.DONE:
        return Kept(Outcome.SHORT if session.sort == "short" else Outcome.DONE, 1.0)
    return Kept(Outcome.PARTIAL, session.done / session.planned if session.planned else 0.0)
