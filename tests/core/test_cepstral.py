"""Cepstral peak prominence agrees with published values, for vowels and for speech."""

from math import isnan

import numpy as np
import pytest
from scipy.signal import lfilter

from reedcore.acoustics.voice.cepstral import LEAST, cepstral_prominence_db

RATE = 16_000
#: Values of the program that published values were measured with (version 6.1; power cepstrogram
#: from 60 Hz every 2 ms up to 5 kHz, smoothed over 10 ms and 1 ms, peak in 60 to 330 Hz, robust
#: straight line): pitch in Hz, noise as a share of the pulses, prominence in dB.
READ_ELSEWHERE = [
    (110, 0.02, 23.93), (110, 0.3, 16.61), (110, 1.0, 7.79),
    (160, 0.02, 23.00), (160, 0.3, 15.06), (160, 1.0, 7.38),
    (220, 0.02, 18.91), (220, 0.3, 12.06), (220, 1.0, 5.47),
    (300, 0.02, 22.36), (300, 0.3, 13.09), (300, 1.0, 5.20),
]  # fmt: skip


def pulses(hz, noise, seconds=2.0):
    """Return pulses through three resonances, with noise of a fixed seed."""
    sound = np.zeros(int(seconds * RATE))
    sound[(np.arange(0, seconds, 1 / hz) * RATE).astype(int)] = 1.0
    sound += noise * np.random.default_rng(7).normal(size=sound.size) * np.sqrt(hz / RATE)
    for centre, width in ((600, 80), (1100, 100), (2500, 150)):
        round_ = np.exp(-np.pi * width / RATE)
        turn = -2 * round_ * np.cos(2 * np.pi * centre / RATE)
        sound = lfilter([1], [1, turn, round_**2], sound)
    return (0.1 * sound / np.abs(sound).max()).astype(np.float32)


@pytest.mark.parametrize(("hz", "noise", "read_db"), READ_ELSEWHERE)
def test_prominence_agrees_with_the_reference_implementation(hz, noise, read_db):
    assert cepstral_prominence_db(pulses(hz, noise)) == pytest.approx(read_db, abs=0.4)


def test_prominence_does_not_depend_on_the_recording_level():
    sound = pulses(160, 0.3)
    loud, soft = (cepstral_prominence_db(sound * gain) for gain in (4.0, 0.05))
    assert loud == pytest.approx(soft, abs=0.02)


def test_only_voiced_frames_of_speech_count():
    sound = pulses(160, 0.02)
    noise = 0.02 * np.random.default_rng(1).normal(size=2 * RATE).astype(np.float32)
    voiced = np.repeat([True, False], 200)
    voiced[180:200] = False  # A window that reaches into the noise is partly noise.
    whole = cepstral_prominence_db(np.concatenate([sound, noise]))
    spoken = cepstral_prominence_db(np.concatenate([sound, noise]), voiced=voiced)
    assert spoken == pytest.approx(cepstral_prominence_db(sound), abs=0.3)
    assert whole < spoken - 5.0
    assert isnan(cepstral_prominence_db(sound, voiced=np.zeros(200, bool)))


def test_a_recording_shorter_than_a_window_has_no_prominence():
    assert isnan(cepstral_prominence_db(pulses(160, 0.02)[: LEAST - 1]))
    assert not isnan(cepstral_prominence_db(pulses(160, 0.02)[:LEAST]))


def test_a_long_hold_is_read_like_a_short_one():
    """Long sound is resampled a piece at a time without audible joins."""
    short, long = (cepstral_prominence_db(pulses(160, 0.3, seconds)) for seconds in (8.0, 40.0))
    assert long == pytest.approx(short, abs=0.1)
