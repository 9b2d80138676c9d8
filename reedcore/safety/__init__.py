"""What stands against voicing: red flags, cautions, and what each forbids.

Supports a licensed clinician's judgement; it does not diagnose.
"""

from .cautions import Caution, Forbidden, Mark, forbidden_marks
from .clearance import Block, SafetyCase, clearance
from .flags import SCREENED, TIERS, Flag, Tier
from .stops import (
    ASKED_AFTER,
    ASKED_BEFORE,
    TAKEN_BACK_WITHIN,
    UNDELIVERED_FOR,
    Consequence,
    consequence,
    mail_due_at,
    passed_on_at,
)

__all__ = [
    "ASKED_AFTER",
    "ASKED_BEFORE",
    "SCREENED",
    "TAKEN_BACK_WITHIN",
    "TIERS",
    "UNDELIVERED_FOR",
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
    "mail_due_at",
    "passed_on_at",
]
