"""A change of sampling rate that gives the same samples however its input is cut up.

Polyphase filtering by a Kaiser-windowed low-pass (IEEE Trans Acoust Speech Signal Process
1974;22:135–141 for the structure). Output sample n lies at n / to_hz seconds of the input's time,
and depends on the input samples around it alone, which are summed in their order.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import gcd

import numpy as np

from ..compiled import Loop
from .frames import Array
from .low_pass import kaiser_low_pass

#: Zero crossings of the low-pass on each side: stop band −50 dB, aliases only above 6 kHz.
HALF_CROSSINGS = 6
KAISER_BETA = 5.0
#: Row length of the low-pass is a multiple of this, so that vector sums have no remainder.
_MULTIPLE = 16


@dataclass(frozen=True, slots=True, eq=False)
class Resampling:
    """A conversion from one sampling rate to another.

    Attributes:
        up, down: the ratio of the rates, in lowest terms.
        half: half the length of the low-pass, in steps of the finer grid.
        taps: a row for each place that an output sample can have between two input samples.
    """

    up: int
    down: int
    half: int
    taps: Array

    @classmethod
    def for_rates(cls, rate_hz: int, to_hz: int) -> Resampling:
        """Return the low-pass between two rates; None if they are equal."""
        common = gcd(rate_hz, to_hz)
        up, down = to_hz // common, rate_hz // common
        if up == down:
            return cls(1, 1, 0, np.zeros((0, 0)))
        factor = max(up, down)
        half = HALF_CROSSINGS * factor
        made = kaiser_low_pass(2 * half + 1, 1.0 / factor, beta=KAISER_BETA) * up
        longest = -(-made.size // up)
        taps = np.zeros((up, -(-longest // _MULTIPLE) * _MULTIPLE))
        for phase in range(up):
            row = made[phase::up]
            taps[phase, : row.size] = row
        return cls(up, down, half, taps)

    @property
    def reach(self) -> int:
        """Return the input samples needed on each side of an output sample."""
        return int(self.taps.shape[1])

    def ready(self, samples: int) -> int:
        """Return the number of output samples that this many input samples complete."""
        if not self.half:
            return samples
        return max(0, ((samples - 1) * self.up - self.half) // self.down + 1)

    def total_output(self, samples: int) -> int:
        """Return the number of output samples if silence follows this many input samples."""
        return -(-samples * self.up // self.down)

    def needs_from(self, output: int) -> int:
        """Return the first input sample that this output sample still needs."""
        return -((self.half - output * self.down) // self.up)


def fill_output(
    held: Array, held_from: int, taps: Array, half: int, down: int, given: int, out: Array
) -> None:
    """Compute each output sample from the input samples within reach of the low-pass, which is
    the same backwards.

    Args:
        held: input samples from number ``held_from`` on, as many as ``taps`` reach, and more.
        given: the number of the first output sample.
    """
    up, length = taps.shape
    if up == 0:
        out[:] = held[given - held_from : given - held_from + out.size]
        return
    # The first input sample that the low-pass reaches, and its row, updated by addition: a division
    # costs as much as half the sum.
    first = -((half - given * down) // up)
    row = half - given * down + first * up
    first -= held_from
    for number in range(out.size):
        part, by = held[first : first + length], taps[row]
        total = 0.0
        for at in range(length):
            total += part[at] * by[at]
        out[number] = total
        row -= down
        while row < 0:
            row += up
            first += 1


RESAMPLED = Loop(fill_output)
