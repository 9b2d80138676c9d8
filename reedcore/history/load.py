"""Vocal load of a week: seconds with a pitch, and vibrations (MEASURES §5.8)."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from reedcore.progress import VoiceLoad

from .values import TrialRecord

DAYS = 7


def load_of_week(trials: Iterable[TrialRecord], today: date) -> VoiceLoad | None:
    """Return the voicing of the seven days up to and including today; None if none was measured."""
    total = VoiceLoad()
    for trial in trials:
        if today - timedelta(days=DAYS) < trial.on <= today and "cycles" in trial.figures:
            total += VoiceLoad(trial.figures["load_s"], trial.figures["cycles"])
    return total if total.voiced_s else None
