"""Simulated courses under the current rules: when a decline is seen, whether a change is reported,
and how a target moves if every proposal is accepted on its day."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import timedelta
from itertools import pairwise
from random import Random
from statistics import fmean

from reedcore.decisions import Case, PastTrial, ScaleAnswer, Settings, Step, propose
from reedcore.ladders import rung_above_s, rung_at_or_under_s, rung_below_s
from reedcore.progress import BetterDirection, MeasuredValue, course_of, first_confirmed

from .people import Days, Person, on, practice_days

SETTINGS = Settings()
#: A first target is chosen under this share of the client's best.
BEGINS_UNDER = 0.75


def decline_seen(person: Person, weeks: int, chance: Random) -> int | None:
    """Return the day of a course on which a decline is first confirmed; None if it never is."""
    days = Days(person, chance)
    longest = {on(day): max(days.held(day)) for day in practice_days(person, weeks)}
    found = first_confirmed(longest, share=SETTINGS.worse_share, least_days=SETTINGS.worse_days)
    return (found - on(0)).days if found else None


def simulate_changes(person: Person, weeks: int, chance: Random) -> tuple[list[bool], bool]:
    """Return whether any weekly look reports a change, and whether the final report does."""
    days = Days(person, chance)
    measured = [
        MeasuredValue(on(day), day, value)
        for day in practice_days(person, weeks)
        for value in days.held(day)
    ]
    looks, planned = [], False
    for week in range(1, weeks + 1):
        today = on(7 * week - 1)
        found = course_of(
            [each for each in measured if each.on <= today],
            today=today, better=BetterDirection.HIGHER, with_trend=False,
        )  # fmt: skip
        looks.append(found.change is not None and found.change.is_real)
        planned = found.planned is not None and found.planned.is_real
    return looks, planned


@dataclass
class Targets:
    """The course of a target.

    Attributes:
        moves: (day, up or down) of each step that was taken.
        by_day: the target in force at the end of each day.
        declined_on: days on which a decline was among the proposals.
    """

    moves: list[tuple[int, int]] = field(default_factory=list)
    by_day: list[float] = field(default_factory=list)
    declined_on: list[int] = field(default_factory=list)

    @property
    def turns(self) -> int:
        """Return the number of reversals: up after down, or down after up."""
        ways = [way for _, way in self.moves]
        return sum(one != after for one, after in pairwise(ways))

    def mean_of_last(self, days: int) -> float:
        """Return the mean target of the last days."""
        return fmean(self.by_day[-days:])


def targets_taken(
    person: Person, weeks: int, chance: Random, *, begins: float | None = None
) -> Targets:
    """Return the course of a target if every proposal is accepted on its day."""
    days, found = Days(person, chance), Targets()
    target = begins or rung_at_or_under_s(BEGINS_UNDER * person.able(0))
    history: list[tuple[int, float]] = [(0, target)]
    trials: list[PastTrial] = []
    efforts: list[ScaleAnswer] = []
    since = watched = asked_on = -99
    when = set(practice_days(person, weeks))
    for day in range(7 * weeks):
        if day in when:
            for place, held in enumerate(days.held(day, target)):
                met = held >= target - 1e-9
                trials.append(PastTrial(f"{day}/{place}", day, on(day), met, held, target))
            efforts.append(ScaleAnswer(on(day), 3.0, session=day))
            case = _case(day, target, history, trials, efforts, since, watched, person)
            case = replace(case, has_recent_stall_check=day - asked_on < 28)
            step = propose(case, SETTINGS).step
            if step in (Step.EASE_AND_CALL, Step.LOOK_AGAIN, Step.CALL):
                found.declined_on.append(day)
                watched = day
            way = {Step.ADVANCE: 1, Step.EASE: -1, Step.EASE_AND_CALL: -1}.get(step, 0)
            to = (rung_above_s if way > 0 else rung_below_s)(target) if way else None
            if way:
                since = day
            elif step is Step.CHECK_IN:
                asked_on = day
            if to is not None:
                target = to
                history.append((day, target))
                found.moves.append((day, way))
        found.by_day.append(target)
    return found


def _case(day, target, history, trials, efforts, since, watched, person) -> Case:
    above, below = rung_above_s(target), rung_below_s(target)
    a_week_ago = [seconds for when, seconds in history if when <= day - 7] or [history[0][1]]
    steps = [seconds for _, seconds in history]
    returns = sum(above is not None and one >= above > after for one, after in pairwise(steps))
    return Case(
        today=on(day) + timedelta(days=1),
        trials=tuple(
            PastTrial(
                each.key, each.session, each.on, each.was_on_target, each.held_s, each.asked_s,
                had_other_prescription=each.asked_s != target, is_new=each.session > since,
            )
            for each in trials[-63 * person.trials :]
        ),
        efforts=tuple(
            ScaleAnswer(
                each.on, each.value, each.session > since, each.session > watched, each.session
            )
            for each in efforts[-63:]
        ),
        since=on(since) if since >= 0 else None,
        decline_since=on(watched) if watched >= 0 else None,
        tries_prescribed=person.trials,
        can_advance=above is not None,
        can_ease=below is not None,
        seconds_now=target,
        next_seconds=above,
        returns=returns,
        was_moved_before=len(set(steps)) > 1,
        seconds_a_week_ago=a_week_ago[-1],
        same_target_since=on(history[-1][0]),
        last_session_on=on(day),
    )  # fmt: skip


#: The clients' bests are spread evenly over this range, s, so that no rung and no step size is
#: favoured.
ABLE_S = (6.0, 30.0)


def random_ability(chance: Random) -> float:
    """Return a random best, s."""
    low, high = ABLE_S
    return low * (high / low) ** chance.random()
