"""Everything that a history comes to: the same answer for the board, a page, a file, a terminal."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from reedcore.history import History, recent_history
from reedcore.history.courses import CourseLine, courses_of, share_at_first, share_of_week
from reedcore.history.dose import WeekDose, week_dose
from reedcore.history.dues import adherence_14
from reedcore.history.fortnight import Fortnight, fortnight
from reedcore.history.series import Series, series_of

from .of_history import HistoryProposals, ProposalSubject, for_each_task, proposing_only
from .proposal import Step
from .settings import changed_settings


@dataclass(frozen=True, slots=True)
class ProposalAnswer:
    """A proposal, with the codes of its reason and the figures behind it."""

    about: str
    task: int | None
    task_code: str
    note_midi: int | None
    step: str
    reason: str
    facts: dict[str, float]
    evidence: list[str]
    to_seconds: float | None
    moves_from: str | None
    moves_to: str | None


@dataclass(frozen=True, slots=True)
class FigureAnswer:
    """A figure of a series; None if it is unknown."""

    code: str
    unit: str
    baseline: float | None
    best: float | None
    week: float | None
    change: float | None
    limit: float | None
    real: bool | None
    provisional: bool | None


@dataclass(frozen=True, slots=True)
class SeriesAnswer:
    """A task on its note and sound; shares as [on target, judged]."""

    key: str
    trials: int
    figures: list[FigureAnswer]
    at_first: list[int]
    this_week: list[int]
    trend_per_week: float | None


@dataclass(frozen=True, slots=True)
class DecisionAnswer:
    """The proposals for one client on one day, as the command line prints them.

    Attributes:
        adherence: of the fortnight, 0 to 1.
        dose: held voice of the seven days before today.
        stays: each task that stays as it is, with the reason.
    """

    today: date
    proposals: list[ProposalAnswer]
    adherence: float | None
    dose: WeekDose
    fortnight: Fortnight
    series: list[SeriesAnswer]
    stays: list[ProposalAnswer]


def answer(history: History, rules: Mapping[str, Any], *, now: datetime) -> DecisionAnswer:
    """Return the proposals and the figures behind them.

    Args:
        history: all of it.
        rules: the thresholds that were changed.
        now: with its time zone; the day it is where the client lives counts.
    """
    today, recent = history.day(now), recent_history(history, now=now)
    every = for_each_task(recent, changed_settings(rules), today=today)
    proposals = proposing_only(recent, every)
    pressing = (
        proposals[0].prescribed_item
        if proposals and proposals[0].about is not ProposalSubject.WHOLE
        else None
    )
    return DecisionAnswer(
        today=today,
        proposals=[_proposal(each) for each in proposals],
        adherence=adherence_14(recent, today),
        dose=week_dose(recent, today),
        fortnight=fortnight(recent, pressing, today=today),
        series=[_series(history, each, today) for each in series_of(history)],
        stays=[_proposal(each) for each in every if each.proposal.step is Step.STAY],
    )


def _proposal(each: HistoryProposals) -> ProposalAnswer:
    proposal, to = each.proposal, each.next_rung
    return ProposalAnswer(
        about=each.about.value,
        task=each.prescribed_item.key if each.prescribed_item else None,
        task_code=each.prescribed_item.code if each.prescribed_item else "",
        note_midi=each.prescribed_item.note_midi if each.prescribed_item else None,
        step=proposal.step.value,
        reason=proposal.reason.value,
        facts=dict(proposal.facts),
        evidence=list(proposal.evidence),
        to_seconds=proposal.to_seconds,
        moves_from=to.before if to else None,
        moves_to=to.label if to else None,
    )


def _series(history: History, series: Series, today: date) -> SeriesAnswer:
    key = (series.code, series.note_midi, series.sound, series.measure)
    trials = history.by_series.get(key, [])
    efforts = [
        (str(report.session), report.on, float(report.value))
        for report in history.reports
        if report.kind == "effort" and report.task in series.targets
    ]
    lines = courses_of(series, trials, efforts, today=today)
    first, week = share_at_first(trials), share_of_week(trials, today)
    trend = lines[0].course.trend
    return SeriesAnswer(
        key=series.key,
        trials=len(trials),
        figures=[_figure(line) for line in lines],
        at_first=[first.met, first.judged],
        this_week=[week.met, week.judged],
        trend_per_week=7.0 * trend.per_day if trend else None,
    )


def _figure(line: CourseLine) -> FigureAnswer:
    course, change = line.course, line.course.change
    return FigureAnswer(
        code=line.code,
        unit=line.unit,
        baseline=course.first_mean,
        best=course.best if line.has_best else None,
        week=course.week_mean,
        change=change.by if change else None,
        limit=change.limit if change else None,
        real=change.is_real if change else None,
        provisional=change.is_provisional if change else None,
    )
