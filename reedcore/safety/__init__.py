"""What stands against voicing: red flags, cautions, and what each forbids.

Supports a licensed clinician's judgement; it does not diagnose.
"""

from .cautions import Caution, Forbidden, Mark, forbidden_marks
from .clearance import Block, SafetyCase, clearance
from .flags import SCREENED, TIERS, Flag, Tier

__all__ = [
    "SCREENED",
    "TIERS",
    "Block",
    "Caution",
    "Flag",
    "Forbidden",
    "Mark",
    "SafetyCase",
    "Tier",
    "clearance",
    "forbidden_marks",
]
