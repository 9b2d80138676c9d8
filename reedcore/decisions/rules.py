"""The rules, in the order in which they speak: safety before ambition. Each has an opinion or none.

Red flag → getting worse → swap → ease → block complete (and its taper) → advance → check in;
otherwise stay (DOMAIN §6).
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from statistics import fmean

from .case import Case, Tried, share_on_target
from .proposal import Because, Proposal, Step
from .settings import Settings
from .taper import TAPER

_WEEK, _TWO_WEEKS = timedelta(days=7), timedelta(days=14)
#: The best seven-day mean is looked for among so many days before the last seven.
_BEFORE_DAYS = 28
#: Practised days on which the goal must be reached, one after the other.
_GOAL_DAYS = 2

Rule = Callable[[Case, Settings], Proposal | None]


def red_flag_open(case: Case, settings: Settings) -> Proposal | None:
    """Nothing advances while one is open."""
    if not case.open_flags:
        return None
    return Proposal(Step.STOP_AND_REFER, Because.RED_FLAG_OPEN, rests_on=case.open_flags)


def getting_worse(case: Case, settings: Settings) -> Proposal | None:
    """Shorter by a real amount, harder, more in the way, or softer on a loud task."""
    found = (
        _holds_shorter(case, settings)
        or _risen(case, settings)
        or (_level_down(case, settings) if case.loud else None)
    )
    if found is None:
        return None
    if case.worse_since is not None and case.today - case.worse_since >= _TWO_WEEKS:
        return Proposal(
            Step.LOOK_AGAIN, Because.WORSE_FOR_TWO_WEEKS, rests_on=found.rests_on,
            facts=found.facts, otherwise=Step.EASE_AND_CALL,
        )  # fmt: skip
    return found


def _holds_shorter(case: Case, settings: Settings) -> Proposal | None:
    longest = case.daily_longest()
    now = _week_mean(longest, case.today, settings)
    if now is None or case.change_limit_s is None:
        return None
    ends = [case.today - timedelta(days=7 + back) for back in range(_BEFORE_DAYS - 6)]
    means = [_week_mean(longest, end, settings) for end in ends]
    best = max((mean for mean in means if mean is not None), default=None)
    if best is None:
        return None
    fall = best - now
    if fall < settings.worse_share * best or fall <= case.change_limit_s:
        return None
    recent = tuple(trial.key for trial in case.trials if case.today - trial.on < _WEEK)
    return Proposal(
        Step.EASE_AND_CALL, Because.HOLDS_SHORTER, rests_on=recent,
        facts={"now_s": now, "best_s": best}, otherwise=Step.LOOK_AGAIN,
    )  # fmt: skip


def _week_mean(longest: dict[date, float], until: date, settings: Settings) -> float | None:
    """The mean of daily longest holds over the seven days up to a day; None of too few days."""
    days = (until - timedelta(days=back) for back in range(7))
    values = [longest[day] for day in days if day in longest]
    return fmean(values) if len(values) >= settings.worse_days else None


def _risen(case: Case, settings: Settings) -> Proposal | None:
    """Effort of the last week against the week before it; bother against the last answer."""
    week = [each.value for each in case.efforts if case.today - each.on < _WEEK]
    before = [each.value for each in case.efforts if _WEEK <= case.today - each.on < _TWO_WEEKS]
    if week and before and fmean(week) - fmean(before) >= settings.effort_rise:
        facts = {"now": fmean(week), "before": fmean(before)}
        return Proposal(Step.EASE_AND_CALL, Because.EFFORT_UP, facts=facts)
    if len(case.bothers) > 1:
        (_, last), (_, newest) = case.bothers[-2:]
        if newest - last >= settings.effort_rise:
            facts = {"now": newest, "before": last}
            return Proposal(Step.EASE_AND_CALL, Because.BOTHER_UP, facts=facts)
    return None


def _level_down(case: Case, settings: Settings) -> Proposal | None:
    week = [each.db for each in case.levels if case.today - each.on < _WEEK]
    before = [each.db for each in case.levels if _WEEK <= case.today - each.on < _TWO_WEEKS]
    if not week or not before or fmean(before) - fmean(week) < settings.level_drop_db:
        return None
    facts = {"now_db": fmean(week), "before_db": fmean(before)}
    return Proposal(Step.EASE_AND_CALL, Because.LEVEL_DOWN, facts=facts)


def swap(case: Case, settings: Settings) -> Proposal | None:
    """The client says twice that it cannot be done."""
    if len(case.cannot) < settings.cannot:
        return None
    return Proposal(Step.SWAP, Because.CANNOT_DO_IT, rests_on=case.cannot, otherwise=Step.EASE)


def ease(case: Case, settings: Settings) -> Proposal | None:
    """Too few on target, too much effort on a soft task, or strain after a loud one."""
    last = case.sessions()[-settings.ease_sessions :]
    trials = tuple(trial for session in last for trial in session)
    keys = tuple(trial.key for trial in trials)
    strained = _strains_lately(case)
    if strained >= settings.strains:
        return Proposal(
            Step.EASE, Because.STRAIN_SAID, rests_on=keys, facts={"times": float(strained)},
            otherwise=Step.CHECK_IN,
        )  # fmt: skip
    if not case.loud and case.efforts and case.efforts[-1].value >= settings.hard_effort:
        facts = {"effort": case.efforts[-1].value}
        return Proposal(
            Step.EASE, Because.EFFORT_HIGH, rests_on=keys, facts=facts, otherwise=Step.SWAP
        )
    share = share_on_target(trials)
    if len(last) == settings.ease_sessions and share is not None and share < settings.ease_share:
        return Proposal(
            Step.EASE, Because.FEW_ON_TARGET, rests_on=keys, facts={"share": share},
            otherwise=Step.STAY,
        )  # fmt: skip
    return None


def _strains_lately(case: Case) -> int:
    """How often in seven days strain was said after it, or stopped a session that held it."""
    days = (*case.strained_on, *case.stopped_on)
    return sum(case.today - day < _WEEK for day in days)


def block_complete(case: Case, settings: Settings) -> Proposal | None:
    """The goal on two practised days in a row starts the taper; within it, the peak is kept."""
    if case.taper_week is not None:
        return _taper(case, settings)
    last = case.block_means[-_GOAL_DAYS:]
    if case.goal_s is None or len(last) < _GOAL_DAYS or any(mean < case.goal_s for _, mean in last):
        return None
    facts = {"goal_s": case.goal_s, "mean_s": last[-1][1]}
    return Proposal(Step.START_TAPER, Because.GOAL_REACHED, facts=facts, otherwise=Step.MAINTAIN)


def _taper(case: Case, settings: Settings) -> Proposal | None:
    week = [mean for day, mean in case.block_means if case.today - day < _WEEK]
    if case.peak_s is None or not week or case.taper_week is None:
        return None
    kept = fmean(week) / case.peak_s
    facts = {"kept": kept, "peak_s": case.peak_s, "week": float(case.taper_week)}
    if kept < settings.keep_share:
        if case.taper_week == 1:
            return Proposal(Step.STAY, Because.PEAK_LOST, facts=facts, otherwise=Step.CHECK_IN)
        return Proposal(Step.TAPER_BACK, Because.PEAK_LOST, facts=facts)
    if case.taper_since is not None and case.today - case.taper_since < _WEEK:
        return None  # a week a step
    if case.taper_week == len(TAPER):
        return Proposal(Step.MAINTAIN, Because.PEAK_KEPT, facts=facts)
    return Proposal(Step.TAPER_ON, Because.PEAK_KEPT, facts=facts, otherwise=Step.MAINTAIN)


def advance(case: Case, settings: Settings) -> Proposal | None:
    """Most on target with the effort that the school asks for, and never too fast."""
    if case.taper_week is not None or _strains_lately(case):
        return None
    if not case.measured:
        return _felt_right(case, settings)
    trials = _enough(case, settings)
    share = share_on_target(trials) if trials else None
    if share is None or share < settings.advance_share or not _effort_allows(case, settings):
        return None
    to_seconds = case.next_seconds
    if to_seconds is not None and case.seconds_a_week_ago:
        highest = case.seconds_a_week_ago * (1.0 + settings.weekly_cap)
        if to_seconds > highest + 1e-9:
            return None
    return Proposal(
        Step.ADVANCE, Because.MOST_ON_TARGET, rests_on=tuple(trial.key for trial in trials),
        facts={"share": share, "trials": float(len(trials))}, to_seconds=to_seconds,
    )  # fmt: skip


def _felt_right(case: Case, settings: Settings) -> Proposal | None:
    last = case.felt[-settings.advance_sessions :]
    if len(last) < settings.advance_sessions or set(last) != {"yes"}:
        return None
    return Proposal(Step.ADVANCE, Because.FELT_RIGHT, facts={"times": float(len(last))})


def _enough(case: Case, settings: Settings) -> tuple[Tried, ...]:
    """The trials that an advance may rest on; empty where there are too few."""
    if case.tries_prescribed < settings.advance_trials:
        last = _judged(case.of_now())[-settings.few_trials :]
        days = {trial.on for trial in last}
        enough = len(last) == settings.few_trials and len(days) >= settings.few_days
        return last if enough else ()
    sessions = case.sessions()[-settings.advance_sessions :]
    days = {trial.on for session in sessions for trial in session}
    whole = all(len(_judged(session)) >= settings.advance_trials for session in sessions)
    if len(sessions) < settings.advance_sessions or len(days) < settings.advance_days or not whole:
        return ()
    return tuple(trial for session in sessions for trial in session)


def _judged(trials: tuple[Tried, ...]) -> tuple[Tried, ...]:
    return tuple(trial for trial in trials if trial.on_target is not None)


def _effort_allows(case: Case, settings: Settings) -> bool:
    """Not asked is not known, and what is not known lets nothing advance."""
    recent = [each.value for each in case.efforts[-settings.advance_sessions :]]
    if not recent:
        return False
    if case.loud:
        return min(recent) >= settings.loud_effort
    return max(recent) <= settings.soft_effort


def check_in(case: Case, settings: Settings) -> Proposal | None:
    """Nothing heard for some due days, too little for a fortnight, or no way on for weeks."""
    if case.due_days_missed >= settings.missed_days:
        facts = {"days": float(case.due_days_missed)}
        return Proposal(Step.CHECK_IN, Because.DAYS_MISSED, facts=facts)
    if case.adherence_14 is not None and case.adherence_14 < settings.low_adherence:
        facts = {"adherence": case.adherence_14}
        return Proposal(Step.CHECK_IN, Because.ADHERENCE_LOW, facts=facts, otherwise=Step.EASE)
    return _unheard(case, settings) or _stuck(case, settings)


def _unheard(case: Case, settings: Settings) -> Proposal | None:
    """Practised, but nothing of it could be judged: a room, a microphone, a setting."""
    if not case.measured:
        return None
    lately = case.sessions()[-settings.unheard_sessions :]
    trials = tuple(trial for session in lately for trial in session)
    if len(lately) < settings.unheard_sessions or _judged(trials):
        return None
    if any(trial.asked_other for trial in trials):
        return None  # judged or not, it was judged against something else
    return Proposal(
        Step.CHECK_IN, Because.NOTHING_JUDGED, rests_on=tuple(trial.key for trial in trials),
        facts={"sessions": float(len(lately))},
    )  # fmt: skip


def _stuck(case: Case, settings: Settings) -> Proposal | None:
    """Well practised under one target for weeks, not reaching it, and not on the rise."""
    since = case.same_target_since
    if since is None or (case.today - since).days < settings.stuck_days or case.rising is not False:
        return None
    first = case.today - timedelta(days=settings.stuck_days)
    lately = [session for session in case.sessions() if session[0].on >= first]
    if len(lately) < settings.stuck_sessions:
        return None
    trials = tuple(trial for session in lately for trial in session)
    share = share_on_target(trials)
    if share is None or share >= settings.advance_share:
        return None
    facts = {"share": share, "days": float((case.today - since).days)}
    return Proposal(
        Step.CHECK_IN, Because.STUCK, rests_on=tuple(trial.key for trial in trials), facts=facts,
        otherwise=Step.EASE,
    )  # fmt: skip


RULES: tuple[Rule, ...] = (
    red_flag_open,
    getting_worse,
    swap,
    ease,
    block_complete,
    advance,
    check_in,
)


def propose(case: Case, settings: Settings | None = None) -> Proposal:
    """What the first rule with an opinion says; otherwise to stay."""
    settings = settings or Settings()
    for rule in RULES:
        found = rule(case, settings)
        if found is not None:
            return found
    return Proposal(Step.STAY, Because.NOTHING_STANDS_OUT)
