"""A history run forward under stated assumptions: what the rules would do, and how often.

Each run practises every held or hissed task of the programme in force on a random share of its due
days. What is held is a level of its own (the mean of the last seven practised days, else the
target), times a gain a week, times a day's and a trial's random spread. Nothing is taken: it shows
what would be proposed, and when for the first time.
"""

from __future__ import annotations

import random
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from statistics import fmean
from typing import Any
from uuid import UUID

from reedcore.history import History, Session, Trial, lately
from reedcore.history.dues import due_days
from reedcore.measures import kind_of
from reedcore.programme.asking import Asking
from reedcore.targets.judging import reached

from .of_history import proposals
from .settings import settings_with

#: Trials of one day differ less than days do.
WITHIN_DAY = 0.5


@dataclass(frozen=True, slots=True)
class Assumed:
    """Shares are 0 to 1; ``gain_a_week`` may be negative."""

    days: int = 56
    runs: int = 20
    spread: float = 0.10
    adherence: float = 0.8
    gain_a_week: float = 0.0
    seed: int = 1


@dataclass(frozen=True, slots=True)
class Proposable:
    """In how many runs a step was proposed for that reason, and after how many days (median)."""

    step: str
    reason: str
    runs: int
    first_after_days: float


@dataclass(frozen=True, slots=True)
class Simulated:
    """Attributes:
    quiet: runs in which nothing was proposed at all.
    """

    assumed: Assumed
    quiet: int
    proposed: list[Proposable]


def simulate(
    history: History, rules: Mapping[str, Any], assumed: Assumed, *, now: datetime
) -> Simulated:
    """Runs it forward; the same seed gives the same answer."""
    first: dict[tuple[str, str], list[int]] = defaultdict(list)
    quiet = 0
    for run in range(assumed.runs):
        chance = random.Random(assumed.seed + run)  # noqa: S311 – a simulation, no secret
        seen = _one(lately(history, now=now), rules, assumed, now, chance)
        quiet += not seen
        for what, day in seen.items():
            first[what].append(day)
    return Simulated(
        assumed,
        quiet,
        [
            Proposable(step, reason, len(days), float(sorted(days)[len(days) // 2]))
            for (step, reason), days in sorted(first.items(), key=lambda each: -len(each[1]))
        ],
    )


def _one(
    history: History,
    rules: Mapping[str, Any],
    assumed: Assumed,
    now: datetime,
    chance: random.Random,
) -> dict[tuple[str, str], int]:
    """By step and reason, the day on which it was first proposed."""
    settings = settings_with(rules)
    found: dict[tuple[str, str], int] = {}
    tasks = [
        each
        for each in (history.programme.tasks if history.programme else ())
        if kind_of(each.measure).in_seconds and each.target_s
    ]
    level = {task.key: _level(history, task) for task in tasks}
    due = set(due_days(history, history.day(now) + timedelta(days=assumed.days)))
    for passed in range(assumed.days):
        at = now + timedelta(days=passed)
        today = history.day(at)
        if today in due and chance.random() < assumed.adherence:
            gain = (1.0 + assumed.gain_a_week) ** (passed / 7.0)
            history = _practised(history, tasks, level, gain, assumed, at, today, chance)
        recent = lately(history, now=at + timedelta(days=1))
        for each in proposals(recent, settings, today=today + timedelta(days=1)):
            what = each.proposal.step.value, each.proposal.reason.value
            found.setdefault(what, passed + 1)
    return found


def _level(history: History, task: Asking) -> float:
    days: dict[date, list[float]] = defaultdict(list)
    for trial in history.of(task):
        if trial.total_s is not None:
            days[trial.on].append(trial.total_s)
    last = [fmean(days[day]) for day in sorted(days)[-7:]]
    return fmean(last) if last else float(task.target_s or 0.0)


def _practised(
    history: History,
    tasks: list[Asking],
    level: Mapping[int, float],
    gain: float,
    assumed: Assumed,
    at: datetime,
    today: date,
    chance: random.Random,
) -> History:
    key = UUID(int=chance.getrandbits(128))
    trials = []
    for task in tasks:
        day = chance.gauss(1.0, assumed.spread)
        for place in range(task.tries):
            held = level[task.key] * gain * day
            held = max(0.3, held * chance.gauss(1.0, assumed.spread * WITHIN_DAY))
            target = float(task.target_s or 0.0)
            trials.append(
                Trial(
                    key=UUID(int=chance.getrandbits(128)),
                    task=task.key,
                    session=key,
                    at=at + timedelta(seconds=30 * place),
                    on=today,
                    outcome="met" if reached(held, target) else "not_met",
                    total_s=held,
                )
            )
    session = Session(key, at, today, "full", "usual", "done", len(tasks), len(tasks))
    return replace(
        history, trials=(*history.trials, *trials), sessions=(*history.sessions, session)
    )
