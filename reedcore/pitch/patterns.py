"""Growing number patterns: rows of scale degrees, round after round, down and up again.

The usual one: 1 · 1-2-1 · 1-2-3-2-1 · 1-2-3-4-3-2-1 · 1-2-3-4-5-4-3-2-1, a semitone lower each
round, then higher, stopping at the bridge between registers.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from reedcore.errors import ValueOutOfRange

from .notes import HIGHEST_MIDI, LOWEST_MIDI, Note

#: Semitones of degrees 1–9 of the major scale.
DEGREE_ST = (0, 2, 4, 5, 7, 9, 11, 12, 14)
GROWING: tuple[tuple[int, ...], ...] = tuple(
    (*range(1, top + 1), *range(top - 1, 0, -1)) for top in range(1, 6)
)
MOST_ROUNDS = 24
LOWEST, HIGHEST = Note(LOWEST_MIDI), Note(HIGHEST_MIDI)


class BreathRule(StrEnum):
    """Breaths between the groups of a round: none, or a quick one in every gap (the harder way)."""

    ONE_BREATH = "one_breath"
    CATCH = "catch"


@dataclass(frozen=True, slots=True)
class PatternDrill:
    """A row of degrees and how it travels.

    Attributes:
        start: the first round's degree 1.
        groups: the degrees, group by group.
        step_st: how far each round moves.
        rounds_down: rounds after the first that go lower, before it turns and goes higher.
        rounds_up: rounds after the turn.
        floor, ceiling: no note goes beyond them; a round that would is not sung, nor those after
            it in its direction.
        bridge: the note of the register bridge; None without one.
        stops_at_bridge: going up stops below it; otherwise the rounds that cross it say so.
        beat_s: length of a note.
        breath: what happens between groups.

    Raises:
        ValueOutOfRange: a degree outside 1–9, a step outside 1–12, more than 24 rounds, a beat
            outside 0.15–3 s, or a first round that already lies beyond floor or ceiling.
    """

    start: Note
    groups: tuple[tuple[int, ...], ...] = GROWING
    step_st: int = 1
    rounds_down: int = 3
    rounds_up: int = 5
    floor: Note = LOWEST
    ceiling: Note = HIGHEST
    bridge: Note | None = None
    beat_s: float = 0.6
    breath: BreathRule = BreathRule.ONE_BREATH
    stops_at_bridge: bool = True

    def __post_init__(self) -> None:
        degrees = [degree for group in self.groups for degree in group]
        for what, value, lowest, highest in (
            ("lowest degree", min(degrees, default=0), 1, len(DEGREE_ST)),
            ("highest degree", max(degrees, default=0), 1, len(DEGREE_ST)),
            ("step in semitones", self.step_st, 1, 12),
            ("rounds down", self.rounds_down, 0, MOST_ROUNDS),
            ("rounds up", self.rounds_up, 0, MOST_ROUNDS),
            ("beat in s", self.beat_s, 0.15, 3.0),
        ):
            if not lowest <= value <= highest:
                raise ValueOutOfRange(what=what, value=value, lowest=lowest, highest=highest)
        if not self._fits(self.start.midi):
            raise ValueOutOfRange(
                what="start note",
                value=self.start.midi,
                lowest=self.floor.midi,
                highest=self._top - self._reach,
            )

    @property
    def _reach(self) -> int:
        return DEGREE_ST[max(max(group) for group in self.groups) - 1]

    @property
    def _top(self) -> int:
        stops = self.bridge is not None and self.stops_at_bridge
        return min(self.ceiling.midi, self.bridge.midi if stops and self.bridge else HIGHEST_MIDI)

    def _fits(self, first: int) -> bool:
        return self.floor.midi <= first and first + self._reach <= self._top

    def rounds(self) -> tuple[Round, ...]:
        """Return every round that will be sung, in order."""
        firsts = [self.start.midi]
        for step, count in ((-self.step_st, self.rounds_down), (self.step_st, self.rounds_up)):
            for _ in range(count):
                if not self._fits(firsts[-1] + step):
                    break
                firsts.append(firsts[-1] + step)
        return tuple(
            Round(
                number=number,
                remaining=len(firsts) - number,
                groups=tuple(
                    tuple(Note(first + DEGREE_ST[degree - 1]) for degree in group)
                    for group in self.groups
                ),
                seconds=self._round_s(),
                crosses_bridge=self.bridge is not None
                and first <= self.bridge.midi < first + self._reach,
            )
            for number, first in enumerate(firsts, start=1)
        )

    def _round_s(self) -> float:
        notes = sum(len(group) for group in self.groups)
        # A gap of one beat after each group except the last.
        return (notes + len(self.groups) - 1) * self.beat_s

    @property
    def seconds(self) -> float:
        """Return the duration of all rounds, with two beats between them."""
        rounds = self.rounds()
        between = 2 * self.beat_s * (len(rounds) - 1)
        return sum(each.seconds for each in rounds) + between


@dataclass(frozen=True, slots=True)
class Round:
    """One time through: its number from 1, how many are left after it, notes group by group, and
    whether it crosses the register bridge."""

    number: int
    remaining: int
    groups: tuple[tuple[Note, ...], ...]
    seconds: float
    crosses_bridge: bool = False
