"""The rows of what was prescribed, practised and decided."""

from .conversation import ClinicLine
from .decided import Decision, RuleSettings
from .practised import ReferenceVowel, SelfReport, Session, Trace, Trial
from .prescribed import PrescribedTask, ProgrammeVersion

__all__ = [
    "ClinicLine",
    "Decision",
    "PrescribedTask",
    "ProgrammeVersion",
    "ReferenceVowel",
    "RuleSettings",
    "SelfReport",
    "Session",
    "Trace",
    "Trial",
]
