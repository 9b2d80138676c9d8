"""A hard recording with its true figures, and the verdict on the measured ones."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite, log2
from zlib import crc32

import numpy as np

from reedcore.acoustics import Analysis, TakeKind, analyse
from reedcore.acoustics.voice.quality import QualityReason

#: Tolerance of a hold's length and of its middle pitch: in quiet, and for a hard case.
LENGTH_S, PITCH_CENTS = 0.15, 20.0


class Verdict(StrEnum):
    """The verdict on a recording."""

    RIGHT = "right"
    UNSURE = "unsure, and said so"
    WRONG = "silently wrong"
    CRASHED = "crashed"


@dataclass(frozen=True)
class Truth:
    """True figures. None: not judged.

    Attributes:
        holds: length in s of each.
        pitch_hz: of the one hold.
        tells: a reason that the quality must give.
        range_hz, jumps: of a glide.
        groups: of spoken lines.
        wet: whether water or lips chop the sound: nothing of it is then said to be the voice's.
    """

    holds: tuple[float, ...] | None = None
    pitch_hz: float | None = None
    tells: QualityReason | None = None
    range_hz: tuple[float, float] | None = None
    jumps: int | None = None
    groups: int | None = None
    wet: bool | None = None
    length_s: float = LENGTH_S
    pitch_cents: float = PITCH_CENTS


def rng_of(name: str) -> np.random.Generator:
    """Return the random generator of a recording of this name, always in the same state."""
    return np.random.default_rng(crc32(name.encode()))


@dataclass(frozen=True)
class HardRecording:
    """A recording that is made when it is requested."""

    family: str
    name: str
    make: Callable[[], tuple[np.ndarray, int]]
    truth: Truth
    task: TakeKind | None = None
    source: str = ""

    @property
    def half(self) -> str:
        """Return "held out" if its source was never tuned on; otherwise a half by its name."""
        if self.source:
            return "held-out source"
        return "tuning" if crc32(f"{self.family} {self.name}".encode()) % 2 else "held-out"


def verdict_on(case: HardRecording) -> tuple[Verdict, str]:
    """Return the verdict on one recording, with the reason in a few words."""
    sound, rate = case.make()
    try:
        found = analyse(np.clip(sound, -1.0, 1.0), rate, task=case.task)
    except Exception as fault:
        return Verdict.CRASHED, repr(fault)
    wrong = [(why, said) for why, said in _faults(found, case) if why]
    if not wrong:
        return Verdict.RIGHT, ""
    words = "; ".join(why for why, _ in wrong)
    return (Verdict.UNSURE if all(said for _, said in wrong) else Verdict.WRONG), words


def _faults(found: Analysis, case: HardRecording):
    """Yield (error, whether the figures are marked as unsure) for each true figure."""
    truth = case.truth
    loud_room = QualityReason.ROOM_TOO_LOUD_FOR_LEVEL in found.quality.reasons
    if truth.holds is not None:
        yield from _check_holds(found, truth, loud_room)
    if truth.tells is not None and truth.tells not in found.quality.reasons:
        yield f"does not say {truth.tells}", False
    if truth.range_hz is not None:
        if found.glide is None:
            yield "no glide", True
        else:
            ends = zip((found.glide.low_hz, found.glide.high_hz), truth.range_hz, strict=True)
            off = max(abs(1200 * log2(got / true)) for got, true in ends)
            yield (f"glide's end off by {off:.0f} cents" if off > 80 else ""), False
            if truth.jumps is not None and len(found.glide.jumps) != truth.jumps:
                yield f"{len(found.glide.jumps)} jumps", False
            if truth.wet and found.glide.breaks:
                yield f"{len(found.glide.breaks)} breaks", False
    if truth.groups is not None:
        groups = len(found.speech.groups) if found.speech else 0
        yield (f"{groups} groups for {truth.groups}" if groups != truth.groups else ""), False


def _check_holds(found, truth, loud_room):
    if len(found.holds) != len(truth.holds):
        lengths = ", ".join(f"{each.kind} {each.duration_s:.2f} s" for each in found.holds)
        # Nothing found says so itself; too many holds do not.
        yield f"{len(found.holds)} holds ({lengths}) for {len(truth.holds)}", not found.holds
        return
    for hold, seconds in zip(found.holds, truth.holds, strict=True):
        off = hold.duration_s - seconds
        unsure = hold.end_uncertainty_s if isfinite(hold.end_uncertainty_s) else 0.0
        if abs(off) > truth.length_s:
            yield f"length off by {off:+.2f} s", loud_room or abs(off) <= truth.length_s + unsure
        if truth.pitch_hz is not None:
            cents = (
                1200 * log2(hold.pitch.median_hz / truth.pitch_hz)
                if isfinite(hold.pitch.median_hz)
                else np.inf
            )
            if abs(cents) > truth.pitch_cents:
                yield f"pitch off by {cents:+.0f} cents", not found.quality.voice_judged
        if truth.wet:
            shown = isfinite(hold.cpps_db) or hold.tremor is not None or bool(hold.breaks)
            yield ("what is the water's shown as the voice's" if shown else ""), False
        elif truth.wet is False:
            yield ("a voice taken for water" if hold.flutter else ""), False
