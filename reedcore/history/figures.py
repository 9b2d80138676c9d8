"""The figure of a trial that a series draws, compares and follows."""

from __future__ import annotations

from reedcore.measures import Figure, kind_of
from reedcore.measures.kind import HELD

from .values import TrialRecord


def counted_s(trial: TrialRecord, counts: str) -> float | None:
    """Return the seconds that the task counts; where steady ones could not be judged, all
    of them."""
    if counts == "steady" and trial.steady_s is not None:
        return trial.steady_s
    return trial.total_s


def figure_of(measure: str) -> Figure:
    """Return the main figure of a measure; the seconds if it has no figure of its own."""
    return kind_of(measure).figure or HELD


def value_of(figure: Figure, trial: TrialRecord, counts: str) -> float | None:
    """Return the figure's value in one trial; None if it was not measured."""
    return figure.value(trial.figures, trial.share_on_pitch, counted_s(trial, counts))
