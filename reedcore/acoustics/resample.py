"""A change of sampling rate that gives the same samples however its input is cut up.

Polyphase filtering by a Kaiser-windowed low-pass (IEEE Trans Acoust Speech Signal Process
1974;22:135–141 for the structure). Each output sample depends on the input samples around it alone,
and is summed in their order.
"""

from __future__ import annotations

from math import gcd

import numpy as np
from scipy.signal import firwin

from .compiled import Loop
from .recording import FloatArray

#: Zero crossings of the low-pass on each side: stop band −50 dB; what folds back is above 6 kHz.
HALF_CROSSINGS = 6
KAISER_BETA = 5.0


class StreamResampler:
    """Zero-phase resampling of a stream from ``rate_hz`` to ``to_hz``.

    Output sample n lies at n / to_hz seconds of the input's time; what lies before the first and
    after the last input sample is silence.
    """

    def __init__(self, rate_hz: int, to_hz: int) -> None:
        common = gcd(rate_hz, to_hz)
        self._up, self._down = to_hz // common, rate_hz // common
        self._passthrough = self._up == self._down
        if self._passthrough:
            return
        factor = max(self._up, self._down)
        self._half = HALF_CROSSINGS * factor
        taps = firwin(2 * self._half + 1, 1.0 / factor, window=("kaiser", KAISER_BETA)) * self._up
        # one row for each place that an output sample can have between two input samples
        self._taps = np.zeros((self._up, -(-taps.size // self._up)))
        for phase, row in enumerate(self._taps):
            row[: len(taps[phase :: self._up])] = taps[phase :: self._up]
        self._held = np.zeros(0)
        self._held_from = 0  # index of the first held input sample
        self._seen = 0
        self._given = 0

    def feed(self, samples: FloatArray) -> FloatArray:
        """The output samples that these input samples complete."""
        if self._passthrough:
            return samples
        self._held = np.concatenate([self._held, samples])
        self._seen += samples.size
        # output n reaches up to input sample (n·down + half) / up
        complete = max(0, ((self._seen - 1) * self._up - self._half) // self._down + 1)
        return self._take(complete)

    def finish(self) -> FloatArray:
        """What is left, as if silence followed."""
        if self._passthrough:
            return np.zeros(0)
        return self._take(-(-self._seen * self._up // self._down))

    def _take(self, until: int) -> FloatArray:
        if until <= self._given or self._held.size == 0:
            return np.zeros(0)
        out = np.empty(until - self._given)
        _RESAMPLED(
            self._held, self._held_from, self._taps, self._half, self._down, self._given, out
        )
        self._given = until
        keep_from = max(self._held_from, (until * self._down - self._half) // self._up)
        self._held = self._held[keep_from - self._held_from :]
        self._held_from = keep_from
        return out


def _resampled(
    held: FloatArray,
    held_from: int,
    taps: FloatArray,
    half: int,
    down: int,
    given: int,
    out: FloatArray,
) -> None:
    """Each output sample from the input samples that the low-pass about it reaches; the low-pass is
    the same backwards."""
    up, length = taps.shape
    for number in range(out.size):
        middle = (given + number) * down
        first = -((half - middle) // up)
        by = taps[half - middle + first * up]
        low = max(0, held_from - first)
        high = max(low, min(length, held_from + held.size - first))
        part = held[first + low - held_from : first + high - held_from]
        weights = by[low:high]
        total = 0.0
        for at in range(part.size):
            total += part[at] * weights[at]
        out[number] = total


_RESAMPLED = Loop(_resampled)
