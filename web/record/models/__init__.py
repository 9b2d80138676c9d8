"""Prescriptions, practice and decisions."""

from .conversation import PracticeMessage
from .decided import Decision, RuleSettings
from .practised import ReferenceVowel, SelfReport, Session, Trace, Trial
from .prescribed import PrescribedTask, ProgrammeVersion

__all__ = [
    "Decision",
    "PracticeMessage",
    "PrescribedTask",
    "ProgrammeVersion",
    "ReferenceVowel",
    "RuleSettings",
    "SelfReport",
    "Session",
    "Trace",
    "Trial",
]
