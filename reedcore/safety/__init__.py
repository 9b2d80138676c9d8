"""Reasons against voicing: red flags, cautions, and the hazards that each forbids.

Supports a licensed clinician's judgement; it does not diagnose.
"""

from .cautions import (
    ASKED,
    BY_SAY_SO,
    CHILD_SESSION_S,
    FORBIDS,
    LUNG_REST_S,
    LUNG_SHARE,
    Caution,
    Forbidden,
    Strictness,
    avoids_water,
    forbidden_hazards,
)
from .clearance import Block, SafetyCase, clearance, larynx_seen
from .flags import ASKABLE, SCREENED, TIERS, Flag, Tier
from .hazards import Hazard
from .stops import (
    ASKED_AFTER,
    ASKED_BEFORE,
    TAKEN_BACK_WITHIN,
    UNDELIVERED_FOR,
    Consequence,
    consequence,
    escalated_at,
    mail_due_at,
)

__all__ = [
    "ASKABLE",
    "ASKED",
    "ASKED_AFTER",
    "ASKED_BEFORE",
    "BY_SAY_SO",
    "CHILD_SESSION_S",
    "FORBIDS",
    "LUNG_REST_S",
    "LUNG_SHARE",
    "SCREENED",
    "TAKEN_BACK_WITHIN",
    "TIERS",
    "UNDELIVERED_FOR",
    "Block",
    "Caution",
    "Consequence",
    "Flag",
    "Forbidden",
    "Hazard",
    "SafetyCase",
    "Strictness",
    "Tier",
    "avoids_water",
    "clearance",
    "consequence",
    "escalated_at",
    "forbidden_hazards",
    "larynx_seen",
    "mail_due_at",
]
