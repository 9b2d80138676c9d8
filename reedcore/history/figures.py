"""What a series is about: which figure of a trial is drawn, compared and followed."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.progress import Better

from .values import Trial


def counted_s(trial: Trial, counts: str) -> float | None:
    """The seconds that the task counts; where steady ones could not be judged, all of them."""
    if counts == "steady" and trial.steady_s is not None:
        return trial.steady_s
    return trial.total_s


@dataclass(frozen=True)
class Figure:
    """The figure that a task is about."""

    name: str
    unit: str
    better: Better

    @property
    def short_unit(self) -> str:
        """Where there is little room."""
        return "st" if self.unit == "semitones" else self.unit

    def of(self, trial: Trial, counts: str) -> float | None:
        """Its value in one trial; None where it was not measured."""
        if self.name == "span":
            span: float | None = trial.figures.get("semitones")
            return span
        if self.name == "notes on pitch":
            return None if trial.share_on_pitch is None else 100.0 * trial.share_on_pitch
        return counted_s(trial, counts)


HELD = Figure("held", "s", Better.HIGHER)
_FIGURES = {
    "glide": Figure("span", "semitones", Better.HIGHER),
    "pattern": Figure("notes on pitch", "%", Better.HIGHER),
    "compound": Figure("“s” and “z” together", "s", Better.HIGHER),
    "script": Figure("voiced", "s", Better.HIGHER),
}
#: Measures whose trials have something to draw.
DRAWN = ("hold", "hiss", "glide", "pattern", "compound", "script")


def figure_of(measure: str) -> Figure:
    """What a measure is about."""
    return _FIGURES.get(measure, HELD)
