"""Chunks on their way in: no gap, no doubling, whatever the line does."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sounds import held
from web.sound.takes import HEADER, LONGEST_TAKE_S, BadChunk, MissingSound, Take

RATE = 16_000
SOUND = np.round(held(200.0, 1.0) * 32767).astype("<i2")


def chunk(first, after):
    return np.array([first], HEADER).tobytes() + SOUND[first:after].tobytes()


@settings(max_examples=50, deadline=None)
@given(st.lists(st.tuples(st.integers(-6000, 500), st.integers(0, 6000)), max_size=30))
def test_any_overlap_and_any_gap_still_make_the_sound_once(chunks):
    """Each chunk begins so far before (or after) the end of what is there already."""
    take = Take(RATE)
    for offset, length in chunks:
        had = take.samples_in
        first = min(max(0, had + offset), len(SOUND))
        if first > had:
            with pytest.raises(MissingSound) as missing:
                take.add(chunk(first, first + length))
            assert missing.value.wanted == had
        else:
            take.add(chunk(first, first + length))
    take.add(chunk(take.samples_in, len(SOUND)))
    np.testing.assert_array_equal(take.samples(), SOUND)


@pytest.mark.parametrize("message", [b"", b"abc", HEADER.type(0).tobytes() + b"x"])
def test_bytes_that_are_no_chunk_are_refused(message):
    with pytest.raises(BadChunk):
        Take(RATE).add(message)


def test_the_hold_so_far_follows_the_sound():
    take = Take(RATE)
    take.add(chunk(0, RATE // 2))
    assert take.hold.start_s is None
    take.add(chunk(RATE // 2, len(SOUND)))
    assert take.hold.seconds == pytest.approx(1.0, abs=0.15)
    assert take.hold.ended


def test_a_forgotten_microphone_fills_the_take_and_no_more():
    take = Take(8_000)
    block = np.zeros(1_000_000, "<i2")
    for first in range(0, (LONGEST_TAKE_S + 60) * 8_000, block.size):
        take.add(np.array([min(first, take.samples_in)], HEADER).tobytes() + block.tobytes())
    assert take.full
    assert take.samples_in == LONGEST_TAKE_S * 8_000
