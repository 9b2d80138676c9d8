"""Counted breathing: counts at a tempo in seconds, and rates so slow that they need
confirmation."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.errors import ValueOutOfRange

TEMPO_BPM = (20.0, 200.0)
MOST_COUNTS = 60
#: Fewer breaths a minute for longer than this need an explicit choice.
SLOW_PER_MIN, SLOW_FOR_S = 4.0, 120.0
#: More breaths a minute are fast, and cause light-headedness after this many seconds.
FAST_PER_MIN, FAST_FOR_S = 20.0, 30.0


@dataclass(frozen=True, slots=True)
class BreathCount:
    """Counts in, held, out and resting, at a tempo in beats a minute.

    Raises:
        ValueOutOfRange: a tempo outside 20–200, no counts in or out, or over 60 of any.
    """

    breath_in: int
    breath_out: int
    tempo_bpm: float
    held: int = 0
    rest: int = 0

    def __post_init__(self) -> None:
        lowest, highest = TEMPO_BPM
        if not lowest <= self.tempo_bpm <= highest:
            raise ValueOutOfRange(
                what="tempo in beats a minute", value=self.tempo_bpm, lowest=lowest, highest=highest
            )
        for what, value, least in (
            ("counts in", self.breath_in, 1),
            ("counts out", self.breath_out, 1),
            ("counts held", self.held, 0),
            ("counts of rest", self.rest, 0),
        ):
            if not least <= value <= MOST_COUNTS:
                raise ValueOutOfRange(what=what, value=value, lowest=least, highest=MOST_COUNTS)

    def seconds(self, counts: int) -> float:
        """Return counts as seconds: counts × 60 / tempo."""
        return counts * 60.0 / self.tempo_bpm

    @property
    def cycle_s(self) -> float:
        """Return the length of one breath, rest included."""
        return self.seconds(self.breath_in + self.held + self.breath_out + self.rest)

    @property
    def ratio(self) -> float:
        """Return out ÷ in."""
        return self.breath_out / self.breath_in

    @property
    def breaths_per_min(self) -> float:
        """Return how often that is."""
        return 60.0 / self.cycle_s

    def total_s(self, cycles: int) -> float:
        """Return the duration of a number of breaths."""
        return cycles * self.cycle_s

    def needs_confirmation(self, cycles: int) -> bool:
        """Return whether it is slower than 4 breaths a minute for more than two minutes, which
        needs a choice."""
        return self.breaths_per_min < SLOW_PER_MIN and self.total_s(cycles) > SLOW_FOR_S

    @property
    def is_fast(self) -> bool:
        """Return whether it is faster than 20 breaths a minute."""
        return self.breaths_per_min > FAST_PER_MIN

    def is_fast_for_long(self, cycles: int) -> bool:
        """Return whether it is faster than 20 breaths a minute for over half a minute, which causes
        light-headedness."""
        return self.is_fast and self.total_s(cycles) > FAST_FOR_S
