"""The programme check: a colleague's second look. One rule, one function, a registry.

A rule gets the plan and the person and gives what it finds; adding one is adding a function with
``@rule`` and its test.
"""

from . import body, dosage, order, safety, targets
from .marks import marks_of
from .plan import Finding, Fix, FixKind, Item, Level, Person, Plan, School, Sort
from .registry import RULES, check

__all__ = [
    "RULES",
    "Finding",
    "Fix",
    "FixKind",
    "Item",
    "Level",
    "Person",
    "Plan",
    "School",
    "Sort",
    "body",
    "check",
    "dosage",
    "marks_of",
    "order",
    "safety",
    "targets",
]
