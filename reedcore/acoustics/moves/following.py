"""A sung pattern against its notes: which frames are which note, and how far off each was.

The singer's own tempo is allowed. Frames are laid along the notes in order so that the summed
distance in cents, each capped at :data:`CAP_CENTS`, is least (dynamic programming; IEEE Trans
Acoust Speech Signal Process 1978;26:43–49); a note's error is the median over its frames.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite, nan

import numpy as np

from reedcore.errors import ValueOutOfRange

from ..settings import HOP_S
from ..track.frames import Frames

#: Maximum cost of a frame: farther off it is a slide or another note.
CAP_CENTS = 300.0
#: Minimum duration of a sung note.
SHORTEST_NOTE_S = 0.08
ON_PITCH_CENTS = 50.0
#: Minimum pause between two equal notes, seconds.
PAUSE_S = 0.03


@dataclass(frozen=True, slots=True)
class SungNote:
    """One note of the pattern.

    Attributes:
        asked_hz: what was asked.
        start_s, end_s: where it was found, NaN where it was not.
        error_cents: median distance from it, NaN where it was not found.
    """

    asked_hz: float
    start_s: float
    end_s: float
    error_cents: float

    @property
    def on_pitch(self) -> bool:
        """Return whether it was found within 50 cents."""
        return isfinite(self.error_cents) and abs(self.error_cents) <= ON_PITCH_CENTS


def follow(frames: Frames, asked_hz: Sequence[float]) -> tuple[SungNote, ...]:
    """Return the sung notes of a pattern, one for each wanted note.

    Args:
        frames: the track of the recording.
        asked_hz: the notes in order, rests left out.

    Raises:
        ValueOutOfRange: no notes.
    """
    if not asked_hz:
        raise ValueOutOfRange(what="number of notes", value=0, lowest=1, highest=None)
    at = np.flatnonzero(frames.periodic)
    target_cents = 1200.0 * np.log2(np.asarray(asked_hz, dtype=float))
    if at.size < target_cents.size:
        return tuple(SungNote(hz, nan, nan, nan) for hz in asked_hz)
    sung = 1200.0 * np.log2(frames.pitch_hz[at])
    owner = _split_repeated_notes(_align_notes(sung, target_cents), target_cents, at)
    return tuple(
        _note(hz, at[owner == place], sung[owner == place] - target_cents[place])
        for place, hz in enumerate(asked_hz)
    )


def _align_notes(sung: np.ndarray, target_cents: np.ndarray) -> np.ndarray:
    """Return the note that each frame belongs to: in order, without leaving any out."""
    cost = np.minimum(np.abs(sung[:, None] - target_cents[None, :]), CAP_CENTS)
    total = np.full(target_cents.size, np.inf)
    total[0] = cost[0, 0]
    moved = np.zeros(cost.shape, dtype=bool)
    for row in range(1, sung.size):
        before = np.concatenate(([np.inf], total[:-1]))
        moved[row] = before < total
        total = np.where(moved[row], before, total) + cost[row]
    owner = np.empty(sung.size, dtype=int)
    place = target_cents.size - 1
    for row in range(sung.size - 1, -1, -1):
        owner[row] = place
        place -= int(moved[row, place])
    return owner


def _split_repeated_notes(
    owner: np.ndarray, target_cents: np.ndarray, at: np.ndarray
) -> np.ndarray:
    """Split a note that was wanted several times in a row at the pauses of the voice, or into equal
    parts: the pitch alone does not show where one ends."""
    made = owner.copy()
    place = 0
    while place < target_cents.size:
        last = place
        while last + 1 < target_cents.size and target_cents[last + 1] == target_cents[place]:
            last += 1
        count = last - place + 1
        rows = np.flatnonzero((owner >= place) & (owner <= last))
        if count > 1 and rows.size >= count:
            pauses = np.diff(at[rows])
            longest = np.sort(np.argsort(pauses)[-(count - 1) :]) + 1
            if (pauses[longest - 1] * HOP_S < PAUSE_S).any():
                longest = np.linspace(0, rows.size, count + 1)[1:-1].round().astype(int)
            for number, part in enumerate(np.split(rows, longest)):
                made[part] = place + number
        place = last + 1
    return made


def _note(hz: float, at: np.ndarray, cents: np.ndarray) -> SungNote:
    if at.size * HOP_S < SHORTEST_NOTE_S:
        return SungNote(hz, nan, nan, nan)
    start, end = float(at[0]) * HOP_S, float(at[-1] + 1) * HOP_S
    return SungNote(hz, start, end, float(np.median(cents)))
