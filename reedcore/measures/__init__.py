"""The kinds of measure, and from the sound of one try to its figures, its trace and how it did."""

from .common import TrialContext, TrialGoal
from .kind import CountedThing, DrawingKind, Figure, MeasureKind
from .kinds import KINDS, kind_of, measures_with
from .trial import Measurement, measure_trial

__all__ = [
    "KINDS",
    "CountedThing",
    "DrawingKind",
    "Figure",
    "MeasureKind",
    "Measurement",
    "TrialContext",
    "TrialGoal",
    "kind_of",
    "measure_trial",
    "measures_with",
]  # fmt: skip
