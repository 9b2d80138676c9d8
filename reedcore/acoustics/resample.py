"""A change of sampling rate that gives the same samples however its input is cut up.

Polyphase filtering by a Kaiser-windowed low-pass (IEEE Trans Acoust Speech Signal Process
1974;22:135–141 for the structure). Each output sample depends on the input samples around it alone,
so a piece of input that starts on a multiple of the decimation factor, with enough history before
it, yields the very samples that the whole would.
"""

from __future__ import annotations

from math import gcd

import numpy as np
from scipy.signal import firwin, upfirdn

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
        half = HALF_CROSSINGS * factor
        taps = firwin(2 * half + 1, 1.0 / factor, window=("kaiser", KAISER_BETA)) * self._up
        # so many zeros in front that the filter's middle falls on an output sample
        padding = -half % self._down
        self._taps = np.concatenate([np.zeros(padding), taps])
        self._half = half
        self._middle = half + padding
        self._held = np.zeros(0)
        self._held_from = 0  # index of the first held input sample; a multiple of ``_down``
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
        filtered = upfirdn(self._taps, self._held, self._up, self._down)
        offset = (self._middle - self._held_from * self._up) // self._down
        wanted = filtered[self._given + offset : until + offset]
        self._given = until
        oldest = max(0, (until * self._down - self._half) // self._up)
        keep_from = oldest // self._down * self._down
        self._held = self._held[keep_from - self._held_from :]
        self._held_from = keep_from
        return np.asarray(wanted, dtype=np.float64)
