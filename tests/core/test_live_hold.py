"""The live picture agrees with the saved result."""

import pytest

from reedcore.acoustics import Frames, LiveAnalyser, analyse
from reedcore.acoustics.holds.live_hold import hold_so_far
from tests.core.sounds import RATE, held


def so_far(samples):
    live = LiveAnalyser(RATE)
    return hold_so_far(Frames.join([live.feed(samples)]))


def test_before_during_and_after():
    samples = held(200.0, 3.0, before=1.0, after=1.5)
    assert so_far(samples[:RATE]).start_s is None
    during = so_far(samples[: 3 * RATE])
    assert during.start_s == pytest.approx(1.0, abs=0.05)
    assert during.seconds == pytest.approx(2.0, abs=0.15)
    assert not during.has_ended
    after = so_far(samples)
    assert after.has_ended
    assert after.silent_s == pytest.approx(1.5, abs=0.15)


def test_between_two_looks_a_voice_is_taken_to_go_on():
    samples = held(200.0, 3.0, before=1.0, after=1.5)
    sounding, silent = so_far(samples[: 3 * RATE]), so_far(samples)
    assert sounding.grown(10).seconds == pytest.approx(sounding.seconds + 0.1)
    assert silent.grown(10).seconds == silent.seconds
    assert silent.grown(10).silent_s == pytest.approx(silent.silent_s + 0.1)


def test_the_last_live_figure_is_the_one_that_is_saved():
    samples = held(200.0, 3.0)
    assert so_far(samples).seconds == analyse(samples, RATE).longest.duration_s
