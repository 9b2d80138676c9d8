"""The tone source and the simulated microphone produce the figures they promise."""

import numpy as np
import pytest

from reedcore.acoustics import analyse
from reedcore.devices.tone import reference_tone
from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note
from reedcore.synthvoice import HeldVoice, Room, VoicedPart, speak


@pytest.mark.parametrize("name", ["C2", "F3", "A4", "C6"])
def test_the_tone_has_its_pitch(name):
    hz = Note.named(name).hz()
    tone = reference_tone(hz, duration_s=2.0)
    assert np.max(np.abs(tone)) == pytest.approx(0.5)
    assert abs(tone[0]) < 1e-6
    assert abs(tone[-1]) < 1e-6
    heard = analyse(tone, 44_100).frames.pitch_hz[50:150]
    assert np.median(np.abs(1200 * np.log2(heard / hz))) < 2
    # It is not taken for a voice.
    assert analyse(tone, 44_100).holds == ()


def test_a_low_tone_is_heard_on_a_small_loudspeaker():
    tone = reference_tone(130.81, duration_s=2.0)
    power = np.abs(np.fft.rfft(tone)) ** 2
    above_300_hz = power[np.fft.rfftfreq(tone.size, 1 / 44_100) > 300].sum() / power.sum()
    assert above_300_hz > 0.1


@pytest.mark.parametrize(("hz", "seconds"), [(10, 2), (3000, 2), (200, 0), (200, 60)])
def test_an_invalid_tone_is_refused(hz, seconds):
    with pytest.raises(ValueOutOfRange):
        reference_tone(hz, duration_s=seconds)


def test_the_same_seed_says_the_same_and_another_does_not():
    voice = HeldVoice(VoicedPart(seconds=1.0, pitch_hz=200.0), seed=5)
    again, other = speak(voice), speak(HeldVoice(VoicedPart(seconds=1.0, pitch_hz=200.0), seed=6))
    np.testing.assert_array_equal(speak(voice).samples, again.samples)
    assert not np.array_equal(again.samples, other.samples)


def test_the_truth_is_where_the_sound_is():
    clip = speak(
        HeldVoice(VoicedPart(seconds=2.0, pitch_hz=200.0), lead_s=1.0, tail_s=0.5, room=Room(-90))
    )
    rms = np.sqrt(np.convolve(clip.samples**2, np.ones(480) / 480, mode="same"))
    sounding = np.flatnonzero(rms > 0.01) / clip.rate_hz
    assert sounding[0] == pytest.approx(clip.truth.start_s, abs=0.03)
    assert sounding[-1] == pytest.approx(clip.truth.end_s, abs=0.03)
    assert clip.samples.size == round(3.5 * clip.rate_hz)


@pytest.mark.parametrize(
    "changes", [{"pitch_hz": 10}, {"seconds": 0}, {"seconds": 10_000}, {"vowel": "xx"}]
)
def test_an_impossible_voice_is_refused(changes):
    with pytest.raises(ValueOutOfRange):
        speak(HeldVoice(VoicedPart(**{"pitch_hz": 200.0, "seconds": 1.0, **changes})))
