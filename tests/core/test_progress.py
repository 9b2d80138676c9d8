"""Range profile and voice load add up, whatever the order."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.errors import ValueOutOfRange
from reedcore.progress import RangeProfile, VoiceLoad, range_profile_of, voice_load_of

PITCH = np.array([440.0] * 30 + [np.nan] * 10 + [220.0] * 20)
LEVEL = np.array([-20.2] * 30 + [-60.0] * 10 + [-31.0] * 20)


def test_cells_hold_seconds_of_voiced_frames():
    profile = range_profile_of(PITCH, LEVEL)
    assert profile.seconds(69, -20) == pytest.approx(0.30)
    assert profile.seconds(57, -31) == pytest.approx(0.20)
    assert profile.total_s == pytest.approx(0.50)
    assert profile.outline() == ((57, -31, -31), (69, -20, -20))


def test_a_glimpse_is_no_outline():
    profile = range_profile_of(np.full(4, 440.0), np.full(4, -20.0))
    assert profile.outline() == ()


frames = st.lists(st.tuples(st.floats(60, 900), st.floats(-60, 0)), max_size=40)


def profile_of(pairs):
    pitch, level = np.array(pairs).reshape(-1, 2).T
    return range_profile_of(pitch, level)


@given(frames, frames, frames)
def test_merging_is_the_same_in_any_order_and_as_all_at_once(one, two, three):
    a, b, c = profile_of(one), profile_of(two), profile_of(three)
    assert a.merged(b).merged(c) == c.merged(a.merged(b)) == profile_of([*one, *two, *three])
    assert a.merged(RangeProfile()) == a


def test_levels_must_belong_to_their_pitches():
    with pytest.raises(ValueOutOfRange):
        range_profile_of(PITCH, LEVEL[:-1])


def test_load_counts_seconds_and_cycles():
    load = voice_load_of(PITCH)
    assert load.voiced_s == pytest.approx(0.5)
    assert load.cycles == pytest.approx(0.3 * 440 + 0.2 * 220)
    assert load + VoiceLoad() == load
    assert (load + load).cycles == pytest.approx(2 * load.cycles)


def test_values_that_stand_for_more_than_a_frame_weigh_as_much():
    once = range_profile_of(np.full(10, 440.0), np.full(10, -20.0))
    twice = range_profile_of(np.full(5, 440.0), np.full(5, -20.0), frames_each=2)
    assert twice == once
    assert twice.seconds(69, -20) == pytest.approx(0.1)
