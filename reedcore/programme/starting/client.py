"""The figures that a programme is fitted to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from reedcore.baseline import PitchRange
from reedcore.catalogue.ages import ADULT


@dataclass(frozen=True, slots=True)
class AcceptedTarget:
    """A target that was accepted.

    Attributes:
        values: its figures by name with their unit.
        counts: which seconds count, total or steady; empty where it has none.
    """

    values: Mapping[str, Any]
    counts: str = ""


@dataclass(frozen=True, slots=True)
class ClientFigures:
    """A client's figures; any of them may be missing.

    Attributes:
        voice: treble, bass, or own for a range of their own.
        wording: for whom instructions are worded.
        is_child: sessions are shorter, and never of maximal loudness.
        props: what they own.
        comfortable: the comfortable range.
        longest_hiss_s: the longest /s/ of the baseline.
        targets: by kind (notes, hold, steadiness, soft_level, loud_level, talk_level).
        a4_hz: the clinic's tuning.
    """

    voice: str = "own"
    wording: str = ADULT
    is_child: bool = False
    props: tuple[str, ...] = ()
    comfortable: PitchRange | None = None
    longest_hiss_s: float | None = None
    targets: Mapping[str, AcceptedTarget] = field(default_factory=dict)
    a4_hz: float = 440.0
