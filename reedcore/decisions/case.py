"""One task of one client as the rules see it: plain values, oldest first."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median

from reedcore.progress import Point, Trend, trend

#: Current evidence is at most this old; three sessions may reach further back.
WINDOW, LONG_WINDOW = timedelta(days=14), timedelta(days=21)
#: Period for clients without change, and for the trend.
MONTH = timedelta(days=28)
#: A session with a larger share of unjudged trials is not used: missing judgements are not random.
MOST_UNJUDGED = 1.0 / 3.0
#: A client who ends most holds within this of the target (a share, or seconds) stops at it; others
#: hold as long as they can.
STOPS_WITHIN, STOPS_WITHIN_S, LATE = 0.035, 0.25, 1.0
#: Holding on: a quarter of the holds exceed the target by more than this.
HOLDS_ON = 1.12


@dataclass(frozen=True, slots=True)
class PastTrial:
    """One trial of the task, on one note and sound.

    Attributes:
        session: which of them it was of; of none, the day.
        was_on_target: against the target in force; None where it was not judged.
        held_s: its length, of the kind of seconds that count; None where nothing was measured.
        asked_s: the seconds that were asked for then; None where none were.
        had_other_prescription: the prescription differed then in some part, so the result does
            not count.
        is_new: nothing was decided on it yet, and no red flag has been cleared since. What is not
            new is only compared with.
    """

    key: str
    session: Hashable
    on: date
    was_on_target: bool | None = None
    held_s: float | None = None
    asked_s: float | None = None
    had_other_prescription: bool = False
    is_new: bool = True


@dataclass(frozen=True, slots=True)
class ScaleAnswer:
    """An answer on a scale: physical effort after a block, 1 to 10 (mental effort is asked
    separately and not included), or bother from the voice, 0 to 10.

    Attributes:
        is_new: nothing was decided on the task since.
        is_watched: nothing was decided about a decline since.
    """

    on: date
    value: float
    is_new: bool = True
    is_watched: bool = True
    session: Hashable = None


@dataclass(frozen=True, slots=True)
class FeltCheck:
    """An answer to the felt check: yes, not_sure or no."""

    on: date
    session: Hashable
    answer: str


@dataclass(frozen=True, slots=True)
class LoudLevel:
    """Mean level of a loud trial, dB against the comfortable voice on that device."""

    on: date
    db: float
    device: str = ""


@dataclass(frozen=True, slots=True)
class Case:
    """The evidence about one task. Deliberate poor trials of a contrast pair are left out.

    Attributes:
        today: the day of the decision.
        is_loud: the task belongs to the loud school.
        is_measured: it has a measure; otherwise it advances on its felt check.
        since: the day of the last decision on it, or on which a red flag was last cleared.
        decline_since: the day of the last decision about a decline, of a red flag's clearing or of
            the client's return after a break: only these reset the evidence of a decline.
        trials: of this task, note and sound.
        efforts, levels: of this task.
        strained_on: days with strain reported after the task, or with a session stopped for
            strain or light-headedness, including days before the last decision.
        newly_strained_on: those of them on which nothing was decided yet.
        cannot: keys of the hazards that say "can't do it", of now.
        felt: answers of the felt check, of now.
        bothers: the weekly question.
        open_flags: red flags that have not been cleared.
        tries_prescribed: a session.
        can_advance, can_ease: there is a rung above, a rung below.
        seconds_now, next_seconds: the target in force and the next rung's, where it has seconds.
        returns: how often it came back down from the next rung.
        was_moved_before: it was asked for another target before, so that something is known of it.
        is_at_goal: its seconds have reached the hold goal.
        seconds_a_week_ago: the target seven days ago; in the first week the one it began with.
        is_capped: the weekly step covers it (voiced seconds, not breath counts and hisses).
        block_means: (day, mean of the power notes), of the days on which all of them were held.
        goal_s: the hold goal of the block; None without one.
        is_in_taper: the programme is in its taper.
        taper_week: the step of the taper, 1 to 7; None outside it, and of other tasks.
        taper_since: the first day of that step.
        peak_s: the best seven-day mean before the taper.
        same_target_since: the day from which the target in force was asked for.
        last_session_on: when anything was last voiced; a rest day is none.
        due_days_missed: due days in a row without a session, up to yesterday, not counting those
            that a check in has spoken for.
        adherence_14: over 14 days, 0 to 1.
        has_recent_check_in: the last check in for too little practice was less than 14 days ago.
        tired: (sessions of 14 days in which something was skipped as too tired, all of them).
        has_recent_stall_check: a check in about a stall was decided on within its window.
        room_asked_on: the day of the last check in about what could not be judged.
    """

    today: date
    is_loud: bool = False
    is_measured: bool = True
    since: date | None = None
    decline_since: date | None = None
    trials: tuple[PastTrial, ...] = ()
    efforts: tuple[ScaleAnswer, ...] = ()
    levels: tuple[LoudLevel, ...] = ()
    strained_on: tuple[date, ...] = ()
    newly_strained_on: tuple[date, ...] = ()
    cannot: tuple[str, ...] = ()
    felt: tuple[FeltCheck, ...] = ()
    bothers: tuple[ScaleAnswer, ...] = ()
    open_flags: tuple[str, ...] = ()
    tries_prescribed: int = 4
    can_advance: bool = True
    can_ease: bool = True
    seconds_now: float | None = None
    next_seconds: float | None = None
    returns: int = 0
    was_moved_before: bool = False
    is_at_goal: bool = False
    seconds_a_week_ago: float | None = None
    is_capped: bool = True
    block_means: tuple[tuple[date, float], ...] = ()
    goal_s: float | None = None
    is_in_taper: bool = False
    taper_week: int | None = None
    taper_since: date | None = None
    peak_s: float | None = None
    same_target_since: date | None = None
    last_session_on: date | None = None
    due_days_missed: int = 0
    adherence_14: float | None = None
    has_recent_check_in: bool = False
    tired: tuple[int, int] = (0, 0)
    has_recent_stall_check: bool = False
    room_asked_on: date | None = None

    def current_trials(self, window: timedelta = WINDOW) -> tuple[PastTrial, ...]:
        """Return the trials that a decision can be based on: under the target in force, since the
        last decision, within the window."""
        first = self.today - window
        return tuple(
            trial
            for trial in self.trials
            if trial.is_new and not trial.had_other_prescription and trial.on > first
        )

    def sessions(self, window: timedelta = WINDOW) -> list[tuple[PastTrial, ...]]:
        """Return the current trials by session, oldest first."""
        found: dict[Hashable, list[PastTrial]] = {}
        for trial in self.current_trials(window):
            found.setdefault(trial.session, []).append(trial)
        return [tuple(trials) for trials in found.values()]

    def judged_sessions(self, window: timedelta = WINDOW) -> list[tuple[PastTrial, ...]]:
        """Return the current sessions with enough judged trials, oldest first."""
        return [each for each in self.sessions(window) if is_judged(each)]

    def is_rising(self) -> bool | None:
        """Return whether the trend of the last 28 days rises; None without a trend."""
        course = self._course()
        return None if course is None else course.rises

    def is_falling(self) -> bool:
        """Return whether the trend of the last 28 days falls."""
        course = self._course()
        return course is not None and course.falls

    def _course(self) -> Trend | None:
        found: dict[tuple[date, Hashable], list[float]] = {}
        for trial in self.trials:
            if trial.held_s is not None and trial.on > self.today - MONTH:
                found.setdefault((trial.on, trial.session), []).append(trial.held_s)
        return trend([Point(day, median(values)) for (day, _), values in found.items()])

    def efforts_by_session(self, window: timedelta = WINDOW) -> dict[Hashable, float]:
        """Return the current answers, one per session: of two in one session, the less
        favourable."""
        worse = min if self.is_loud else max
        found: dict[Hashable, float] = {}
        for each in self.efforts:
            if each.is_new and each.on > self.today - window:
                key = each.session or each.on
                found[key] = worse(found.get(key, each.value), each.value)
        return found

    def daily_longest(self) -> dict[date, float]:
        """Return each practised day's longest hold under any target."""
        return {day: trial.held_s or 0.0 for day, trial in self._longest().items()}

    def days_stopped_short(self) -> frozenset[date]:
        """Return days with a lower target than in the 28 days before, for a client who stops at the
        target: the hold could have been longer and shows no decline."""
        by_day: dict[date, list[PastTrial]] = {}
        for trial in self.trials:
            if trial.held_s is not None and trial.asked_s:
                by_day.setdefault(trial.on, []).append(trial)
        found: set[date] = set()
        targets_s: list[tuple[date, float]] = []
        late: list[tuple[date, float]] = []
        for day in sorted(by_day):
            trials = by_day[day]
            most = max((s for on, s in targets_s if day - on <= MONTH), default=0.0)
            now = max(trial.asked_s or 0.0 for trial in trials)
            late += [(day, by) for trial in trials if (by := _late(trial)) is not None]
            habit = [by for on, by in late if day - on < WINDOW]
            reached = any(_late(trial) is not None for trial in trials)
            if now < most and reached and median(habit) <= LATE:
                found.add(day)
            targets_s.append((day, now))
        return frozenset(found)

    def _longest(self) -> dict[date, PastTrial]:
        found: dict[date, PastTrial] = {}
        for trial in self.trials:
            if trial.held_s is not None:
                before = found.get(trial.on)
                if before is None or (before.held_s or 0.0) < trial.held_s:
                    found[trial.on] = trial
        return dict(sorted(found.items()))


def _late(trial: PastTrial) -> float | None:
    """Return how far beyond the target a hold went, relative to the time that a client takes to
    stop; None if the target was not reached."""
    held, target_s = trial.held_s, trial.asked_s
    if held is None or not target_s or held < target_s:
        return None
    return (held - target_s) / max(STOPS_WITHIN * target_s, STOPS_WITHIN_S)


def is_judged(session: Sequence[PastTrial]) -> bool:
    """Return whether enough of a session could be judged for its share to mean something."""
    unjudged = sum(trial.was_on_target is None for trial in session)
    return unjudged <= MOST_UNJUDGED * len(session)


def is_holding_on(trials: Iterable[PastTrial]) -> bool:
    """Return whether the client holds as long as they can, and does not stop at the target."""
    beyond = sorted(
        trial.held_s / trial.asked_s
        for trial in trials
        if trial.held_s is not None and trial.asked_s
    )
    return bool(beyond) and beyond[3 * (len(beyond) - 1) // 4] >= HOLDS_ON


def judged_trials(trials: Iterable[PastTrial]) -> tuple[PastTrial, ...]:
    """Return the judged trials."""
    return tuple(trial for trial in trials if trial.was_on_target is not None)


def share_on_target(trials: Iterable[PastTrial]) -> float | None:
    """Return the share on target of the judged trials; None if none was judged."""
    found = judged_trials(trials)
    return sum(bool(trial.was_on_target) for trial in found) / len(found) if found else None


def count_days(trials: Iterable[PastTrial]) -> int:
    """Return the number of days on which they were made."""
    return len({trial.on for trial in trials})
