"""Sound that is still coming in, as frames.

The whole recording goes this way too (see :mod:`reedcore.acoustics.analysis`), which is why what a
client saw live and what is saved agree.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter

from .compiled import Loop
from .energy import EnergyMeter
from .frames import Array, Frames
from .periodicity import spectra_of
from .recording import FloatArray, as_floats, check_numbers, check_rate
from .resample import StreamResampler
from .settings import ENERGY_STEPS_PER_HOP, HOP, VOICE_BAND_HZ, WINDOW, WORKING_RATE_HZ
from .tracker import PitchTracker

#: Samples worked on at once: bounds the memory of a long recording.
_PIECE = 1 << 17
#: Small chunks are gathered so far before they are worked on: each round has a cost of its own.
#: With the tracker's looking ahead, a frame is still out within 60 ms of its last sample.
GATHERED_S = 0.035
#: Takes out what a cheap microphone adds to the signal: a constant, and rumble no voice makes.
_RUMBLE_HZ = 20.0
#: A frame's window reaches so far before its own 10 ms, and as far beyond.
_REACH = (WINDOW - HOP) // 2


class LiveAnalyser:
    """Turns chunks of mono samples into :class:`Frames`, a few tens of milliseconds late.

    Args:
        rate_hz: sampling rate, 8–96 kHz.
        keep_sound: whether to keep the sound at 16 kHz for :meth:`sound` (4 bytes a sample).

    Raises:
        RateOutOfRange: another rate.
    """

    def __init__(self, rate_hz: int, *, keep_sound: bool = False) -> None:
        self.rate_hz = check_rate(rate_hz)
        self._rumble = _Filter("highpass", _RUMBLE_HZ, rate_hz)
        self._voice_band = _Filter("bandpass", VOICE_BAND_HZ, WORKING_RATE_HZ)
        self._resampler = StreamResampler(rate_hz, WORKING_RATE_HZ)
        self._energy = EnergyMeter(rate_hz)
        self._tracker = PitchTracker()
        # the first window starts before the sound does: in silence
        self._working = np.zeros(_REACH, np.float32)
        self._voice_power = np.zeros(_REACH)
        self._kept: list[NDArray[np.float32]] | None = [] if keep_sound else None
        self._pending: list[NDArray[Any]] = []
        self._pending_count = 0
        self._gathered = round(GATHERED_S * rate_hz)
        self._samples_in = 0
        self._waiting = Frames.none()  # measured, but for the pitch that the tracker still weighs

    def sound(self) -> NDArray[np.float32]:
        """What has come in so far, free of rumble, at 16 kHz; empty unless it was to be kept."""
        return np.concatenate(self._kept) if self._kept else np.zeros(0, np.float32)

    def feed(self, samples: NDArray[Any]) -> Frames:
        """The frames that these samples complete (often none, for a small chunk).

        Args:
            samples: shape ``(n,)``, PCM integers or floats with full scale at ±1.

        Raises:
            DamagedRecording: a sample is not a number.
        """
        if not self._pending and len(samples) >= self._gathered:
            return self._feed_pieces(samples)
        self._pending.append(samples)
        self._pending_count += len(samples)
        return self._feed_pending() if self._pending_count >= self._gathered else Frames.none()

    def finish(self) -> Frames:
        """The last frames, as if silence followed. Nothing may be fed afterwards."""
        frames = self._feed_pending()
        self._add_working(self._resampler.finish())
        missing = _REACH + self._energy.frames_ready * HOP + _REACH - self._working.size
        self._add_working(np.zeros(max(0, missing)))
        rest = self._frames_so_far()
        return Frames.joined([frames, rest, self._decided(*self._tracker.finish())])

    def _feed_pending(self) -> Frames:
        pending, self._pending, self._pending_count = self._pending, [], 0
        return self._feed_pieces(np.concatenate(pending)) if pending else Frames.none()

    def _feed_pieces(self, samples: NDArray[Any]) -> Frames:
        pieces = range(0, len(samples), _PIECE)
        parts = [self._feed_piece(as_floats(samples[at : at + _PIECE])) for at in pieces]
        return Frames.joined(parts)

    def _feed_piece(self, floats: FloatArray) -> Frames:
        check_numbers(floats, from_sample=self._samples_in, rate_hz=self.rate_hz)
        self._samples_in += floats.size
        clean = self._rumble(floats)
        self._energy.add(floats, clean)
        self._add_working(self._resampler.feed(clean))
        return self._frames_so_far()

    def _add_working(self, samples: FloatArray) -> None:
        single = samples.astype(np.float32)  # 24 bits of a sample are more than it ever had
        if self._kept is not None:
            self._kept.append(single)
        self._working = np.concatenate([self._working, single])
        self._voice_power = np.concatenate([self._voice_power, self._voice_band(samples) ** 2])

    def _frames_so_far(self) -> Frames:
        in_working = (self._working.size - WINDOW) // HOP + 1
        count = max(0, min(self._energy.frames_ready, in_working))
        if count == 0:
            return Frames.none()
        energy, clipped = self._energy.take(count)
        own = self._voice_power[_REACH : _REACH + count * HOP]
        spectra = spectra_of(self._working, count)
        self._working = self._working[count * HOP :]
        self._voice_power = self._voice_power[count * HOP :]
        measured = Frames(
            pitch_hz=np.full(count, np.nan),
            strength=np.zeros(count),
            energy=energy,
            voice_band=own.reshape(count, ENERGY_STEPS_PER_HOP, -1).mean(axis=2),
            hiss_share=spectra.hiss_share,
            top_share=spectra.top_share,
            clipped=clipped,
            bands=spectra.bands,
        )
        self._waiting = Frames.joined([self._waiting, measured])
        return self._decided(*self._tracker.feed(spectra))

    def _decided(self, pitch: Array, strength: Array) -> Frames:
        """The oldest waiting frames, now that the tracker has decided so many pitches."""
        ready, self._waiting = self._waiting[: len(pitch)], self._waiting[len(pitch) :]
        return replace(ready, pitch_hz=pitch, strength=strength)


class _Filter:
    """A second-order Butterworth filter that remembers where the last chunk left it."""

    def __init__(
        self,
        kind: Literal["highpass", "bandpass"],
        edges_hz: float | tuple[float, float],
        rate_hz: int,
    ) -> None:
        self._ahead, self._back = butter(2, edges_hz, kind, fs=rate_hz)
        self._state = np.zeros(self._back.size)

    def __call__(self, samples: FloatArray) -> FloatArray:
        out = np.empty(samples.size)
        _FILTERED(self._ahead, self._back, self._state, samples, out)
        return out


def _filtered(
    ahead: FloatArray,
    back: FloatArray,
    state: FloatArray,
    samples: FloatArray,
    out: FloatArray,
) -> None:
    """Direct form II, transposed; the last of the state stays 0."""
    order = back.size - 1
    for at in range(samples.size):
        value = samples[at]
        result = ahead[0] * value + state[0]
        for each in range(order):
            state[each] = ahead[each + 1] * value + state[each + 1] - back[each + 1] * result
        out[at] = result


_FILTERED = Loop(_filtered)
