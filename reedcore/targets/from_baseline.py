"""The part of a baseline that target proposals use."""

from __future__ import annotations

from reedcore.baseline.sheet import PHONATION, BaselineSummary

from .proposing import Figures


def figures_from(found: BaselineSummary, *, voice: str, may_be_loud: bool, a4_hz: float) -> Figures:
    """Return the figures that targets are proposed from.

    Args:
        voice: treble, bass or own.
        may_be_loud: nothing on record forbids strong voice.
        a4_hz: the clinic's tuning.
    """
    phonation = found.volume_is == PHONATION
    return Figures(
        voice=voice,
        on=found.on,
        longest_vowel_s=found.longest_vowel.seconds if found.longest_vowel else None,
        longest_steady_s=found.longest_steady_s,
        longest_s_s=found.longest_s.seconds if found.longest_s else None,
        comfortable_hz=found.comfortable_hz,
        comfortable_range=found.comfortable_range,
        comfortable_spread_cents=found.comfortable_spread_cents,
        comfortable_db=found.comfortable_level.dbfs if found.comfortable_level else None,
        loud_db=found.loud_level.dbfs if found.loud_level and found.louder_by else None,
        phonation_volume_ml=found.volume_ml if phonation else None,
        vital_capacity_ml=None if phonation else found.volume_ml,
        may_be_loud=may_be_loud,
        a4_hz=a4_hz,
    )
