"""Incoming chunks: no gap, no duplicate, whatever the connection does."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sounds import held
from tests.rehearsing import until
from web.sound.engine import PACES, Engine
from web.sound.takes import HEADER, LONGEST_TAKE_S, BadChunk, MissingSound, Take, add_all

RATE = 16_000
SOUND = np.round(held(200.0, 1.0) * 32767).astype("<i2")


def chunk(first, after):
    return np.array([first], HEADER).tobytes() + SOUND[first:after].tobytes()


@given(st.lists(st.tuples(st.integers(-6000, 500), st.integers(0, 6000)), max_size=30))
def test_any_overlap_and_any_gap_still_make_the_sound_once(chunks):
    """Each chunk begins this far before (or after) the end of the sound so far."""
    take = Take(RATE)
    for offset, length in chunks:
        had = take.samples_in
        first = min(max(0, had + offset), len(SOUND))
        if first > had:
            with pytest.raises(MissingSound) as missing:
                take.add(chunk(first, first + length))
            assert missing.value.expected == had
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
    assert take.hold.has_ended


def test_takes_that_are_measured_together_are_measured_as_if_alone():
    """Each take of a round gets its own result: nothing, a gap, an invalid chunk, or another
    rate."""
    rates = (8_000, 16_000, 48_000, 16_000)
    takes = [Take(rate) for rate in rates]
    alone = [Take(rate) for rate in rates]
    for first in range(0, len(SOUND), 900):
        messages = [
            chunk(first, first + 900),
            chunk(first, first + 900),
            chunk(first, first + 900),
            b"x" if first == 1_800 else chunk(first + 100, first + 900),
        ]
        *good, odd = add_all([(take, [each]) for take, each in zip(takes, messages, strict=True)])
        assert isinstance(odd.trouble, BadChunk if first == 1_800 else MissingSound)
        for take, one, each in zip(alone, good, messages, strict=False):
            frames = take.add(each)
            assert one.trouble is None
            np.testing.assert_array_equal(one.frames.pitch_hz, frames.pitch_hz)
            np.testing.assert_array_equal(one.frames.bands, frames.bands)
    assert [take.hold for take in takes[:3]] == [take.hold for take in alone[:3]]
    assert takes[1].hold.has_ended


def test_an_engine_tells_each_of_many_takes_of_its_own_sound(settings):
    settings.LIVE_TAKES = 10
    engine, heard = Engine(), [[] for _ in range(PACES[-1][0] + 1)]
    takes = [Take(RATE) for _ in heard]
    lines = [engine.admit(take, heard[n].append) for n, take in enumerate(takes)]
    for line in lines[1:]:
        for first in range(0, len(SOUND), 960):
            engine.add(line, chunk(first, first + 960))
    engine.add(lines[0], b"x")
    assert until(lambda: all(line.idle for line in lines), 20)
    assert isinstance(heard[0][0].trouble, BadChunk)
    for take, told in zip(takes[1:], heard[1:], strict=True):
        assert take.samples_in == len(SOUND)
        assert sum(len(each.frames) for each in told) == len(takes[1]._live.frames) > 100


def test_a_fault_in_a_round_is_reported_and_the_next_round_is_measured(settings, monkeypatch):
    settings.LIVE_TAKES = 10
    engine, heard, take = Engine(), [], Take(RATE)
    line = engine.admit(take, heard.append)
    with monkeypatch.context() as broken:
        broken.setattr("web.sound.engine.add_all", lambda fed: 1 / 0)
        engine.add(line, chunk(0, 960))
        assert until(lambda: heard, 20)
    assert heard == [None]
    engine.add(line, chunk(0, len(SOUND)))
    assert until(lambda: len(heard) > 1, 20)
    assert len(heard[1].frames) > 50


def test_a_forgotten_microphone_fills_the_take_and_no_more():
    take = Take(8_000)
    block = np.zeros(1_000_000, "<i2")
    for first in range(0, (LONGEST_TAKE_S + 60) * 8_000, block.size):
        take.add(np.array([min(first, take.samples_in)], HEADER).tobytes() + block.tobytes())
    assert take.is_full
    assert take.samples_in == LONGEST_TAKE_S * 8_000
