"""A client's history as the cases that the core decides on: one for each task in force."""

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import date, timedelta
from statistics import fmean

from django.utils import timezone

from reedcore.decisions import Because, Case, Effort, Level, Proposal, Step, Tried, propose
from reedcore.dose import DoseKind, due_slots
from reedcore.dose.adherence import Kept, Outcome, adherence
from reedcore.ladders import HISS_RUNGS_S, HOLD_RUNGS_S, rung_above_s
from reedcore.progress import change_limit
from web.catalogue.queries import every_task
from web.clients.queries import open_stops, targets_in_force
from web.practice.asked import Asked
from web.practice.models import Mark, Session, Trial
from web.practice.wording import title_of
from web.programmes.document import dose_of
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name, seconds_before

#: The rules look back over seven days and the 28 before; a little more for what was asked before.
LOOK_BACK = timedelta(days=45)
FORTNIGHT = 14
#: The first sessions of a series stand for its baseline: the sheet measures another task.
BASELINE_SESSIONS = 3
POWER = "block_power"
#: Reasons that do not lie in one task.
OF_THE_WHOLE = (
    Because.RED_FLAG_OPEN,
    Because.BOTHER_UP,
    Because.DAYS_MISSED,
    Because.ADHERENCE_LOW,
)


@dataclass(frozen=True)
class Decided:
    """A task in force and what is proposed for it."""

    title: str
    proposal: Proposal
    task: PrescribedTask


def proposals(client, programme, *, today: date) -> list[Decided]:
    """What is proposed for each task of the programme in force, in its order.

    The number of queries does not depend on the number of tasks or trials.
    """
    shared = _History(client, programme, today)
    found = []
    for task in programme.tasks.all():
        task.programme = programme
        asked = Asked(task, shared.catalogue)
        title = title_of(asked, note=note_name(task))
        proposal = propose(shared.case(asked))
        if not shared.was_refused(task, proposal):
            found.append(Decided(title, proposal, task))
    return found


def spoken(decided: list[Decided]) -> list[Decided]:
    """Those that say something, each proposal that holds for every task only once."""
    found, seen = [], set()
    for each in decided:
        of_all = each.proposal.because in OF_THE_WHOLE
        if each.proposal.step is Step.STAY or (of_all and each.proposal.because in seen):
            continue
        seen.add(each.proposal.because)
        found.append(replace(each, title="The whole programme") if of_all else each)
    return found


class _History:
    """Everything that the cases of one client rest on, read once."""

    def __init__(self, client, programme, today):
        self.today, self.client, self.programme = today, client, programme
        self.catalogue = every_task(client.clinic)
        since = timezone.now() - LOOK_BACK
        self.trials = defaultdict(list)
        trials = client.trials.filter(performed_at__gte=since).exclude(role="poor")
        for trial in trials.select_related("task").order_by("performed_at", "key"):
            self.trials[_series(trial.task)].append(trial)
        self.marks = defaultdict(list)
        marks = client.marks.filter(said_at__gte=since).select_related("task")
        for mark in marks:
            self.marks[mark.kind, mark.task.task_code if mark.task else ""].append(mark)
        self.flags = tuple(str(stop.key) for stop in open_stops(client).exclude(tier="end_session"))
        self.before = seconds_before(client)
        self.goal_s = self._goal()
        self.refused = list(client.decisions.filter(accepted=False).select_related("task")[:50])
        self.missed, self.adherence = self._kept(since)

    def _goal(self):
        target = targets_in_force(self.client).get("hold")
        return (target.values or {}).get("goal_s") if target else None

    def day(self, moment) -> date:
        return timezone.localdate(moment, timezone=self.client.zone)

    def was_refused(self, task, proposal) -> bool:
        """Whether the same was refused, and nothing has been practised since."""
        newest = max((trial.performed_at for trial in self.trials[_series(task)]), default=None)
        return any(
            each.because == proposal.because.value
            and _series(each.task) == _series(task)
            and (newest is None or newest <= each.decided_at)
            for each in self.refused
        )

    def case(self, asked) -> Case:
        """The case of one task on its note and sound."""
        task, code = asked.task, asked.task.task_code
        tried = self.trials[_series(task)]
        trials = tuple(
            Tried(
                key=str(trial.key),
                session=str(trial.session_id or self.day(trial.performed_at)),
                on=self.day(trial.performed_at),
                on_target=_ON_TARGET[trial.outcome] if trial.asked_s == task.target_s else None,
                held_s=trial.total_s,
            )
            for trial in tried
        )
        loud = asked.shipped is not None and asked.shipped.is_loud
        rungs = HISS_RUNGS_S if task.measure == "hiss" else HOLD_RUNGS_S
        levels = tuple(
            Level(self.day(trial.performed_at), trial.level_db)
            for trial in tried
            if trial.level_db is not None
        )
        return Case(
            today=self.today,
            loud=loud,
            measured=task.measure in ("hold", "hiss", "glide", "pattern", "compound"),
            trials=trials,
            efforts=tuple(
                Effort(self.day(mark.said_at), float(mark.value))
                for mark in self.marks[Mark.Kind.EFFORT, code]
            ),
            levels=levels,
            strained_on=tuple(
                self.day(mark.said_at)
                for mark in self.marks[Mark.Kind.STRAIN, code]
                if mark.value["said"]
            ),
            cannot=tuple(
                str(mark.key)
                for mark in self.marks[Mark.Kind.SKIPPED, code]
                if mark.value == "cant" and self.programme.published_at <= mark.said_at
            ),
            felt=tuple(mark.value for mark in self.marks[Mark.Kind.FELT, code]),
            bothers=tuple(
                (self.day(mark.said_at), float(mark.value))
                for mark in self.marks[Mark.Kind.BOTHER, ""]
            ),
            open_flags=self.flags,
            tries_prescribed=task.tries,
            seconds_now=task.target_s,
            next_seconds=rung_above_s(task.target_s, rungs) if task.target_s else None,
            seconds_a_week_ago=self.before.get(code),
            change_limit_s=_limit(trials),
            block_means=self._block_means() if code == POWER else (),
            goal_s=self.goal_s if code == POWER else None,
            due_days_missed=self.missed,
            adherence_14=self.adherence,
        )

    def _block_means(self):
        held = defaultdict(list)
        for (code, *_), trials in self.trials.items():
            if code == POWER:
                for trial in trials:
                    if trial.total_s is not None:
                        held[self.day(trial.performed_at)].append(trial.total_s)
        return tuple((day, fmean(values)) for day, values in sorted(held.items()))

    def _kept(self, since):
        """Due days in a row without a session, and adherence over a fortnight."""
        if not self.programme.document:
            return 0, None
        dose = dose_of(self.programme.document)
        if dose.kind is DoseKind.ON_DEMAND:
            return 0, None
        sessions = defaultdict(list)
        for session in self.client.sessions.filter(begun_at__gte=since).exclude(sort="extra"):
            sessions[self.day(session.begun_at)].append(session)
        due = defaultdict(int)
        first = max(dose.start, self.day(self.programme.published_at))
        for slot in due_slots(dose):
            if first <= slot.day < self.today:
                due[slot.day] += 1
        missed = 0
        for day in sorted(due, reverse=True):
            if sessions[day]:
                break
            missed += 1
        slots = [
            kept
            for day, count in due.items()
            if (self.today - day).days <= FORTNIGHT
            for kept in _slots_of_day(sessions[day], count)
        ]
        return missed, adherence(slots)


_ON_TARGET = {Trial.Outcome.MET: True, Trial.Outcome.NOT_MET: False, Trial.Outcome.NOT_JUDGED: None}


def _series(task):
    """Results are never joined across task, note and sound (MEASURES §5.10)."""
    return task.task_code, task.note_midi, task.sound, task.measure


def _limit(trials):
    occasions = defaultdict(list)
    for trial in trials:
        if trial.held_s is not None:
            occasions[trial.session].append(trial.held_s)
    found = change_limit(list(occasions.values())[:BASELINE_SESSIONS])
    return found.limit if found else None


def _slots_of_day(sessions, due):
    """What became of a day's slots: its sessions fill them, fullest first."""
    kept = sorted((_kept(session) for session in sessions), key=lambda each: -each.fraction)
    kept = kept[:due]
    return kept + [Kept(Outcome.MISSED)] * (due - len(kept))


def _kept(session):
    if session.day == "rest":
        return Kept(Outcome.EXCUSED, 1.0)
    if session.ending == Session.Ending.DONE:
        return Kept(Outcome.SHORT if session.sort == "short" else Outcome.DONE, 1.0)
    planned = session.items_planned
    return Kept(Outcome.PARTIAL, session.items_done / planned if planned else 0.0)
