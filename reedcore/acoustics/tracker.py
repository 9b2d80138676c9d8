"""From the candidates of each frame to one pitch, or none.

The cheapest path through the candidates, as in Proc Inst Phonetic Sci Univ Amsterdam
1993;17:97–110, with each decision taken a fixed 20 ms later: early enough to be shown live, and the
same whether the frames come one by one or all at once.
"""

from __future__ import annotations

from collections import deque

import numpy as np
from numpy.typing import NDArray

from .periodicity import Spectra

Array = NDArray[np.float64]

#: Frames of looking ahead before a decision.
LOOKAHEAD = 2
#: What no pitch is worth: a peak worth less than this is taken for noise.
UNVOICED_WORTH = 0.35
#: What a jump of an octave between two frames costs, and what starting or ending a voice costs.
JUMP_COST_PER_OCTAVE = 0.35
ONSET_COST = 0.14

#: log2 of the pitch, worth, hz, strength; the first state of every frame is having no voice
_State = list[float]
_NO_VOICE: _State = [float("nan"), UNVOICED_WORTH, float("nan"), 0.0]


class PitchTracker:
    """Feed it candidates; it gives pitches, :data:`LOOKAHEAD` frames late."""

    def __init__(self) -> None:
        self._states: deque[list[_State]] = deque()
        self._links: deque[list[int]] = deque()
        self._silent = 0.0  # score of the best path that has no voice now
        self._voiced: list[tuple[float, float, int]] = []  # (score, height, which) of the others
        self._best = 0

    def feed(self, spectra: Spectra) -> tuple[Array, Array]:
        """Pitch (NaN for none) and strength of each frame that can now be decided."""
        decided: list[_State] = []
        counts = np.count_nonzero(spectra.candidate_strength, axis=1).tolist()
        heights = np.log2(np.where(spectra.candidate_strength > 0, spectra.candidate_hz, 1.0))
        rows = np.stack(
            [heights, spectra.candidate_worth, spectra.candidate_hz, spectra.candidate_strength],
            axis=2,
        ).tolist()
        for row, count in zip(rows, counts, strict=True):
            self._step(row[:count])
            if len(self._states) > LOOKAHEAD:
                decided.append(self._decide_oldest())
        return _as_arrays(decided)

    def finish(self) -> tuple[Array, Array]:
        """The frames still waiting for what will not come."""
        decided: list[_State] = []
        while self._states:
            decided.append(self._decide_oldest())
        return _as_arrays(decided)

    def _step(self, candidates: list[_State]) -> None:
        """One frame on: the best way to each candidate from what is left of those before it."""
        before = self._voiced
        started = self._silent - ONSET_COST
        silent, silent_from = self._silent, 0
        for score, _, index in before:
            if score - ONSET_COST > silent:
                silent, silent_from = score - ONSET_COST, index
        silent += UNVOICED_WORTH
        links = [silent_from]
        voiced = []
        top, top_height, top_at = silent, 0.0, 0
        for at, (height, worth, _, _) in enumerate(candidates, start=1):
            best, best_from = started, 0
            for score, was, index in before:
                after = score - JUMP_COST_PER_OCTAVE * abs(height - was)
                if after > best:
                    best, best_from = after, index
            links.append(best_from)
            voiced.append((best + worth, height, at))
            if best + worth > top:
                top, top_height, top_at = best + worth, height, at
        # scores stay near zero, so that an hour of sound loses no precision; and a candidate that a
        # jump from the best would reach as well can never be the better way again
        self._silent = silent - top
        self._voiced = [
            (score - top, height, at)
            for score, height, at in voiced
            if not top_at
            or at == top_at
            or score > top - JUMP_COST_PER_OCTAVE * abs(height - top_height)
        ]
        self._best = top_at
        self._states.append([_NO_VOICE, *candidates])
        self._links.append(links)

    def _decide_oldest(self) -> _State:
        at = self._best
        for step in range(len(self._links) - 1, 0, -1):
            at = self._links[step][at]
        self._links.popleft()
        return self._states.popleft()[at]


def _as_arrays(states: list[_State]) -> tuple[Array, Array]:
    if not states:
        return np.zeros(0), np.zeros(0)
    return np.array([s[2] for s in states]), np.array([s[3] for s in states])
