"""From incoming samples to the input of frames: the energy of each half frame, and the sound at 16
kHz for the pitch windows.

One loop for all of it, so that the small pieces of live sound cost little.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..compiled import Loop
from ..settings import ENERGY_STEP_S, HOP, HOP_S, VOICE_BAND_HZ, WINDOW, WORKING_RATE_HZ
from .energy import SAMPLES, STEPS, SUMMED, add_energy
from .filtering import BAND_PASSED, HIGH_PASSED, band_passed, butterworth, high_passed
from .frames import Array
from .resample import RESAMPLED, Resampling, fill_output
from .rows import Track

Singles = NDArray[np.float32]
Counts = NDArray[np.int64]

#: Removes what a cheap microphone adds: an offset, and rumble below any voice.
_RUMBLE_HZ = 20.0
#: A frame's window starts this far before its own 10 ms, and ends as far after.
_REACH = (WINDOW - HOP) // 2
#: Samples of half a frame at 16 kHz.
_HALF = HOP // 2
#: Counted besides :data:`SAMPLES` and :data:`STEPS`: samples made at 16 kHz.
_MADE = 2


class Intake:
    """Take samples, and fill the rows of a track that need no search for a pitch.

    Args:
        rate_hz: sampling rate, 8–96 kHz.
        track: whose rows are filled.
        keep_sound: whether all of the sound at 16 kHz is kept, or only what frames still need.
    """

    def __init__(self, rate_hz: int, track: Track, *, keep_sound: bool) -> None:
        self._track, self._keep = track, keep_sound
        self._rate_hz = rate_hz
        self._per_step = rate_hz * ENERGY_STEP_S
        self._resampling = Resampling.for_rates(rate_hz, WORKING_RATE_HZ)
        self._rumble = butterworth("highpass", _RUMBLE_HZ, rate_hz)
        self._voice = butterworth("bandpass", VOICE_BAND_HZ, WORKING_RATE_HZ)
        self._states = np.zeros((2, 4))
        self._counts = np.zeros(3, np.int64)
        #: Running sums of incomplete steps: see :data:`SUMMED`, and the sum of squares of the voice
        #: band.
        self._begun = np.zeros(3)
        # Samples without rumble, from one that lies before the first, in silence.
        self._held = np.zeros(2 * self._resampling.reach)
        self._held_from = -self._resampling.reach
        # The first window starts before the sound.
        self._working: Singles = np.zeros(4 * WINDOW, np.float32)
        self._working_from = -_REACH
        #: Frames whose window has been returned.
        self.given = 0

    def make_room(self, samples: int) -> None:
        """Make room for this many more samples."""
        total_output = int(self._counts[SAMPLES]) + samples
        self._track.make_room(int(total_output / (HOP_S * self._rate_hz)) + 2)
        if self._keep:
            self._grow_working(self._resampling.total_output(total_output) + WINDOW)

    def add(self, samples: Array) -> None:
        """Add original samples, full scale at ±1."""
        before = int(self._counts[SAMPLES])
        self.make_room(samples.size)
        self._add(samples, self._resampling.ready(before + samples.size))

    def finish(self) -> None:
        """Return the remaining frames, as if silence followed; in all, one for each whole frame."""
        count = int(self._counts[SAMPLES])
        made = self._resampling.total_output(count)
        self._held[count - self._held_from :] = 0.0
        self._add(np.zeros(0), made)
        missing = self._frames_by_time * HOP + _REACH - made
        if missing > 0:
            self._grow_working(made + missing)
            track = self._track
            _BANDED(
                np.zeros(missing), self._voice, self._states[1], self._counts, self._begun,
                self._working, self._working_from, track.voice_band,
            )  # fmt: skip

    @property
    def _frames_by_time(self) -> int:
        return int(self._counts[STEPS]) // 2

    @property
    def ready(self) -> int:
        """Return the number of frames whose window is complete."""
        in_working = (int(self._counts[_MADE]) - _REACH) // HOP
        return max(0, min(self._frames_by_time, in_working) - self.given)

    def windows(self, out: Singles, taper: Singles) -> None:
        """Return the windows of the next frames, tapered.

        Args:
            out: a row for each, at most :attr:`ready`; what lies behind the taper is left alone.
        """
        _WINDOWED(self._working, self.given * HOP - _REACH - self._working_from, taper, out)
        self.given += len(out)

    def sound(self) -> Singles:
        """Return all sound at 16 kHz if it was kept, with the silence that completed the last
        frame."""
        first = -self._working_from
        return self._working[first : first + int(self._counts[_MADE])]

    def _add(self, samples: Array, until: int) -> None:
        """Take samples until this many working samples are available."""
        kept = int(self._counts[SAMPLES]) - self._held_from
        room = kept + samples.size + self._resampling.reach
        if room > self._held.size:
            grown = np.zeros(room)
            grown[:kept] = self._held[:kept]
            self._held = grown
        if until + _REACH > self._working.size + self._working_from:
            self._grow_working(until + _REACH)
        track, by = self._track, self._resampling
        fresh = np.empty(until - int(self._counts[_MADE]))
        _TAKEN_IN(
            samples, self._rumble, self._states, self._per_step, self._counts, self._begun,
            track.energy, track.clipped, self._held, self._held_from, by.taps, by.half, by.down,
            fresh, self._voice, self._working, self._working_from, track.voice_band,
        )  # fmt: skip
        # Drop samples that no later frame needs.
        needs = max(self._held_from, by.needs_from(until))
        left = int(self._counts[SAMPLES]) - needs
        shift = needs - self._held_from
        if shift and left >= 0:
            self._held[:left] = self._held[shift : shift + left]
            self._held_from = needs

    def _grow_working(self, until: int) -> None:
        """Make room up to this working sample, and drop samples that no frame needs."""
        made = int(self._counts[_MADE])
        first = self._working_from if self._keep else self.given * HOP - _REACH
        held = self._working[first - self._working_from : made - self._working_from]
        needed = until - first
        room = self._working.size
        if needed > room:
            grown = np.zeros(max(needed, 2 * room), np.float32)
            grown[: held.size] = held
            self._working = grown
        elif first != self._working_from:
            self._working[: held.size] = held.copy()
        self._working_from = first


def _filter_samples(
    samples: Array,
    rumble: Array,
    states: Array,
    per_step: float,
    counts: Counts,
    begun: Array,
    energy: Array,
    clipped: Array,
    held: Array,
    held_from: int,
    taps: Array,
    half: int,
    down: int,
    fresh: Array,
    voice: Array,
    working: Singles,
    working_from: int,
    voice_band: Array,
) -> None:
    """Remove rumble, keep the energy, and resample as many working samples as ``fresh``."""
    first = counts[SAMPLES] - held_from
    clean = held[first : first + samples.size]
    high_passed(rumble, states[0], samples, clean)
    add_energy(samples, clean, per_step, counts, begun, energy, clipped)
    fill_output(held, held_from, taps, half, down, counts[_MADE], fresh)
    _store_band_energy(fresh, voice, states[1], counts, begun, working, working_from, voice_band)


def _store_band_energy(
    fresh: Array,
    voice: Array,
    state: Array,
    counts: Counts,
    begun: Array,
    working: Singles,
    working_from: int,
    voice_band: Array,
) -> None:
    """Store working samples, and add the mean square of their voice band to half frames."""
    first = counts[_MADE] - working_from
    for at in range(fresh.size):
        working[first + at] = fresh[at]
    band_passed(voice, state, fresh, fresh)
    total = begun[2]
    at = 0
    while at < fresh.size:
        step = counts[_MADE] // _HALF
        until = min(fresh.size, at + (step + 1) * _HALF - counts[_MADE])
        for each in range(at, until):
            total += fresh[each] * fresh[each]
        counts[_MADE] += until - at
        at = until
        if counts[_MADE] == (step + 1) * _HALF:
            if step // 2 < voice_band.shape[0]:  # The silence at the end belongs to no frame.
                voice_band[step // 2, step % 2] = total / _HALF
            total = 0.0
    begun[2] = total


def _fill_windows(working: Singles, first: int, taper: Singles, out: Singles) -> None:
    """Fill row k with the window that starts k hops after ``first``."""
    for row in range(out.shape[0]):
        line, start = out[row], first + row * HOP
        part = working[start : start + taper.size]
        for at in range(taper.size):
            line[at] = part[at] * taper[at]


_BANDED = Loop(_store_band_energy, BAND_PASSED, in_order=True)
_TAKEN_IN = Loop(_filter_samples, HIGH_PASSED, SUMMED, RESAMPLED, _BANDED)
_WINDOWED = Loop(_fill_windows)
