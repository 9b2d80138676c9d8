"""A trial whose length the recording does not show is not judged, and does not count."""

import numpy as np
import pytest

from reedcore.measures import TrialContext
from reedcore.measures.common import TrialGoal
from reedcore.measures.doubts import longest_lost_s
from reedcore.measures.trial import measure_trial
from reedcore.pitch.notes import Note
from reedcore.synthvoice import Room, Silence, VoicedPart, render
from reedcore.targets import HoldTarget, Verdict

RATE = 16_000
F4 = Note(65)
GOAL = TrialGoal("hold", HoldTarget(4.0, note=F4), 4.0, note_hz=F4.hz())


def clip(*parts, room=-66.0):
    return render((Silence(0.8), *parts, Silence(0.8)), room=Room(room), rate_hz=RATE).samples


F4_HZ = F4.hz()


def hold(seconds=5.0, hz=F4_HZ, **more):
    return VoicedPart(seconds, hz, vowel="ah", **more)


def measure(samples):
    return measure_trial(GOAL, TrialContext(), samples, RATE)


def test_a_clean_hold_is_judged():
    found = measure(clip(hold()))
    assert found.judgement.overall is Verdict.MET
    assert found.columns["total_s"] == pytest.approx(5.0, abs=0.15)


def with_a_fan(under_db):
    samples = clip(hold())
    loud = samples[round(1.5 * RATE) : round(4.5 * RATE)]
    rng = np.random.default_rng(4)
    fan = np.convolve(rng.standard_normal(len(samples)), np.ones(6), mode="same")
    level = np.sqrt(np.mean(loud**2)) * 10 ** (-under_db / 20)
    return samples + fan * level / np.sqrt(np.mean(fan**2))


def lost(*spans_ms):
    samples = clip(hold())
    for at, ms in spans_ms:
        samples[round(at * RATE) : round(at * RATE) + ms * RATE // 1000] = 0.0
    return samples


DOUBTFUL = {
    "a fan 5 dB under the voice": (with_a_fan(5.0), {"room_too_loud", "room_not_heard"}),
    "sound from the first moment to the last": (
        render((hold(4.6),), room=Room(-66.0), rate_hz=RATE).samples,
        {"room_not_heard"},
    ),
    "parts that the device lost": (lost((2.0, 120), (3.1, 300)), {"sound_lost"}),
}


@pytest.mark.parametrize(("samples", "reasons"), DOUBTFUL.values(), ids=DOUBTFUL)
def test_an_unknown_figure_is_neither_judged_nor_counted(samples, reasons):
    found = measure(samples)
    assert {part.verdict for part in found.judgement.parts} == {Verdict.NOT_JUDGED}
    (why,) = {part.why.value for part in found.judgement.parts}
    assert why in reasons
    assert found.columns.get("total_s") is None
    assert "cycles" not in found.columns["figures"]
    assert found.columns["figures"]["doubtful_s"] > 0
    assert found.trace is not None  # The clinician can review it.


def test_a_moment_of_another_sound_makes_no_unsteady_voice():
    wide = measure(clip(hold(2.0), hold(0.7, 622.0), hold(2.3)))
    assert wide.columns["spread_cents"] is None


def test_a_tremor_is_still_reported():
    assert measure(clip(hold(tremor_cents=180.0))).columns["spread_cents"] > 80


@pytest.mark.parametrize("dtype", [np.int16, np.float32])
def test_digital_silence_is_found_between_sounds_alone(dtype):
    samples = np.zeros(16_000, dtype)
    samples[4_000:12_000] = 1
    assert longest_lost_s(samples, RATE) == 0.0
    samples[6_000:7_600] = 0
    assert longest_lost_s(samples, RATE) == pytest.approx(0.1)
    assert longest_lost_s(np.stack([samples, samples], axis=1), RATE) == pytest.approx(0.1)
    assert longest_lost_s(np.zeros(100, dtype), RATE) == 0.0
