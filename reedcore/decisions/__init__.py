"""Propose decisions with reasons from a client's history. The clinician decides."""

from reedcore.programme.taper_weeks import TAPER, TaperWeek

from .case import Case, FeltCheck, LoudLevel, PastTrial, ScaleAnswer
from .need import Need, most_pressing_need, need_of
from .proposal import Proposal, Reason, Step
from .rules import RULES, propose, propose_together
from .settings import RANGES, Settings, changed_settings
from .waiting import waiting_for

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
    "changed_settings",
    "most_pressing_need",
    "need_of",
    "propose",
    "propose_together",
    "waiting_for",
]
