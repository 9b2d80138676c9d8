"""What stands against voicing: red flags, cautions, and what each forbids.

Supports a licensed clinician's judgement; it does not diagnose.
"""

from .cautions import Caution, Forbidden, Mark, forbidden_marks
from .clearance import Block, SafetyCase, clearance
from .flags import SCREENED, TIERS, Flag, Tier
from .stops import ASKED_AFTER, ASKED_BEFORE, Consequence, consequence, passed_on_at

__all__ = [
    "ASKED_AFTER",
    "ASKED_BEFORE",
    "SCREENED",
    "TIERS",
    "Block",
    "Caution",
    "Consequence",
    "Flag",
    "Forbidden",
    "Mark",
    "SafetyCase",
    "Tier",
    "clearance",
    "consequence",
    "forbidden_marks",
    "passed_on_at",
]
