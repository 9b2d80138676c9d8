"""From the candidates of each frame to one pitch, or none.

The cheapest path through the candidates, as in Proc Inst Phonetic Sci Univ Amsterdam
1993;17:97–110, with each decision taken a fixed 30 ms later: early enough to be shown live, and the
same whether the frames come one by one or all at once.
"""

from __future__ import annotations

from math import log2

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

#: Frames of looking ahead before a decision.
LOOKAHEAD = 3
#: What no pitch is worth: a peak lower than this is taken for noise.
UNVOICED_WORTH = 0.45
#: What a jump of an octave between two frames costs, and what starting or ending a voice costs.
JUMP_COST_PER_OCTAVE = 0.35
ONSET_COST = 0.14
#: Preference for the higher of two octaves that fit equally well, per octave.
HIGHER_OCTAVE_WORTH = 0.02

#: (log2 of the pitch, or None; worth; hz; strength)
_State = tuple[float | None, float, float, float]
_NO_VOICE: _State = (None, UNVOICED_WORTH, float("nan"), 0.0)


class PitchTracker:
    """Feed it candidates; it gives pitches, :data:`LOOKAHEAD` frames late."""

    def __init__(self) -> None:
        self._scores: list[float] = [0.0]
        self._states: list[list[_State]] = []
        self._links: list[list[int]] = []

    def feed(self, candidate_hz: Array, candidate_strength: Array) -> tuple[Array, Array]:
        """Pitch (NaN for none) and strength of each frame that can now be decided."""
        decided: list[_State] = []
        counts = np.count_nonzero(candidate_strength, axis=1).tolist()
        rows_hz, rows_strength = candidate_hz.tolist(), candidate_strength.tolist()
        for hz, strength, count in zip(rows_hz, rows_strength, counts, strict=True):
            self._step(hz[:count], strength[:count])
            if len(self._states) > LOOKAHEAD:
                decided.append(self._decide_oldest())
        return _as_arrays(decided)

    def finish(self) -> tuple[Array, Array]:
        """The frames still waiting for what will not come."""
        decided: list[_State] = []
        while self._states:
            decided.append(self._decide_oldest())
        return _as_arrays(decided)

    def _step(self, hz: list[float], strength: list[float]) -> None:
        states = [_NO_VOICE]
        for f, s in zip(hz, strength, strict=True):
            height = log2(f)
            states.append((height, s + HIGHER_OCTAVE_WORTH * (height - 7.0), f, s))
        before = self._states[-1] if self._states else [_NO_VOICE]
        scores: list[float] = []
        links: list[int] = []
        for octaves, worth, _, _ in states:
            best, best_from = float("-inf"), 0
            for index, (state, score) in enumerate(zip(before, self._scores, strict=True)):
                was = state[0]
                if octaves is not None and was is not None:
                    cost = JUMP_COST_PER_OCTAVE * abs(octaves - was)
                else:
                    cost = 0.0 if octaves is was else ONSET_COST
                if score - cost > best:
                    best, best_from = score - cost, index
            scores.append(best + worth)
            links.append(best_from)
        top = max(scores)  # kept near zero, so that an hour of sound loses no precision
        self._scores = [score - top for score in scores]
        self._states.append(states)
        self._links.append(links)

    def _decide_oldest(self) -> _State:
        at = self._scores.index(max(self._scores))
        for links in reversed(self._links[1:]):
            at = links[at]
        self._links.pop(0)
        return self._states.pop(0)[at]


def _as_arrays(states: list[_State]) -> tuple[Array, Array]:
    if not states:
        return np.zeros(0), np.zeros(0)
    return np.array([s[2] for s in states]), np.array([s[3] for s in states])
