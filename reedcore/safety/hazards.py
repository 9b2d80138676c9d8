"""Hazards of tasks that a caution on record may forbid."""

from __future__ import annotations

from enum import StrEnum


class Hazard(StrEnum):
    """A hazard of a task that a caution may test for.

    A catalogue task carries those that it always has; the rest follow from what is prescribed
    (:func:`reedcore.checks.hazards_of`).
    """

    EMPTIES_LUNGS = "empties_lungs"
    HARD_BLOW = "hard_blow"
    BREATH_HOLD = "breath_hold"
    #: Longer than 10 s: too long for a child.
    LONG_BREATH_HOLD = "long_breath_hold"
    LONG_BREATH = "long_breath"
    #: Panting, or counted breathing above 20 breaths a minute.
    PANTING = "panting"
    #: Strong voice in any family.
    LOUD = "loud"
    #: Strong voice without a ceiling, or with one more than 10 dB above the comfortable voice.
    MAXIMAL_LOUDNESS = "maximal_loudness"
    HIGH = "high"
    #: A voiced hold above 60 % of the client's best.
    MAXIMAL_HOLD = "maximal_hold"
    HARD_ONSET = "hard_onset"
    SWELL = "swell"
    #: A wide-open vowel with strong voice.
    WIDE_VOWEL = "wide_vowel"
    BACK_PRESSURE = "back_pressure"
    WATER = "water"
    SUCK = "suck"
    LYING_FLAT = "lying_flat"
    STANDING = "standing"
    NECK = "neck"
    JAW = "jaw"
    LATEX = "latex"
    GLASS = "glass"
    #: Breath or voice through the natural airway.
    UPPER_AIRWAY = "upper_airway"
