"""Range profile and voice load are sums, independent of the order."""

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
    assert a.merge(b).merge(c) == c.merge(a.merge(b)) == profile_of([*one, *two, *three])
    assert a.merge(RangeProfile()) == a


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


def test_a_cell_that_was_never_sung_has_no_seconds_and_one_on_the_limit_is_in_the_outline():
    profile = range_profile_of(np.full(5, 220.0), np.full(5, -20.0))
    assert profile.seconds(57, -20) == pytest.approx(0.05)
    assert profile.seconds(58, -20) == 0.0
    assert profile.outline(least_s=0.05) == ((57, -20, -20),)
    assert profile.outline(least_s=0.06) == ()


def test_a_profile_is_of_the_clinics_own_pitch():
    between = 440.0 * 2 ** (0.49 / 12)
    assert range_profile_of(np.array([between]), np.array([0.0])).cells[0][0][0] == 69
    sharp = range_profile_of(np.array([between]), np.array([0.0]), a4_hz=439.0)
    assert sharp.cells[0][0][0] == 70


def test_levels_of_another_length_are_refused_with_both_lengths():
    with pytest.raises(ValueOutOfRange) as refused:
        range_profile_of(np.zeros(3), np.zeros(2))
    facts = {"what": "number of levels", "value": 2, "lowest": 3, "highest": 3}
    assert refused.value.facts == facts
