"""Which pitch a breathy voice holds, by the lines of its spectrum over a quarter of a second.

In a window of 40 ms breath that a resonance of the mouth has coloured repeats itself as well as the
voice does, and a breathy voice is heard an octave too low, or at a resonance. Over a quarter of a
second a voice that is held draws lines a few hertz wide, and breath does not, whatever colours it.
So what is saved of a hold whose periods are not clear, or whose pitch leaps by an octave, is looked
at once more that way; what was seen live is not.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import scipy
from numpy.typing import NDArray

from ..holds.stretches import held_stretches
from ..middle import middle_of
from ..settings import HIGHEST_PITCH_HZ, HOP, LOWEST_PITCH_HZ, WORKING_RATE_HZ
from .frames import Array, Frames

#: A hold with a higher periodicity is not examined again.
CLEAR = 0.97
#: At most this share of a recording's frames is less clear, and none of its holds is.
UNCLEAR_SHARE = 0.1
#: A hold this short has one and a half windows.
SHORTEST_S = 0.4
WINDOW, STEP = 4096, 1024
#: Anything this far from a line is not part of it.
BESIDE_HZ = (16.0, 36.0)
#: The pitch is known well enough to search for its line this far around it.
WITHIN = 0.025
#: Prominence of a line in the mean of a hold and in one window, and the prominence below which
#: there is none.
LINE_DB, LINE_IN_ONE_DB, NO_LINE_DB = 12.0, 8.0, 5.0
#: The pitch may be this many times the value found, or an integer part of it.
TIMES, PARTS = (2, 3, 4, 5), range(2, 13)
#: Lines examined if a resonance was taken for the voice, and their minimum clarity.
LINES, LINES_DB = 5, 10.0
#: Frames of a false octave jump, and how far off it may be.
SCRAP, OFF_OCTAVES = 3, 0.1
#: Share of a hold's frames with another pitch that goes unnoticed.
FEW = 0.03
#: A voice's first or third line is at most this far below its second.
FAINT_DB = 25.0
#: Windows without a line for each with one, up to which the latter decides.
REACH = 2
#: A frame farther off than this has another pitch.
APART = 0.06

_BIN_HZ = WORKING_RATE_HZ / WINDOW
_TAPER = np.hanning(WINDOW).astype(np.float32)
#: Upper limit of the search for lines, and windows transformed at once.
_BINS, _BLOCK = round(4_200.0 / _BIN_HZ), 32
_NEAR, _FAR = (round(hz / _BIN_HZ) for hz in BESIDE_HZ)


@dataclass(frozen=True, slots=True)
class SpectralLine:
    """A peak of the spectrum near a frequency: its frequency and its height."""

    hz: float
    db: float


def reexamine_pitch(frames: Frames, sound: NDArray[np.float32]) -> tuple[Frames, bool]:
    """Return the frames with the pitch of each hold corrected by its spectral lines, and whether
    more than a few frames changed.

    Args:
        sound: the recording at 16 kHz.
    """
    frames = replace(frames, pitch_hz=drop_octave_leaps(frames.pitch_hz))
    known = frames.strength[frames.periodic]
    if known.size == 0:
        return frames, False
    clear = np.mean(known < CLEAR) < UNCLEAR_SHARE
    if clear and not _octave_leaps(frames.pitch_hz).size:
        return frames, False
    pitch = frames.pitch_hz.copy()
    changed = False
    for start, end in held_stretches(frames, min_hold_s=SHORTEST_S):
        part, piece = frames[start:end], sound[start * HOP : end * HOP]
        made = None if clear else _pitch_by_lines(part, piece)
        if made is None:
            made = _octaves_by_lines(part, piece)
        if made is not None:
            others = np.count_nonzero(made != frames.pitch_hz[start:end]) - np.isnan(made).sum()
            changed = changed or others > FEW * (end - start)
            pitch[start:end] = made
    return replace(frames, pitch_hz=pitch), changed


def drop_octave_leaps(pitch_hz: Array) -> Array:
    """Return the pitch of each frame, NaN for none, without octave jumps that return within 30 ms,
    because no voice makes them."""
    known = np.flatnonzero(~np.isnan(pitch_hz))
    steps = np.diff(np.log2(pitch_hz[known]))
    made = pitch_hz.copy()
    for there, back in pairwise(np.flatnonzero(np.abs(steps) > 1.0 - OFF_OCTAVES)):
        octaves = round(float(steps[there]))
        near = known[back + 1] - known[there] <= SCRAP + 1
        whole = abs(steps[there] - octaves) < OFF_OCTAVES
        if near and whole and abs(steps[there] + steps[back]) < OFF_OCTAVES:
            made[known[there + 1 : back + 1]] /= 2.0**octaves
    return made


def _pitch_by_lines(part: Frames, piece: NDArray[np.float32]) -> Array | None:
    """Return the pitch of each frame of a hold, NaN for none; None if unchanged."""
    if piece.size < WINDOW or middle_of(part.strength[part.periodic]) >= CLEAR:
        return None
    spectra = _spectra(piece)
    pitch_hz = _pitch_of(spectra.mean(axis=0), middle_of(part.pitch_hz[part.periodic]))
    if pitch_hz is None:
        return None
    lines = [_line(each, pitch_hz, LINE_IN_ONE_DB) for each in spectra]
    lines_found = [(place, line.hz) for place, line in enumerate(lines) if line is not None]
    if not lines_found:
        return None
    # Middle of each window, as a position among the frames.
    middles = (np.arange(len(lines)) * STEP + WINDOW / 2) / HOP
    windows, pitches = (np.array(each) for each in zip(*lines_found, strict=True))
    places = np.arange(len(part))
    followed = np.interp(places, middles[windows], pitches)
    here = np.clip(np.rint((places - middles[0]) * HOP / STEP).astype(int), 0, len(lines) - 1)
    has_line = np.zeros(len(lines), dtype=bool)
    has_line[windows] = True
    near = scipy.ndimage.maximum_filter1d(has_line, 2 * REACH + 1, mode="nearest")[here]
    made = part.pitch_hz.copy()
    others = part.periodic & near & (np.abs(made / followed - 1.0) > APART)
    for frame in np.flatnonzero(others):
        if made[frame] > followed[frame] or not _sounds(spectra[here[frame]], made[frame]):
            made[frame] = followed[frame]
    return None if np.array_equal(made, part.pitch_hz, equal_nan=True) else made


def _octave_leaps(pitch_hz: Array) -> NDArray[np.intp]:
    """Return the positions of octave jumps among frames with a pitch."""
    steps = np.diff(np.log2(pitch_hz[~np.isnan(pitch_hz)]))
    return np.flatnonzero(np.abs(np.abs(steps) - 1.0) < OFF_OCTAVES) + 1


def _octaves_by_lines(part: Frames, piece: NDArray[np.float32]) -> Array | None:
    """Return the pitch of each frame in the octave of its spectral lines, or None if unchanged.

    The octave is the same between two jumps. A voice that really jumps has lines on each side.
    """
    leaps = _octave_leaps(part.pitch_hz)
    if piece.size < WINDOW or not leaps.size:
        return None
    spectra = _spectra(piece)
    places = np.flatnonzero(~np.isnan(part.pitch_hz))
    made = part.pitch_hz.copy()
    for run in np.split(places, leaps):
        power = _power_within(spectra, int(run[0]), int(run[-1]))
        hz = middle_of(part.pitch_hz[run])
        made[run] *= _octave_off(power, hz)
    return None if np.array_equal(made, part.pitch_hz, equal_nan=True) else made


def _octave_off(power: NDArray[np.float32], hz: float) -> float:
    """Return the factor (0.5, 1 or 2) from a pitch to the octave that has spectral lines."""
    if hz / 2.0 >= LOWEST_PITCH_HZ and _has_own_line(power, hz / 2.0):
        return 0.5
    higher = 2.0 * hz <= HIGHEST_PITCH_HZ and _line(power, 2.0 * hz, LINE_DB) is not None
    return 2.0 if higher and not _has_own_line(power, hz) else 1.0


def _power_within(spectra: NDArray[np.float32], first: int, last: int) -> NDArray[np.float32]:
    """Return the median power of the windows between two frames, or of the nearest window.

    The median ignores a thump in some of the windows.
    """
    whole = slice(-(-first * HOP // STEP), ((last + 1) * HOP - WINDOW) // STEP + 1)
    if whole.stop > whole.start:
        return np.asarray(np.median(spectra[whole], axis=0))
    middle = ((first + last + 1) * HOP - WINDOW) / 2 / STEP
    return np.asarray(spectra[min(max(round(middle), 0), len(spectra) - 1)])


def _has_own_line(power: NDArray[np.float32], hz: float) -> bool:
    """Return whether a pitch has a first or third line that its octave does not have.

    A line much fainter than that of the octave does not count: footsteps also have lines.
    """
    own = [_line(power, times * hz, LINE_DB) for times in (1, 3)]
    octave = _line(power, 2.0 * hz, LINE_IN_ONE_DB)
    height = max((_height_db(power, each) for each in own if each is not None), default=-np.inf)
    return height >= (_height_db(power, octave) - FAINT_DB if octave else -np.inf) and any(own)


def _height_db(power: NDArray[np.float32], line: SpectralLine) -> float:
    return float(10.0 * np.log10(max(power[round(line.hz / _BIN_HZ)], 1e-20)))


def _spectra(piece: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the power of each window up to the highest line, ``(n, bins)``."""
    windows = np.lib.stride_tricks.sliding_window_view(piece, WINDOW)[::STEP]
    power = np.empty((len(windows), _BINS), np.float32)
    for at in range(0, len(windows), _BLOCK):
        bins = scipy.fft.rfft(windows[at : at + _BLOCK] * _TAPER, axis=1)[:, :_BINS]
        power[at : at + _BLOCK] = bins.real**2 + bins.imag**2
    return power


def _pitch_of(power: NDArray[np.float32], found_hz: float) -> float | None:
    """Return the pitch whose lines are present, among the found one and its integer multiples and
    fractions."""
    if _line(power, found_hz, LINE_DB) is not None:
        return found_hz
    if _line(power, found_hz, NO_LINE_DB) is not None:
        return None
    for times in TIMES:
        line = _line(power, times * found_hz, LINE_DB)
        if line is not None:
            return line.hz if line.hz <= HIGHEST_PITCH_HZ else None
    best: float = LINES_DB
    pitch_hz: float | None = None
    for part in PARTS:
        hz = found_hz / part
        if hz < LOWEST_PITCH_HZ:
            break
        known = [_line(power, hz * number, -np.inf) for number in range(1, LINES + 1)]
        clear = float(np.mean([min(line.db, 20.0) for line in known if line is not None]))
        if clear > best:
            best, pitch_hz = clear, hz
    return pitch_hz


def _sounds(power: NDArray[np.float32], hz: float) -> bool:
    """Return whether a lower pitch has lines of its own, so that the voice did break down to it."""
    return all(_line(power, times * hz, LINE_IN_ONE_DB) is not None for times in (1, 3))


def _line(power: NDArray[np.float32], hz: float, least_db: float) -> SpectralLine | None:
    """Return the line near a frequency if it is prominent enough."""
    reach = max(WITHIN * hz, 2 * _BIN_HZ)
    low, high = int((hz - reach) / _BIN_HZ), int(np.ceil((hz + reach) / _BIN_HZ))
    low = max(low, _FAR + 1)
    if high + _FAR + 1 >= power.size or high <= low:
        return None
    top = low + int(np.argmax(power[low : high + 1]))
    sides = power[top - _FAR : top - _NEAR + 1], power[top + _NEAR : top + _FAR + 1]
    beside = max(float(side.mean()) for side in sides)
    height = float(power[top])
    if height <= 0.0 or (db := 10.0 * np.log10(height / max(beside, 1e-20))) < least_db:
        return None
    # The logarithm of a tapered line is almost a parabola.
    before, middle, after = np.log(np.maximum(power[top - 1 : top + 2], 1e-30))
    curve = before - 2.0 * middle + after
    shift = 0.5 * (before - after) / curve if curve < 0.0 else 0.0
    return SpectralLine((top + shift) * _BIN_HZ, float(db))
