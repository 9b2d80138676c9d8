"""The programme check: a colleague's second look. One rule, one function, a registry.

A rule gets the plan and the person and gives what it finds; adding one is adding a function with
``@rule`` and its test.
"""

from . import body, dosage, order, safety, targets
from .hazards import hazards_of
from .plan import CheckedItem, Finding, Fix, FixKind, Person, Plan, ProgrammeType, School, Severity
from .registry import RULES, check
from .whole import OF_ALL, check_all

__all__ = [
    "OF_ALL",
    "RULES",
    "CheckedItem",
    "Finding",
    "Fix",
    "FixKind",
    "Person",
    "Plan",
    "ProgrammeType",
    "School",
    "Severity",
    "body",
    "check",
    "check_all",
    "dosage",
    "hazards_of",
    "order",
    "safety",
    "targets",
]
