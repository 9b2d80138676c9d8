"""Simulate a history under stated assumptions: the steps that the rules would take, and how often.

Each run practises every held or hissed task of the programme in force on a random share of its due
days. What is held is a level of its own (the mean of the last seven practised days, else the
target), times a gain a week, times a day's and a trial's random spread; one day says something of
the next. Where proposals are taken, each step up or down in seconds is, on the day that it is made;
otherwise nothing is, and it shows what would be proposed, and when for the first time.
"""

from __future__ import annotations

import random
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from itertools import pairwise
from math import sqrt
from statistics import fmean
from typing import Any
from uuid import UUID

from reedcore.history import (
    DecisionRecord,
    History,
    Report,
    SessionRecord,
    TrialRecord,
    recent_history,
)
from reedcore.history.dues import due_days
from reedcore.measures import kind_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.progress.day_to_day import USUAL_AUTOCORRELATION
from reedcore.targets.judging import has_reached

from .of_history import HistoryProposals, proposals
from .proposal import Step
from .settings import changed_settings

#: Trials of one day vary less than days do.
WITHIN_DAY = 0.5
#: A client who stops at the target is a little late.
STOPS_AT = 1.02


@dataclass(frozen=True, slots=True)
class SimulationAssumptions:
    """Shares are 0 to 1; ``gain_a_week`` may be negative.

    Attributes:
        autocorrelation: how much one practised day says of the next.
        accepts_steps: every step in seconds that is proposed is taken.
        stops_at_target: each hold ends at the target, where it is reached.
    """

    days: int = 56
    runs: int = 20
    spread: float = 0.10
    adherence: float = 0.8
    gain_a_week: float = 0.0
    autocorrelation: float = USUAL_AUTOCORRELATION
    accepts_steps: bool = False
    stops_at_target: bool = False
    seed: int = 1


@dataclass(frozen=True, slots=True)
class Proposable:
    """Number of runs with a step proposed for a reason, and the median day of the first time."""

    step: str
    reason: str
    runs: int
    first_after_days: float


@dataclass(frozen=True, slots=True)
class SimulationOutcome:
    """The outcome of simulated courses under one set of rules.

    Attributes:
        quiet: runs in which nothing was proposed at all.
        turns: where proposals are taken, how often a target went up after down or down after up, on
            average over the runs; None where none is.
        ends_at: where proposals are taken, the mean share of its level that a target ends at.
    """

    assumed: SimulationAssumptions
    quiet: int
    proposed: list[Proposable]
    turns: float | None = None
    ends_at: float | None = None


def simulate(
    history: History, rules: Mapping[str, Any], assumed: SimulationAssumptions, *, now: datetime
) -> SimulationOutcome:
    """Simulate the future; the same seed gives the same answer."""
    first: dict[tuple[str, str], list[int]] = defaultdict(list)
    quiet, turns, ends = 0, [], []
    for run in range(assumed.runs):
        chance = random.Random(assumed.seed + run)  # noqa: S311 – a simulation, no secret
        done = _SimulatedRun(recent_history(history, now=now), rules, assumed, now, chance)
        done.run()
        quiet += not done.first
        for what, day in done.first.items():
            first[what].append(day)
        turns.append(done.turns())
        ends.extend(done.shares())
    return SimulationOutcome(
        assumed,
        quiet,
        [
            Proposable(step, reason, len(days), float(sorted(days)[len(days) // 2]))
            for (step, reason), days in sorted(first.items(), key=lambda each: -len(each[1]))
        ],
        turns=fmean(turns) if assumed.accepts_steps and turns else None,
        ends_at=fmean(ends) if assumed.accepts_steps and ends else None,
    )


class _SimulatedRun:
    """A simulated run; ``first`` maps step and reason to the day of the first proposal."""

    def __init__(
        self,
        history: History,
        rules: Mapping[str, Any],
        assumed: SimulationAssumptions,
        now: datetime,
        chance: random.Random,
    ) -> None:
        self.history, self.assumed, self.now, self.chance = history, assumed, now, chance
        self.settings = changed_settings(rules)
        self.first: dict[tuple[str, str], int] = {}
        self.moves: dict[str, list[int]] = defaultdict(list)
        self.level = {_series(task): _level(history, task) for task in self.tasks()}
        self.state = {each: chance.gauss(0.0, 1.0) for each in self.level}

    def tasks(self) -> list[PrescribedItem]:
        """Return the tasks with a target in seconds."""
        programme = self.history.programme
        return [
            each
            for each in (programme.tasks if programme else ())
            if kind_of(each.measure).is_in_seconds and each.target_s
        ]

    def run(self) -> None:
        """Simulate day by day."""
        assumed = self.assumed
        due = set(due_days(self.history, self.history.day(self.now + timedelta(days=assumed.days))))
        for passed in range(assumed.days):
            at = self.now + timedelta(days=passed)
            today = self.history.day(at)
            if today in due and self.chance.random() < assumed.adherence:
                self.practises(at, today, (1.0 + assumed.gain_a_week) ** (passed / 7.0))
            after = at + timedelta(days=1)
            recent = recent_history(self.history, now=after)
            for each in proposals(recent, self.settings, today=today + timedelta(days=1)):
                what = each.proposal.step.value, each.proposal.reason.value
                self.first.setdefault(what, passed + 1)
                if assumed.accepts_steps:
                    self.accept(each, at + timedelta(hours=1))

    def practises(self, at: datetime, today: date, gain: float) -> None:
        """Practise one session of every task."""
        key, trials, rho = UUID(int=self.chance.getrandbits(128)), [], self.assumed.autocorrelation
        spread, tasks = self.assumed.spread, self.tasks()
        for task in tasks:
            of = _series(task)
            self.state[of] = rho * self.state[of] + sqrt(1 - rho**2) * self.chance.gauss(0.0, 1.0)
            day, target = 1.0 + spread * self.state[of], float(task.target_s or 0.0)
            for place in range(task.tries):
                held = self.level[of] * gain * day
                held = max(0.3, held * self.chance.gauss(1.0, spread * WITHIN_DAY))
                if self.assumed.stops_at_target:
                    held = min(held, target * STOPS_AT)
                trials.append(
                    TrialRecord(
                        key=UUID(int=self.chance.getrandbits(128)),
                        task=task.key,
                        session=key,
                        at=at + timedelta(seconds=30 * place),
                        on=today,
                        outcome="met" if has_reached(held, target) else "not_met",
                        total_s=held,
                    )
                )
        session = SessionRecord(key, at, today, "full", "usual", "done", len(tasks), len(tasks))
        easy = 9.0 if any(task.is_loud for task in tasks) else 3.0
        efforts = [
            Report(UUID(int=self.chance.getrandbits(128)), "effort", easy, at, today, key, task.key)
            for task in tasks
        ]
        self.history = replace(
            self.history,
            trials=(*self.history.trials, *trials),
            sessions=(*self.history.sessions, session),
            reports=(*self.history.reports, *efforts),
        )

    def accept(self, each: HistoryProposals, at: datetime) -> None:
        """Accept a step in seconds as the next version; record all others as done."""
        version, prescribed = self.history.programme, each.prescribed_item
        if version is None or prescribed is None:
            return
        decision = DecisionRecord(
            each.proposal.step.value, each.proposal.reason.value, at, prescribed.key, accepted=True
        )
        to = each.next_rung
        versions = self.history.versions
        if to is not None and to.seconds is not None:
            self.moves[prescribed.item_key].append(1 if each.proposal.step is Step.ADVANCE else -1)
            tasks = tuple(
                replace(
                    task,
                    key=max(self.history.prescribed_items) + place + 1,
                    version=version.number + 1,
                    target_s=to.seconds if task.item_key == prescribed.item_key else task.target_s,
                )
                for place, task in enumerate(version.tasks)
            )
            made = replace(
                version, number=version.number + 1, at=at, on=self.history.day(at), tasks=tasks
            )
            versions = (*versions, made)
        self.history = replace(
            self.history, versions=versions, decisions=(*self.history.decisions, decision)
        )

    def turns(self) -> float:
        """Return the number of reversals of all items together."""
        every = (ways for ways in self.moves.values())
        return float(sum(one != after for ways in every for one, after in pairwise(ways)))

    def shares(self) -> list[float]:
        """Return the share of the client's true level at which each target ends."""
        gain = (1.0 + self.assumed.gain_a_week) ** (self.assumed.days / 7.0)
        return [
            float(task.target_s or 0.0) / (gain * self.level[_series(task)])
            for task in self.tasks()
            if self.level.get(_series(task))
        ]


def _series(task: PrescribedItem) -> tuple[str, int | None]:
    return task.item_key, task.note_midi


def _level(history: History, task: PrescribedItem) -> float:
    days: dict[date, list[float]] = defaultdict(list)
    for trial in history.trials_of(task):
        if trial.total_s is not None:
            days[trial.on].append(trial.total_s)
    last = [fmean(days[day]) for day in sorted(days)[-7:]]
    return fmean(last) if last else float(task.target_s or 0.0)
