"""One task of one client as the rules see it: plain values, oldest first."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True, slots=True)
class Tried:
    """One trial of the task, on one note and sound.

    Attributes:
        on_target: against the target in force; None where it was not judged, or another target
            was asked for then: it is left out of shares.
        held_s: its length; None where nothing was measured.
        asked_other: another target was asked for then, whatever became of it.
        anew: it was tried since the last red flag was cleared: evidence of now. What is older is
            only compared with.
    """

    key: str
    session: str
    on: date
    on_target: bool | None = None
    held_s: float | None = None
    asked_other: bool = False
    anew: bool = True


@dataclass(frozen=True, slots=True)
class Effort:
    """Bodily effort after a block, 1 to 10; concentration is asked apart and is not here."""

    on: date
    value: float


@dataclass(frozen=True, slots=True)
class Level:
    """Mean level of a session's loud trials, dB against the comfortable voice on one device."""

    on: date
    db: float


@dataclass(frozen=True, slots=True)
class Case:
    """What is known. Deliberate poor trials of a contrast pair are not in it.

    Attributes:
        today: the day of the decision.
        loud: the task belongs to the loud school.
        measured: it has a measure; otherwise it advances on its felt check.
        trials: of this task, note and sound.
        efforts, levels: of this task.
        strained_on: days on which strain was said after it.
        stopped_on: days on which a session with it was stopped for strain or light-headedness.
        cannot: keys of the marks that say "can't do it".
        felt: answers of the felt check, the newest last.
        bothers: the weekly question, (day, 0 to 10).
        open_flags: red flags nobody has cleared.
        tries_prescribed: a session.
        seconds_now, next_seconds: the target in force and the next rung's.
        seconds_a_week_ago: the target seven days ago.
        change_limit_s: real change (``reedcore.progress.trend``); None where it is not known.
        worse_since: the first day of a decline that was seen before and has not passed.
        block_means: (practised day, mean of the power notes that day).
        goal_s: the hold goal of the block; None without one.
        taper_week: the step of the taper, 1 to 7; None outside it.
        taper_since: the first day of that step.
        peak_s: the best day's mean before the taper.
        same_target_since: the day from which the target in force was asked for.
        rising: whether its trend rises; None where there is none (``reedcore.progress.trend``).
        due_days_missed: due days in a row without a session, up to yesterday.
        adherence_14: over 14 days, 0 to 1.
    """

    today: date
    loud: bool = False
    measured: bool = True
    trials: tuple[Tried, ...] = ()
    efforts: tuple[Effort, ...] = ()
    levels: tuple[Level, ...] = ()
    strained_on: tuple[date, ...] = ()
    stopped_on: tuple[date, ...] = ()
    cannot: tuple[str, ...] = ()
    felt: tuple[str, ...] = ()
    bothers: tuple[tuple[date, float], ...] = ()
    open_flags: tuple[str, ...] = ()
    tries_prescribed: int = 4
    seconds_now: float | None = None
    next_seconds: float | None = None
    seconds_a_week_ago: float | None = None
    change_limit_s: float | None = None
    worse_since: date | None = None
    block_means: tuple[tuple[date, float], ...] = ()
    goal_s: float | None = None
    taper_week: int | None = None
    taper_since: date | None = None
    peak_s: float | None = None
    same_target_since: date | None = None
    rising: bool | None = None
    due_days_missed: int = 0
    adherence_14: float | None = None

    def sessions(self) -> list[tuple[Tried, ...]]:
        """The trials of now, session by session, oldest first."""
        found: dict[str, list[Tried]] = {}
        for trial in self.of_now():
            found.setdefault(trial.session, []).append(trial)
        return [tuple(trials) for trials in found.values()]

    def of_now(self) -> tuple[Tried, ...]:
        """The trials that a decision may rest on."""
        return tuple(trial for trial in self.trials if trial.anew)

    def daily_longest(self) -> dict[date, float]:
        """Each practised day's longest hold."""
        found: dict[date, float] = {}
        for trial in self.trials:
            if trial.held_s is not None:
                found[trial.on] = max(found.get(trial.on, 0.0), trial.held_s)
        return found


def share_on_target(trials: Iterable[Tried]) -> float | None:
    """Of those that were judged; None where none was."""
    judged = [trial.on_target for trial in trials if trial.on_target is not None]
    return sum(judged) / len(judged) if judged else None
