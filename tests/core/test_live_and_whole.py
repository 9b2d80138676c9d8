"""The frames are the same, however the sound is divided into chunks."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.acoustics import Frames, LiveAnalyser, analyse
from reedcore.errors import DamagedRecording, RateOutOfRange
from tests.core.sounds import held

RATES = (8_000, 11_025, 16_000, 22_050, 44_100, 48_000, 96_000)


def feed_in_pieces(samples, rate, cuts):
    """Return the frames of samples fed in pieces that end at these places."""
    live = LiveAnalyser(rate)
    edges = [0, *sorted(cut % (len(samples) + 1) for cut in cuts), len(samples)]
    parts = [live.feed(samples[a:b]) for a, b in pairwise(edges)]
    return Frames.join([*parts, live.finish()])


def assert_same(one, other):
    for name in Frames.__dataclass_fields__:
        np.testing.assert_array_equal(getattr(one, name), getattr(other, name), err_msg=name)


@given(
    rate=st.sampled_from(RATES),
    hz=st.floats(60, 900),
    cuts=st.lists(st.integers(0, 10**6), max_size=25),
)
def test_any_split_gives_the_same_frames(rate, hz, cuts):
    samples = held(hz, 0.5, rate=rate, before=0.2, after=0.2)
    assert_same(feed_in_pieces(samples, rate, []), feed_in_pieces(samples, rate, cuts))


def test_a_sample_at_a_time_is_a_split_too():
    samples = held(200.0, 0.3, rate=8_000, before=0.1, after=0.1)
    assert_same(
        feed_in_pieces(samples, 8_000, []), feed_in_pieces(samples, 8_000, range(len(samples)))
    )


@pytest.mark.parametrize("size", [80, 160, 700])
def test_samples_of_a_file_are_the_same_in_small_pieces(size):
    """Including the samples that still wait when the file ends."""
    whole = np.round(held(200.0, 0.3, before=0.1, after=0.1013) * 32767).astype(np.int16)
    assert_same(
        feed_in_pieces(whole, 16_000, []), feed_in_pieces(whole, 16_000, range(0, len(whole), size))
    )


def test_the_saved_analysis_rests_on_the_frames_that_were_live():
    samples = held(220.0, 1.5)
    assert_same(
        analyse(samples, 16_000).frames, feed_in_pieces(samples, 16_000, range(0, 48_000, 700))
    )


@pytest.mark.parametrize("rate", RATES)
def test_one_frame_per_ten_milliseconds(rate):
    samples = held(200.0, 0.6, rate=rate, before=0.2, after=0.203)
    assert len(feed_in_pieces(samples, rate, [])) == 100


@pytest.mark.parametrize("rate", RATES)
def test_a_frame_is_out_within_60_ms_of_its_last_sample(rate):
    samples = held(200.0, 1.0, rate=rate)
    live = LiveAnalyser(rate)
    heard = round(1.5 * rate)
    out = sum(len(live.feed(samples[at : at + 32])) for at in range(0, heard, 32))
    # The window of a frame ends 25 ms after its middle, which is 5 ms into the frame.
    last_window_ends_s = (out - 1) * 0.010 + 0.005 + 0.025
    assert 1.5 - last_window_ends_s <= 0.060


@pytest.mark.parametrize("rate", [7_999, 96_001, 0, -1])
def test_a_rate_that_cannot_be_measured_is_refused(rate):
    with pytest.raises(RateOutOfRange):
        LiveAnalyser(rate)


def test_a_sample_that_is_no_number_is_refused_with_its_place():
    samples = held(200.0, 0.5)
    samples[8_000] = np.nan
    with pytest.raises(DamagedRecording) as refused:
        analyse(samples, 16_000)
    assert refused.value.facts["first_bad_s"] == 0.5
