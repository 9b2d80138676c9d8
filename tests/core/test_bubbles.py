"""A voice in water: irregular chopping, distinguished from all movements of the voice itself."""

from math import isnan

import numpy as np
import pytest

from reedcore.acoustics import TakeKind, analyse
from reedcore.synthvoice import HeldVoice, Room, VoicedPart, speak
from tests.core.sounds import RATE


def hold_of(samples):
    (hold,) = analyse(samples, RATE, task=TakeKind.HOLD).holds
    return hold


def spoken_line(hz, seconds=5.0, **how):
    clip = speak(HeldVoice(VoicedPart(seconds, hz, **how), room=Room(-70.0), seed=4), rate_hz=RATE)
    return np.asarray(clip.samples, dtype=float) / (
        32768.0 if clip.samples.dtype.kind == "i" else 1
    )


def bubbling_voice(hz, *, a_second, uneven, deepest=0.3, seed=1):
    """Return a voice whose outlet closes a little at irregular bubbles."""
    sound = spoken_line(hz)
    rng = np.random.default_rng(seed)
    many = round(len(sound) / RATE * a_second * 3) + 8
    begins = np.cumsum(rng.lognormal(np.log(1 / a_second), uneven, many))
    knots = np.maximum.accumulate(np.stack([begins, begins + 0.35 / a_second], axis=1).reshape(-1))
    open_to = np.stack([np.ones(many), rng.uniform(deepest, 0.8, many)], axis=1).reshape(-1)
    return sound * np.interp(np.arange(len(sound)) / RATE, knots, open_to)


@pytest.mark.parametrize("hz", [98.0, 165.0, 247.0, 392.0])
@pytest.mark.parametrize(("a_second", "uneven"), [(12.0, 0.3), (16.0, 0.5), (22.0, 0.6)])
def test_bubbles_without_a_rate_are_known(hz, a_second, uneven):
    hold = hold_of(bubbling_voice(hz, a_second=a_second, uneven=uneven))
    assert isnan(hold.flutter.rate_hz)
    assert 0.9 < hold.flutter.depth_db < 6.0
    # The movement of the water is not reported as the voice's.
    assert isnan(hold.cpps_db)
    assert hold.tremor is None
    assert hold.breaks == ()
    assert hold.duration_s == pytest.approx(5.0, abs=0.25)
    assert abs(1200 * np.log2(hold.pitch.median_hz / hz)) < 20


@pytest.mark.parametrize(
    "how",
    [
        {},
        {"shimmer_db": 1.2, "cycle_jitter": 0.025},
        {"breathiness_db": -8.0},
        {"vibrato_cents": 80.0, "vibrato_hz": 5.6},
        {"tremor_hz": 5.0, "tremor_db": 4.0},
        {"tremor_hz": 9.0, "tremor_db": 2.0},
        {"swell_db": 8.0},
    ],
    ids=str,
)
@pytest.mark.parametrize("hz", [82.0, 131.0, 262.0, 440.0])
def test_a_voice_by_itself_is_no_water(hz, how):
    hold = hold_of(spoken_line(hz, **how))
    assert hold.flutter is None
    assert not isnan(hold.cpps_db)


@pytest.mark.parametrize("hz", [98.0, 165.0, 262.0, 440.0])
def test_breaks_again_and_again_are_breaks_and_no_flutter(hz):
    breaks = ((1.0, 0.15), (2.0, 0.2), (3.1, 0.1), (4.0, 0.2))
    hold = hold_of(spoken_line(hz, 6.0, breaks=breaks))
    assert len(hold.breaks) == 4
    assert hold.flutter is None
    assert not isnan(hold.cpps_db)
