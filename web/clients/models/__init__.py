"""The record, screening, the baseline, and what is left of an erased record."""

from .baseline import Baseline, BaselineTrial, ReferenceFigure, Target
from .client import SAY_SO, Client, Helper
from .erasure import Erasure
from .screening import Screen, Stop

__all__ = [
    "SAY_SO",
    "Baseline",
    "BaselineTrial",
    "Client",
    "Erasure",
    "Helper",
    "ReferenceFigure",
    "Screen",
    "Stop",
    "Target",
]
