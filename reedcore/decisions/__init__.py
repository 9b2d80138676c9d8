"""What might be decided next, and why: history in, proposals out. The clinician decides."""

from .case import Case, Effort, Level, Tried
from .proposal import Because, Proposal, Step
from .rules import RULES, propose
from .settings import Settings
from .taper import TAPER, TaperWeek

__all__ = [
    "RULES",
    "TAPER",
    "Because",
    "Case",
    "Effort",
    "Level",
    "Proposal",
    "Settings",
    "Step",
    "TaperWeek",
    "Tried",
    "propose",
]
