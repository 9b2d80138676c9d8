"""The vocal function block: complete at its goal, then the taper, a week a step."""

from __future__ import annotations

from datetime import date, timedelta
from statistics import fmean

from reedcore.programme.taper_weeks import TAPER

from .case import Case
from .presence import is_present
from .proposal import Proposal, Reason, Step
from .settings import Settings

_WEEK = timedelta(days=7)
#: Consecutive practised days on which the goal must be reached, at most a week apart.
_GOAL_DAYS = 2
#: Practised days within a week that show a loss of the peak.
_LOST_DAYS = 2


def block_complete(case: Case, settings: Settings) -> Proposal | None:
    """Propose the taper after the goal on two practised days in a row; during it, compare with the
    peak."""
    if not is_present(case, settings):
        return None
    if case.taper_week is not None:
        return _taper(case, settings)
    if case.goal_s is None:
        return None
    last = [(day, mean) for day, mean in case.block_means if _is_new(case, day)][-_GOAL_DAYS:]
    if len(last) < _GOAL_DAYS or any(mean < case.goal_s for _, mean in last):
        return None
    (first, _), (newest, mean) = last
    efforts = list(case.efforts_by_session().values())
    if newest - first > _WEEK or not efforts or efforts[-1] > settings.soft_effort:
        return None
    peak = max(_week_means(case.block_means))
    facts = {"goal_s": case.goal_s, "mean_s": mean, "peak_s": peak}
    return Proposal(Step.START_TAPER, Reason.GOAL_REACHED, facts=facts, otherwise=Step.MAINTAIN)


def _is_new(case: Case, day: date) -> bool:
    return case.since is None or day > case.since


def _week_means(means: tuple[tuple[date, float], ...]) -> list[float]:
    """Return the mean of the seven days up to each practised day."""
    return [
        fmean(value for day, value in means if timedelta(0) <= until - day < _WEEK)
        for until, _ in means
    ]


def _taper(case: Case, settings: Settings) -> Proposal | None:
    """Propose the next taper step: forward after a whole week that keeps the peak, back after two
    days, or a whole week, that do not."""
    since = case.taper_since
    if case.peak_s is None or case.taper_week is None or since is None:
        return None
    week = [
        mean for day, mean in case.block_means
        if case.today - day < _WEEK and day >= since and _is_new(case, day)
    ]  # fmt: skip
    whole = case.today - since >= _WEEK
    if not week or not (whole or len(week) >= _LOST_DAYS):
        return None
    kept = fmean(week) / case.peak_s
    facts = {"kept": kept, "peak_s": case.peak_s, "week": float(case.taper_week)}
    if kept < settings.keep_share:
        if case.taper_week == 1:
            return Proposal(Step.CHECK_IN, Reason.PEAK_LOST, facts=facts, otherwise=Step.STAY)
        return Proposal(Step.TAPER_BACK, Reason.PEAK_LOST, facts=facts)
    if not whole:
        return None
    if case.taper_week == len(TAPER):
        return Proposal(Step.MAINTAIN, Reason.PEAK_KEPT, facts=facts)
    return Proposal(Step.TAPER_ON, Reason.PEAK_KEPT, facts=facts, otherwise=Step.MAINTAIN)
