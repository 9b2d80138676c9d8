"""The range profile: for how long each semitone was sung at each decibel, growing try by try."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import ValueOutOfRange

#: Duration of one track frame.
FRAME_S = 0.010


@dataclass(frozen=True, slots=True)
class RangeProfile:
    """Seconds in each (MIDI note, whole dB) cell, in order; kept in frames so that sums are exact.

    Attributes:
        cells: ``((note, db), frames)``.
    """

    cells: tuple[tuple[tuple[int, int], int], ...] = ()

    @property
    def total_s(self) -> float:
        """Return the voiced seconds in all cells."""
        return sum(count for _, count in self.cells) * FRAME_S

    def seconds(self, note: int, db: int) -> float:
        """Return seconds in one cell."""
        return dict(self.cells).get((note, db), 0) * FRAME_S

    def merge(self, other: RangeProfile) -> RangeProfile:
        """Return both together; the order of merging makes no difference."""
        total = Counter(dict(self.cells)) + Counter(dict(other.cells))
        return RangeProfile(tuple(sorted(total.items())))

    def outline(self, *, least_s: float = 0.05) -> tuple[tuple[int, int, int], ...]:
        """Return (note, softest dB, loudest dB) for every note held long enough; lowest note
        first."""
        by_note: dict[int, list[int]] = {}
        for (note, db), count in self.cells:
            if count * FRAME_S >= least_s:
                by_note.setdefault(note, []).append(db)
        return tuple((note, min(dbs), max(dbs)) for note, dbs in sorted(by_note.items()))


def range_profile_of(
    pitch_hz: NDArray[np.float64],
    level_db: NDArray[np.float64],
    *,
    a4_hz: float = 440.0,
    frames_each: int = 1,
) -> RangeProfile:
    """Return the profile of one try's frames.

    Args:
        pitch_hz: one value each ``frames_each`` frames of 10 ms, NaN without a pitch.
        level_db: of the same frames, on the device's own scale; scales are never mixed.

    Raises:
        ValueOutOfRange: the two differ in length.
    """
    if pitch_hz.shape != level_db.shape:
        raise ValueOutOfRange(
            what="number of levels",
            value=level_db.size,
            lowest=pitch_hz.size,
            highest=pitch_hz.size,
        )
    is_measured = np.isfinite(pitch_hz) & np.isfinite(level_db)
    notes = np.rint(69.0 + 12.0 * np.log2(pitch_hz[is_measured] / a4_hz)).astype(int)
    decibels = np.rint(level_db[is_measured]).astype(int)
    counts = Counter(zip(notes.tolist(), decibels.tolist(), strict=True))
    return RangeProfile(
        tuple((cell, count * frames_each) for cell, count in sorted(counts.items()))
    )
