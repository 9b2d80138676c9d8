"""Decide whether a client is practising at all; a client who is not is never on course."""

from __future__ import annotations

from datetime import timedelta

from .case import Case
from .settings import Settings

_PRESENT = timedelta(days=7)


def is_present(case: Case, settings: Settings) -> bool:
    """Return whether the client voiced in the last seven days and kept enough of the last
    fortnight; rest days are excused but are no practice."""
    last, kept = case.last_session_on, case.adherence_14
    is_recent = last is not None and case.today - last < _PRESENT
    return is_recent and (kept is None or kept >= settings.low_adherence)
