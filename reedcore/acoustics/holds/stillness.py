"""Tell a held sound from talk: the mouth keeps still, or the pitch does.

Talk moves both: the spectrum from sound to sound, the pitch with the melody of the sentence.
A held sound keeps its spectrum (a glide too), or moves the mouth on one note ("mam-mam", vowel to
vowel, a tongue that moves). The bands' movement over a tenth of a second is the modulation at 4 Hz
that speech detectors look for (Proc IEEE ICASSP 1997;2:1331–1334), taken without the level.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from ..runs import Mask, Stretch
from ..track.frames import Array, Frames

#: Bands are smoothed over this many frames, which removes trills and bubbles.
SMOOTHED = 7
#: The movement is measured from this many frames before to this many after.
REACH = 5
#: A band this far below the loudest belongs to the room or to another source.
FAINT_DB = 26.0
#: Speech moves its bands by more than this (median of 0.4 s). Measured: speech of eight
#: synthesisers and of people in thirteen languages at least 3.8 dB; holds below 2.2 dB.
STILL_DB = 2.4
#: Above this pitch, harmonics are so far apart that vibrato moves them between bands.
SPARSE_HZ, SPARSEST = 350.0, 3.0
#: Speech moves its pitch by more than this (the middle 70 % of 0.8 s).
ONE_NOTE_CENTS = 100.0
MOVEMENT_FRAMES, NOTE_FRAMES = 41, 81
#: Even movement: over this many frames within this distance of a line (RMS), without the fragments
#: of this length that water and lips make, and with most frames on the line.
EVENLY_FRAMES, EVENLY_CENTS, OUTLIERS, MOSTLY = 41, 60.0, 9, 0.6


class Stillness:
    """The stillness of spectrum and pitch in a track, computed once per stretch.

    Args:
        gliding: a pitch that moves evenly, as a siren's does, counts as still; only where a glide
            was asked for, for the melody of a sentence does so too for a while.
    """

    def __init__(self, frames: Frames, *, is_glide: bool = False) -> None:
        self.frames, self.is_glide = frames, is_glide
        self._still: dict[Stretch, Mask] = {}

    def still(self, stretch: Stretch) -> Mask:
        """See :func:`find_still_frames`."""
        if stretch not in self._still:
            part = self.frames[slice(*stretch)]
            still = find_still_frames(part)
            self._still[stretch] = still | moves_evenly(part) if self.is_glide else still
        return self._still[stretch]

    def mouth_still(self, stretch: Stretch) -> Mask:
        """See :func:`mouth_still`."""
        return mouth_still(self.frames[slice(*stretch)])


def movement_db(frames: Frames) -> Array:
    """Return the movement of the bands around each frame without the level (RMS over the bands,
    dB); 0 at the ends, where it is unknown."""
    moved = np.zeros(len(frames))
    if len(frames) <= 2 * REACH:
        return moved
    smooth = scipy.ndimage.uniform_filter1d(frames.bands, SMOOTHED, axis=0, mode="constant")
    levels = 10.0 * np.log10(np.maximum(smooth, 1e-12))
    levels = np.maximum(levels, levels.max(axis=1, keepdims=True) - FAINT_DB)
    levels -= levels.mean(axis=1, keepdims=True)
    steps = levels[2 * REACH :] - levels[: -2 * REACH]
    moved[REACH:-REACH] = np.sqrt(np.mean(steps**2, axis=1))
    return moved


def shape_db(bands: Array) -> Array:
    """Return the spectrum of a stretch, ``(n, 6)``, without its level: the mean of each band in dB;
    faint bands count as the room."""
    levels = 10.0 * np.log10(np.maximum(bands.mean(axis=0), 1e-12))
    levels = np.maximum(levels, levels.max() - FAINT_DB)
    return np.asarray(levels - levels.mean())


def on_one_note(piece: Frames) -> Mask:
    """Return where the pitch keeps still; nowhere in a piece without a pitch."""
    voiced_at = np.flatnonzero(piece.periodic)
    if not voiced_at.size:
        return np.zeros(len(piece), dtype=bool)
    cents = 1200.0 * np.log2(_pitch_throughout(piece, voiced_at))
    high, low = (
        scipy.ndimage.percentile_filter(cents, each, NOTE_FRAMES, mode="nearest")
        for each in (85, 15)
    )
    return np.asarray(high - low < ONE_NOTE_CENTS)


def find_still_frames(piece: Frames) -> Mask:
    """Return where a stretch of sound is held: its spectrum keeps still, or its pitch."""
    return mouth_still(piece) | on_one_note(piece)


def moves_evenly(piece: Frames) -> Mask:
    """Return the frames where the pitch moves along a line for longer than in a syllable."""
    voiced_at = np.flatnonzero(piece.periodic)
    if voiced_at.size < EVENLY_FRAMES:
        return np.zeros(len(piece), dtype=bool)
    cents = 1200.0 * np.log2(_pitch_throughout(piece, voiced_at))
    course = scipy.ndimage.median_filter(cents, OUTLIERS, mode="nearest")
    # Residual of a line through each window: the remaining variance of the pitch.
    mean, places = (
        scipy.ndimage.uniform_filter1d(course, EVENLY_FRAMES),
        np.arange(len(course), dtype=float),
    )
    middle = scipy.ndimage.uniform_filter1d(places, EVENLY_FRAMES)
    spread = scipy.ndimage.uniform_filter1d(course**2, EVENLY_FRAMES) - mean**2
    along = scipy.ndimage.uniform_filter1d(places * course, EVENLY_FRAMES) - middle * mean
    width = np.maximum(scipy.ndimage.uniform_filter1d(places**2, EVENLY_FRAMES) - middle**2, 1e-9)
    left = np.sqrt(np.maximum(spread - along**2 / width, 0.0))
    near = scipy.ndimage.uniform_filter1d(
        (np.abs(cents - course) < ONE_NOTE_CENTS).astype(float), EVENLY_FRAMES
    )
    return np.asarray((left < EVENLY_CENTS) & (near > MOSTLY))


def mouth_still(piece: Frames) -> Mask:
    """Return where the spectrum keeps still; nowhere in a piece without a pitch."""
    voiced_at = np.flatnonzero(piece.periodic)
    if not voiced_at.size:
        return np.zeros(len(piece), dtype=bool)
    middle = scipy.ndimage.median_filter(movement_db(piece), MOVEMENT_FRAMES, mode="nearest")
    pitch = scipy.ndimage.median_filter(
        _pitch_throughout(piece, voiced_at), MOVEMENT_FRAMES, mode="nearest"
    )
    sparse = np.clip(pitch / SPARSE_HZ, 1.0, SPARSEST)
    return np.asarray(middle < STILL_DB * sparse)


def _pitch_throughout(piece: Frames, voiced_at: NDArray[np.intp]) -> Array:
    """Return the pitch of each frame, or of the next frame with one."""
    nearest = np.clip(np.searchsorted(voiced_at, np.arange(len(piece))), 0, voiced_at.size - 1)
    return np.asarray(piece.pitch_hz[voiced_at][nearest])
