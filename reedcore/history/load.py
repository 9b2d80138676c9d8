"""How much voice a week was: seconds with a pitch, and vibrations (MEASURES §5.8)."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from reedcore.progress import VoiceLoad

from .values import TrialRecord

DAYS = 7


def load_of_week(trials: Iterable[TrialRecord], today: date) -> VoiceLoad | None:
    """Of the seven days up to and with today, whatever was heard; None where nothing was."""
    total = VoiceLoad()
    for trial in trials:
        if today - timedelta(days=DAYS) < trial.on <= today and "cycles" in trial.figures:
            total += VoiceLoad(trial.figures["load_s"], trial.figures["cycles"])
    return total if total.voiced_s else None
