"""Choose one pitch, or none, from the candidates of each frame.

The cheapest path through the candidates, as in Proc Inst Phonetic Sci Univ Amsterdam
1993;17:97–110, with each decision taken a fixed 20 ms later: early enough to be shown live, and the
same whether the frames come one by one or all at once.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..compiled import Loop
from .candidates import CANDIDATES
from .periodicity import ALL, BANDS_FROM, HISS, TOP, Spectra
from .rows import Track

Array = NDArray[np.float64]
Counts = NDArray[np.int64]

#: Frames of look-ahead before a decision.
LOOKAHEAD = 2
#: Value of “no pitch”: a lower peak counts as noise.
UNVOICED_WORTH = 0.35
#: Costs of an octave jump between two frames, and of starting or ending a voice.
JUMP_COST_PER_OCTAVE = 0.35
ONSET_COST = 0.14

#: States: no voice, and each candidate of a frame.
STATES = CANDIDATES + 1
#: Frames that may wait: the look-ahead and the newest.
_WAITING = LOOKAHEAD + 1


class PitchTracker:
    """Feed it candidates; it decides the rows of a track, :data:`LOOKAHEAD` frames late."""

    def __init__(self, track: Track) -> None:
        self._track = track
        #: Frames whose candidates have arrived.
        self._seen = 0
        # Scores of the best paths: the one without voice now, and those of the candidates still
        # worth following (score, log2 of its pitch, index in its frame).
        self._scores = np.zeros(1)
        self._going = np.zeros((CANDIDATES, 3))
        #: Number of those; state of the best path; number of waiting frames.
        self._counts = np.zeros(3, np.int64)
        self._hz = np.full((_WAITING, STATES), np.nan)
        self._strength = np.zeros((_WAITING, STATES))
        self._links = np.zeros((_WAITING, STATES), np.int64)

    def feed(self, spectra: Spectra, part: slice) -> None:
        """Add the candidates of the next frames, with their band energies.

        Args:
            part: which of those in ``spectra``.
        """
        track = self._track
        sums = spectra.sums[part]
        track.decided += _FOLLOWED(
            spectra.candidate_hz[part], spectra.candidate_strength[part],
            spectra.candidate_worth[part],
            self._scores, self._going, self._counts, self._hz, self._strength, self._links,
            track.decided, track.pitch_hz, track.strength,
            sums, self._seen, track.hiss_share, track.top_share, track.bands,
        )  # fmt: skip
        self._seen += len(sums)

    def finish(self) -> None:
        """Decide the frames that still wait for later ones."""
        track = self._track
        while self._counts[2]:
            at = _DECIDED(self._counts, self._links)
            track.pitch_hz[track.decided] = self._hz[0, at]
            track.strength[track.decided] = self._strength[0, at]
            track.decided += 1
            _MOVED(self._counts, self._hz, self._strength, self._links)


def _follow_paths(
    hz: Array,
    strength: Array,
    worth: Array,
    scores: Array,
    going: Array,
    counts: Counts,
    kept_hz: Array,
    kept_strength: Array,
    links: Counts,
    first: int,
    out_hz: Array,
    out_strength: Array,
    sums: Array,
    seen: int,
    hiss: Array,
    top: Array,
    bands: Array,
) -> int:
    """Extend the best path to each candidate frame by frame, and decide the oldest frame once
    enough later ones are known, into the rows from ``first`` on. Return the number of decided
    frames."""
    _fill_band_shares(sums, seen, hiss, top, bands)
    decided = 0
    reached = np.zeros((STATES, 2))  # Score and log2 of the pitch of each candidate of this frame.
    for row in range(hz.shape[0]):
        here = counts[2]
        started = scores[0] - ONSET_COST
        silent, links[here, 0] = scores[0], 0
        for each in range(counts[0]):
            if going[each, 0] - ONSET_COST > silent:
                silent, links[here, 0] = going[each, 0] - ONSET_COST, int(going[each, 2])
        silent += UNVOICED_WORTH
        top, top_height, top_at = silent, 0.0, 0
        kept_hz[here, 0], kept_strength[here, 0] = np.nan, 0.0
        candidates = 0
        for place in range(hz.shape[1]):
            if strength[row, place] == 0.0:
                break
            at = place + 1
            candidates = at
            height = np.log2(hz[row, place])
            best, links[here, at] = started, 0
            for each in range(counts[0]):
                after = going[each, 0] - JUMP_COST_PER_OCTAVE * abs(height - going[each, 1])
                if after > best:
                    best, links[here, at] = after, int(going[each, 2])
            reached[at, 0], reached[at, 1] = best + worth[row, place], height
            kept_hz[here, at], kept_strength[here, at] = hz[row, place], strength[row, place]
            if reached[at, 0] > top:
                top, top_height, top_at = reached[at, 0], height, at
        # Keep scores near zero, so that an hour of sound loses no precision, and drop a candidate
        # that a jump from the best would reach equally well.
        scores[0] = silent - top
        counts[0] = 0
        for at in range(1, candidates + 1):
            score, height = reached[at, 0], reached[at, 1]
            jump = JUMP_COST_PER_OCTAVE * abs(height - top_height)
            if top_at == 0 or at == top_at or score > top - jump:
                going[counts[0], 0], going[counts[0], 1] = score - top, height
                going[counts[0], 2] = at
                counts[0] += 1
        counts[1] = top_at
        counts[2] += 1
        if counts[2] > LOOKAHEAD:
            at = _decide_oldest(counts, links)
            out_hz[first + decided] = kept_hz[0, at]
            out_strength[first + decided] = kept_strength[0, at]
            decided += 1
            _shift_states(counts, kept_hz, kept_strength, links)
    return decided


def _decide_oldest(counts: Counts, links: Counts) -> int:
    """Return which state the best path had in the oldest frame."""
    at = counts[1]
    for step in range(counts[2] - 1, 0, -1):
        at = links[step, at]
    return int(at)


def _shift_states(counts: Counts, kept_hz: Array, kept_strength: Array, links: Counts) -> None:
    """Remove the oldest waiting frame."""
    for step in range(1, counts[2]):
        kept_hz[step - 1] = kept_hz[step]
        kept_strength[step - 1] = kept_strength[step]
        links[step - 1] = links[step]
    counts[2] -= 1


def _fill_band_shares(sums: Array, first: int, hiss: Array, top: Array, bands: Array) -> None:
    """Fill the rows from ``first`` on with each band's share of the energy, and the wide bands
    as they are."""
    for row in range(sums.shape[0]):
        whole = sums[row, ALL] if sums[row, ALL] > 0.0 else 1.0
        hiss[first + row], top[first + row] = sums[row, HISS] / whole, sums[row, TOP] / whole
        for band in range(bands.shape[1]):
            bands[first + row, band] = sums[row, BANDS_FROM + band]


_SHARED = Loop(_fill_band_shares)
_DECIDED, _MOVED = Loop(_decide_oldest), Loop(_shift_states)
_FOLLOWED = Loop(_follow_paths, _SHARED, _DECIDED, _MOVED)
