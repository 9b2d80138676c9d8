"""Due dates of sessions, and the length of a session."""

from .session_time import DAY_VOICED_CAP_S, SESSION_CAP_S, SessionPart, SessionTime, session_time
from .slots import Dose, DoseKind, Slot, due_slots

__all__ = [
    "DAY_VOICED_CAP_S",
    "SESSION_CAP_S",
    "Dose",
    "DoseKind",
    "SessionPart",
    "SessionTime",
    "Slot",
    "due_slots",
    "session_time",
]
