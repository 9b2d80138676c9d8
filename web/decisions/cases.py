"""A client's history as the cases that the core decides on: one for each task in force."""

from collections import defaultdict
from datetime import date, datetime
from statistics import fmean, median

from reedcore.decisions import Answer, Case, Felt, Level, Reason, Tried
from reedcore.decisions.case import WINDOW
from reedcore.dose import DoseKind, due_slots
from reedcore.dose.adherence import Kept, Outcome, adherence
from reedcore.progress import Point, trend
from reedcore.safety import Flag
from web.practice.asked import Asked
from web.practice.models import SelfReport, Session, Trial
from web.programmes.document import dose_of
from web.programmes.models import PrescribedTask

from .history import History, red_flags, series
from .rungs import rung

#: Reasons that do not lie in one task.
OF_THE_WHOLE = (
    Reason.RED_FLAG_OPEN,
    Reason.BOTHER_UP,
    Reason.DAYS_MISSED,
    Reason.ADHERENCE_LOW,
    Reason.TOO_TIRED,
)
FORTNIGHT = 14
POWER = "block_power"
MEASURED = ("hold", "hiss", "glide", "pattern", "compound")
_ON_TARGET = {Trial.Outcome.MET: True, Trial.Outcome.NOT_MET: False, Trial.Outcome.NOT_JUDGED: None}


def case_of(history: History, asked: Asked, *, today: date) -> Case:
    """The case of one task on its note and sound."""
    task, code = asked.task, asked.task.task_code
    tried = history.trials.get(series(task), [])
    since = since_of(history, task)
    trials = tuple(_tried(history, task, each, since) for each in tried)
    said = history.reports
    document = history.programme.document
    taper = document.get("taper") or {}
    maintained = document.get("sort") == "maintenance"  # it has no way on, and needs none
    up, down = rung(asked, by=1), rung(asked, by=-1)
    missed, kept = history.kept or kept_of(history, today)
    history.kept = missed, kept
    of_now = [
        each for each in said.get((SelfReport.Kind.SKIPPED, code), []) if _is_new(each, since)
    ]
    stuck = decided_on(history, Reason.STUCK, task)
    same = None if maintained else history.since.get(series(task))
    return Case(
        today=today,
        loud=asked.shipped is not None and asked.shipped.is_loud,
        measured=task.measure in MEASURED,
        since=history.day(since) if since else None,
        trials=trials,
        efforts=_answers(said.get((SelfReport.Kind.EFFORT, code), []), since),
        levels=tuple(
            Level(each.on, each.level_db, each.device or "")
            for each in tried
            if each.level_db is not None
        ),
        strained_on=tuple(
            report.on
            for report in said.get((SelfReport.Kind.STRAIN, code), [])
            if report.value["said"] and _is_new(report, since)
        ),
        stopped_on=_stopped_on(history, tried, since),
        cannot=tuple(
            str(report.key)
            for report in of_now
            if report.value == "cant"
            and history.programme.published_at <= report.at
            and report.on > today - WINDOW
        ),
        felt=tuple(
            Felt(report.on, str(report.session or report.on), report.value)
            for report in said.get((SelfReport.Kind.FELT, code), [])
            if _is_new(report, since)
        ),
        bothers=_answers(
            said.get((SelfReport.Kind.BOTHER, ""), []), decided_on(history, Reason.BOTHER_UP)
        ),
        open_flags=red_flags(history),
        tries_prescribed=task.tries,
        climbs=up is not None,
        eases=down is not None,
        seconds_now=task.target_s,
        next_seconds=up.seconds if up else None,
        seconds_a_week_ago=history.before.get(code),
        capped=task.measure == PrescribedTask.HOLD,
        block_means=_block_means(history) if code == POWER else (),
        goal_s=history.goal_s if code == POWER and not maintained else None,
        taper_week=taper.get("week") if code == POWER or taper else None,
        taper_since=date.fromisoformat(taper["since"]) if taper else None,
        peak_s=taper.get("peak_s"),
        same_target_since=max(same, history.day(stuck)) if same and stuck else same,
        rising=_rising(trials),
        last_session_on=_last_on(history),
        due_days_missed=missed,
        adherence_14=kept,
        checked_in=_checked_in(history, today),
        tired=_tired(history, since, today),
    )


#: What ends a session for strain of the voice or of the breath.
_STRAINED = {Flag.STRAIN.value, Flag.LIGHT_HEADED.value}
#: Too little practice, asked about once, is not asked about again within this.
_OF_PRACTICE = (Reason.DAYS_MISSED, Reason.ADHERENCE_LOW)


def since_of(history: History, task: PrescribedTask) -> datetime | None:
    """From when on evidence is new: the last decision on the task, on any of its notes, taken,
    refused or undone; or when a red flag was last cleared."""
    moments = [
        moment
        for each in history.decisions
        if each.task is not None
        and (each.task.task_code, each.task.sound) == (task.task_code, task.sound)
        and each.reason not in OF_THE_WHOLE
        for moment in (each.decided_at, each.undone_at)
        if moment
    ]
    return max([*moments, *([history.cleared_at] if history.cleared_at else [])], default=None)


def decided_on(history: History, reason: Reason, task=None) -> datetime | None:
    """When something was last decided for that reason, of the whole programme or of one task."""
    moments = [
        each.undone_at or each.decided_at
        for each in history.decisions
        if each.reason == reason.value
        and (task is None or (each.task and series(each.task) == series(task)))
    ]
    if reason is Reason.BOTHER_UP and history.cleared_at:
        moments.append(history.cleared_at)
    return max(moments, default=None)


def _is_new(report, since):
    return since is None or report.at > since


def _answers(reports, since):
    return tuple(
        Answer(report.on, float(report.value), anew=_is_new(report, since)) for report in reports
    )


def _stopped_on(history, tried, since):
    """Days on which a session that held this task was stopped for strain or light-headedness; a
    stop of a session that held no try counts for every task."""
    of_task = {each.session for each in tried if each.session}
    with_tries = {each.session for of in history.trials.values() for each in of if each.session}
    return tuple(
        history.day(stop.said_at)
        for stop in history.said
        if _STRAINED & set(stop.flags)
        and stop.taken_back_at is None
        and (since is None or stop.said_at > since)
        and (stop.session_key in of_task or stop.session_key not in with_tries)
    )


def _tried(history, task, each, since):
    steady = task.counts == PrescribedTask.Counts.STEADY
    return Tried(
        key=str(each.key),
        session=str(each.session or each.on),
        on=each.on,
        on_target=_ON_TARGET[each.outcome],
        held_s=each.steady_s if steady and each.steady_s is not None else each.total_s,
        asked_other=_asked_s(history, each) != task.target_s,
        anew=since is None or each.at > since,
    )


def _asked_s(history, each):
    return each.set_s or history.tasks[each.task].target_s


def _last_on(history):
    tries = [of[-1].on for of in history.trials.values() if of]
    return max([*(each.on for each in history.sessions), *tries], default=None)


def _checked_in(history, today):
    moments = [decided_on(history, reason) for reason in _OF_PRACTICE]
    return any(moment and history.day(moment) > today - WINDOW for moment in moments)


def _tired(history, since, today):
    """Sessions of the fortnight in which something was skipped as too tired, and all of them."""
    lately = {each.key for each in history.sessions if each.on > today - WINDOW}
    if since is not None:
        lately = {each.key for each in history.sessions if each.key in lately and each.at > since}
    tired = {
        report.session
        for (kind, _), reports in history.reports.items()
        if kind == SelfReport.Kind.SKIPPED
        for report in reports
        if report.value == "tired" and report.session in lately
    }
    return len(tired), len(lately)


def _rising(trials):
    """Whether the trend of a series rises; None where there is no trend to speak of."""
    sessions = defaultdict(list)
    for trial in trials:
        if trial.held_s is not None:
            sessions[trial.on, trial.session].append(trial.held_s)
    found = trend([Point(day, median(values)) for (day, _), values in sessions.items()])
    return None if found is None else found.rises


def _block_means(history):
    """Of each day on which every power note in force was held, the mean over the notes."""
    notes = {series(task) for task in history.programme.tasks.all() if task.task_code == POWER}
    held = defaultdict(lambda: defaultdict(list))
    for of, trials in history.trials.items():
        if of in notes:
            for trial in trials:
                if trial.total_s is not None:
                    held[trial.on][of].append(trial.total_s)
    return tuple(
        (day, fmean(fmean(values) for values in by_note.values()))
        for day, by_note in sorted(held.items())
        if len(by_note) == len(notes)
    )


def kept_of(history, today):
    """Due days in a row without a session, and adherence over a fortnight."""
    due = due_days(history, today)
    if not due:
        return 0, None
    sessions = sessions_by_day(history)
    asked = decided_on(history, Reason.DAYS_MISSED)
    missed = 0
    for day in sorted(due, reverse=True):
        if sessions[day] or (asked and day <= history.day(asked)):
            break  # what was asked about already is not asked about again
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
        # what was taken back at once paused nothing
        if stop.pauses and (stop.taken_back_at is None or stop.taken_back_at != stop.cleared_at)
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
