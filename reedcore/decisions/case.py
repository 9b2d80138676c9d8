"""One task of one client as the rules see it: plain values, oldest first."""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median

from reedcore.progress import Point, trend

#: Evidence of now is not older than this; three sessions may reach back further.
WINDOW, LONG_WINDOW = timedelta(days=14), timedelta(days=21)


@dataclass(frozen=True, slots=True)
class PastTrial:
    """One trial of the task, on one note and sound.

    Attributes:
        session: which of them it was of; of none, the day.
        on_target: against the target in force; None where it was not judged.
        held_s: its length, of the kind of seconds that count; None where nothing was measured.
        asked_other: another target was asked for then: it bears no share, whatever became of it.
        anew: nothing was decided on it yet, and no red flag has been cleared since. What is not
            anew is only compared with.
    """

    key: str
    session: Hashable
    on: date
    on_target: bool | None = None
    held_s: float | None = None
    asked_other: bool = False
    anew: bool = True


@dataclass(frozen=True, slots=True)
class Answer:
    """What was said on a scale: effort of the body after a block, 1 to 10 (concentration is asked
    apart and is not here), or how much the voice got in the way, 0 to 10."""

    on: date
    value: float
    anew: bool = True


@dataclass(frozen=True, slots=True)
class Felt:
    """An answer to the felt check: yes, not_sure or no."""

    on: date
    session: str
    answer: str


@dataclass(frozen=True, slots=True)
class Level:
    """Mean level of a loud trial, dB against the comfortable voice on that device."""

    on: date
    db: float
    device: str = ""


@dataclass(frozen=True, slots=True)
class Case:
    """What is known. Deliberate poor trials of a contrast pair are not in it.

    Attributes:
        today: the day of the decision.
        loud: the task belongs to the loud school.
        measured: it has a measure; otherwise it advances on its felt check.
        since: the day of the last decision on it, or on which a red flag was last cleared.
        trials: of this task, note and sound.
        efforts, levels: of this task.
        strained_on: days on which strain was said after it.
        stopped_on: days on which a session with it was stopped for strain or light-headedness.
        cannot: keys of the hazards that say "can't do it", of now.
        felt: answers of the felt check, of now.
        bothers: the weekly question.
        open_flags: red flags nobody has cleared.
        tries_prescribed: a session.
        climbs, eases: there is a rung above, a rung below.
        seconds_now, next_seconds: the target in force and the next rung's, where it has seconds.
        seconds_a_week_ago: the target seven days ago; in the first week the one it began with.
        capped: the weekly step covers it (voiced seconds, not breath counts and hisses).
        block_means: (day, mean of the power notes), of the days on which all of them were held.
        goal_s: the hold goal of the block; None without one.
        taper_week: the step of the taper, 1 to 7; None outside it.
        taper_since: the first day of that step.
        peak_s: the best seven-day mean before the taper.
        same_target_since: the day from which the target in force was asked for.
        last_session_on: when anything was last practised.
        due_days_missed: due days in a row without a session, up to yesterday, not counting those
            that a check in has spoken for.
        adherence_14: over 14 days, 0 to 1.
        checked_in: the last check in for too little practice was less than 14 days ago.
        tired: (sessions of 14 days in which something was skipped as too tired, all of them).
    """

    today: date
    loud: bool = False
    measured: bool = True
    since: date | None = None
    trials: tuple[PastTrial, ...] = ()
    efforts: tuple[Answer, ...] = ()
    levels: tuple[Level, ...] = ()
    strained_on: tuple[date, ...] = ()
    stopped_on: tuple[date, ...] = ()
    cannot: tuple[str, ...] = ()
    felt: tuple[Felt, ...] = ()
    bothers: tuple[Answer, ...] = ()
    open_flags: tuple[str, ...] = ()
    tries_prescribed: int = 4
    climbs: bool = True
    eases: bool = True
    seconds_now: float | None = None
    next_seconds: float | None = None
    seconds_a_week_ago: float | None = None
    capped: bool = True
    block_means: tuple[tuple[date, float], ...] = ()
    goal_s: float | None = None
    taper_week: int | None = None
    taper_since: date | None = None
    peak_s: float | None = None
    same_target_since: date | None = None
    last_session_on: date | None = None
    due_days_missed: int = 0
    adherence_14: float | None = None
    checked_in: bool = False
    tired: tuple[int, int] = (0, 0)

    def of_now(self, window: timedelta = WINDOW) -> tuple[PastTrial, ...]:
        """The trials that a decision may rest on: under the target in force, since the last
        decision, not older than the window."""
        first = self.today - window
        return tuple(
            trial
            for trial in self.trials
            if trial.anew and not trial.asked_other and trial.on > first
        )

    def sessions(self, window: timedelta = WINDOW) -> list[tuple[PastTrial, ...]]:
        """The trials of now, session by session, oldest first."""
        found: dict[Hashable, list[PastTrial]] = {}
        for trial in self.of_now(window):
            found.setdefault(trial.session, []).append(trial)
        return [tuple(trials) for trials in found.values()]

    def is_rising(self) -> bool | None:
        """Whether the trend of its sessions rises; None where there is no trend to speak of."""
        found: dict[tuple[date, Hashable], list[float]] = {}
        for trial in self.trials:
            if trial.held_s is not None:
                found.setdefault((trial.on, trial.session), []).append(trial.held_s)
        course = trend([Point(day, median(values)) for (day, _), values in found.items()])
        return None if course is None else course.rises

    def efforts_of_now(self, window: timedelta = WINDOW) -> list[float]:
        """The answers of now, oldest first."""
        first = self.today - window
        return [each.value for each in self.efforts if each.anew and each.on > first]

    def daily_longest(self) -> dict[date, float]:
        """Each practised day's longest hold, whatever was asked: seconds held are seconds."""
        found: dict[date, float] = {}
        for trial in self.trials:
            if trial.held_s is not None:
                found[trial.on] = max(found.get(trial.on, 0.0), trial.held_s)
        return found


def judged(trials: Iterable[PastTrial]) -> tuple[PastTrial, ...]:
    """Those that were judged."""
    return tuple(trial for trial in trials if trial.on_target is not None)


def share_on_target(trials: Iterable[PastTrial]) -> float | None:
    """Of those that were judged; None where none was."""
    found = judged(trials)
    return sum(bool(trial.on_target) for trial in found) / len(found) if found else None


def days_of(trials: Iterable[PastTrial]) -> int:
    """On how many days they were made."""
    return len({trial.on for trial in trials})
