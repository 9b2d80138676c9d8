"""What might be decided next, and why: history in, proposals out. The clinician decides."""

from reedcore.programme.taper_weeks import TAPER, TaperWeek

from .case import Case, FeltCheck, LoudLevel, PastTrial, ScaleAnswer
from .need import Need, most_pressing, need_of
from .proposal import Proposal, Reason, Step
from .rules import RULES, propose, propose_together
from .settings import RANGES, Settings, settings_with

__all__ = [
    "RANGES",
    "RULES",
    "TAPER",
    "Case",
    "FeltCheck",
    "LoudLevel",
    "Need",
    "PastTrial",
    "Proposal",
    "Reason",
    "ScaleAnswer",
    "Settings",
    "Step",
    "TaperWeek",
    "most_pressing",
    "need_of",
    "propose",
    "propose_together",
    "settings_with",
]
