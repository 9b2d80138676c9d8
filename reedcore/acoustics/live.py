"""Sound that is still coming in, as frames.

The whole recording goes this way too (see :mod:`reedcore.acoustics.analysis`), which is why what a
client saw live and what is saved agree.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter, sosfilt

from .frames import Array, Frames, dbfs
from .periodicity import spectra_of
from .recording import FloatArray, as_floats, check_numbers, check_rate
from .resample import StreamResampler
from .settings import (
    ENERGY_STEP_S,
    ENERGY_STEPS_PER_HOP,
    HOP,
    HOP_S,
    WINDOW,
    WORKING_RATE_HZ,
)
from .tracker import PitchTracker

#: Samples worked on at once: bounds the memory of a long recording.
_PIECE = 1 << 17
#: At or beyond this a sample counts as clipped: one step short of full scale in 16 bits.
_FULL_SCALE = 1.0 - 2.0**-15
#: Takes out what a cheap microphone adds to the signal: a constant, and rumble no voice makes.
_RUMBLE_HZ = 20.0


class LiveAnalyser:
    """Turns chunks of mono samples into :class:`Frames`, a few tens of milliseconds late.

    Args:
        rate_hz: sampling rate, 8–96 kHz.

    Raises:
        RateOutOfRange: another rate.
    """

    def __init__(self, rate_hz: int) -> None:
        self.rate_hz = check_rate(rate_hz)
        self._rumble_filter = butter(2, _RUMBLE_HZ, "highpass", fs=rate_hz, output="sos")
        self._rumble_state = np.zeros((self._rumble_filter.shape[0], 2))
        self._resampler = StreamResampler(rate_hz, WORKING_RATE_HZ)
        self._tracker = PitchTracker()
        # the first frame is centred 5 ms in, so its window starts before the sound: in silence
        self._working = np.zeros((WINDOW - HOP) // 2)
        self._power = np.zeros(0)
        self._clipped = np.zeros(0)
        self._samples_in = 0
        self._steps_out = 0
        self._waiting = Frames.none()  # measured, but for the pitch that the tracker still weighs

    @property
    def samples_in(self) -> int:
        """How many samples have been fed."""
        return self._samples_in

    def feed(self, samples: NDArray[Any]) -> Frames:
        """The frames that these samples complete (often none, for a small chunk).

        Args:
            samples: shape ``(n,)``, PCM integers or floats with full scale at ±1.

        Raises:
            DamagedRecording: a sample is not a number.
        """
        parts = [
            self._feed_piece(as_floats(samples[at : at + _PIECE]))
            for at in range(0, len(samples), _PIECE)
        ]
        return Frames.joined([part for part in parts if len(part)])

    def finish(self) -> Frames:
        """The last frames, as if silence followed. Nothing may be fed afterwards."""
        self._add_working(self._resampler.finish())
        frames = self._frames_so_far(last=True)
        pitch, strength = self._tracker.finish()
        return Frames.joined([frames, self._decided(pitch, strength)])

    def _feed_piece(self, floats: FloatArray) -> Frames:
        check_numbers(floats, from_sample=self._samples_in, rate_hz=self.rate_hz)
        self._samples_in += floats.size
        clean, self._rumble_state = sosfilt(self._rumble_filter, floats, zi=self._rumble_state)
        self._power = np.concatenate([self._power, clean**2])
        at_full_scale = (np.abs(floats) >= _FULL_SCALE).astype(np.float64)
        self._clipped = np.concatenate([self._clipped, at_full_scale])
        self._add_working(self._resampler.feed(clean))
        return self._frames_so_far(last=False)

    def _add_working(self, samples: FloatArray) -> None:
        self._working = np.concatenate([self._working, samples])

    def _frames_so_far(self, *, last: bool) -> Frames:
        energy, clipped = self._whole_hops()
        if last:
            missing = max(0, WINDOW + (len(energy) - 1) * HOP - self._working.size)
            self._add_working(np.zeros(missing if len(energy) else 0))
        count = min(len(energy), max(0, (self._working.size - WINDOW) // HOP + 1))
        self._return_hops(energy, clipped, count)
        if count == 0:
            return Frames.none()
        spectra = spectra_of(self._working, count)
        self._working = self._working[count * HOP :]
        measured = Frames(
            pitch_hz=np.full(count, np.nan),
            strength=np.zeros(count),
            energy=energy[:count],
            voice_band_dbfs=dbfs(spectra.voice_band),
            hiss_share=spectra.hiss_share,
            top_share=spectra.top_share,
            clipped=clipped[:count],
        )
        self._waiting = Frames.joined([self._waiting, measured])
        return self._decided(*self._tracker.feed(spectra.candidate_hz, spectra.candidate_strength))

    def _edge(self, step: int) -> int:
        """The sample at which a 5 ms step begins."""
        return round(step * ENERGY_STEP_S * self.rate_hz)

    def _whole_hops(self) -> tuple[Array, Array]:
        """Mean square of each 5 ms and clipped share of each 10 ms that is complete."""
        hops = int(self._samples_in / self.rate_hz / HOP_S + 1e-9) - (
            self._steps_out // ENERGY_STEPS_PER_HOP
        )
        steps = self._steps_out + np.arange(hops * ENERGY_STEPS_PER_HOP + 1)
        edges = np.array([self._edge(int(step)) for step in steps]) - self._edge(self._steps_out)
        while hops > 0 and edges[-1] > self._power.size:  # a rounding edge not yet reached
            hops -= 1
            edges = edges[:-ENERGY_STEPS_PER_HOP]
        if hops <= 0:
            return np.zeros((0, ENERGY_STEPS_PER_HOP)), np.zeros(0)
        whole = slice(0, int(edges[-1]))
        sums = np.add.reduceat(self._power[whole], edges[:-1])
        clipped = np.add.reduceat(self._clipped[whole], edges[:-1:ENERGY_STEPS_PER_HOP])
        lengths = np.diff(edges)
        energy = (sums / lengths).reshape(hops, ENERGY_STEPS_PER_HOP)
        return energy, clipped / lengths.reshape(hops, -1).sum(axis=1)

    def _return_hops(self, energy: Array, clipped: Array, used: int) -> None:
        """Forgets the samples of the hops that were used; the others are summed again later."""
        before = self._edge(self._steps_out)
        self._steps_out += used * ENERGY_STEPS_PER_HOP
        gone = self._edge(self._steps_out) - before
        self._power = self._power[gone:]
        self._clipped = self._clipped[gone:]

    def _decided(self, pitch: Array, strength: Array) -> Frames:
        """The oldest waiting frames, now that the tracker has decided so many pitches."""
        ready, self._waiting = self._waiting[: len(pitch)], self._waiting[len(pitch) :]
        return replace(ready, pitch_hz=pitch, strength=strength)
