"""Periods, harmonics and spectra of voices with known figures, or measured by the program in common
use."""

from math import isnan

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from bench.hard import source
from reedcore.acoustics import TakeKind, analyse
from reedcore.acoustics.voice.perturbation import perturbation_of
from reedcore.acoustics.voice.spectrum import long_term_spectrum
from tests.core.test_cepstral import RATE, pulses
from tests.core.test_doubt import PAUSES, analyse_speech, talk


def cycles(lengths_s, heights, seconds=3.0):
    """Return short pulses with these intervals and heights, through one broad resonance."""
    fine = np.zeros(round(seconds * RATE * 10))
    at = np.cumsum(lengths_s)
    for time, height in zip(at[at < seconds - 0.01], heights, strict=False):
        fine[round(time * RATE * 10)] = height
    smooth = sosfiltfilt(butter(2, (80, 2500), "bandpass", fs=RATE * 10, output="sos"), fine)
    return smooth[::10].astype(np.float32)


@pytest.mark.parametrize("percent", [0.0, 1.0, 3.0])
def test_jitter_is_the_mean_difference_of_neighbouring_periods(percent):
    rng = np.random.default_rng(2)
    lengths = (1 + percent / 100 * rng.standard_normal(460)) / 150.0
    found = perturbation_of(cycles(lengths, np.ones(460)), pitch_hz=150.0)
    true = 100 * np.mean(np.abs(np.diff(lengths))) / np.mean(lengths)
    assert found.jitter_percent == pytest.approx(true, rel=0.15, abs=0.15)


@pytest.mark.parametrize("percent", [0.0, 4.0, 8.0])
def test_shimmer_is_the_mean_difference_of_neighbouring_amplitudes(percent):
    rng = np.random.default_rng(3)
    heights = 1 + percent / 100 * rng.standard_normal(460)
    found = perturbation_of(cycles(np.full(460, 1 / 150), heights), pitch_hz=150.0)
    true = 100 * np.mean(np.abs(np.diff(heights))) / np.mean(heights)
    assert found.shimmer_percent == pytest.approx(true, rel=0.25, abs=0.6)


#: Values of the program in common use (cross-correlation, one period per window): Hz, noise, ratio
#: in dB.
READ_ELSEWHERE = [
    (110, 0.3, 9.9), (110, 1.0, 2.1), (160, 0.3, 11.3), (160, 1.0, 3.2), (220, 0.3, 11.5),
    (220, 1.0, 3.7), (300, 0.3, 15.0), (300, 1.0, 6.8),
]  # fmt: skip


@pytest.mark.parametrize(("hz", "noise", "read_db"), READ_ELSEWHERE)
def test_harmonics_to_noise_is_what_the_common_program_reads(hz, noise, read_db):
    found = perturbation_of(pulses(hz, noise), pitch_hz=hz)
    assert found.hnr_db == pytest.approx(read_db, abs=2.5)


def test_noise_takes_from_the_ratio_and_adds_to_both_others():
    found = [perturbation_of(pulses(160, noise), pitch_hz=160.0) for noise in (0.02, 0.3, 1.0)]
    for figure, way in (("hnr_db", -1), ("jitter_percent", 1), ("shimmer_percent", 1)):
        values = [way * getattr(each, figure) for each in found]
        assert values == sorted(values)


def test_too_few_periods_or_no_pitch_give_no_figures():
    assert isnan(perturbation_of(pulses(160, 0.1)[:1600], pitch_hz=160.0).hnr_db)
    assert isnan(perturbation_of(pulses(160, 0.1), pitch_hz=float("nan")).jitter_percent)


def test_the_average_spectrum_of_coloured_noise_has_its_tilt():
    white = np.random.default_rng(4).standard_normal(4 * RATE)
    shape = np.fft.rfft(white) / np.maximum(np.fft.rfftfreq(white.size, 1 / RATE), 30.0)
    pink = np.fft.irfft(shape).astype(np.float32)  # 6 dB per octave.
    found = long_term_spectrum(pink)
    assert found.tilt_db_per_octave == pytest.approx(-6.0, abs=0.2)
    # The energy of 1/f² between two frequencies is the difference of their reciprocals.
    alpha = 10 * np.log10((1 / 1000 - 1 / 5000) / (1 / 50 - 1 / 1000))
    assert found.alpha_db == pytest.approx(alpha, abs=1.5)
    flat = long_term_spectrum(white.astype(np.float32))
    assert flat.slope_db == pytest.approx(0.0, abs=0.3)
    assert isnan(long_term_spectrum(pink[:500]).alpha_db)


def test_speech_has_its_syllables_and_the_share_that_is_voiced():
    rng = np.random.default_rng(11)
    lines = talk(120.0, 8.0, rng=rng, pauses=PAUSES)
    syllables = 4.0  # One second.
    swell = 0.25 + 0.75 * np.sin(np.pi * syllables * np.arange(len(lines)) / source.RATE) ** 2
    speech = analyse_speech(lines * swell, rng=rng).speech
    assert speech.syllables_per_s == pytest.approx(syllables, rel=0.15)
    spoken = 8.0 - sum(end - start for start, end in PAUSES)
    assert speech.phonation_ratio == pytest.approx(spoken / 8.0, rel=0.1)
    assert 5.0 < speech.cpps_db < 30.0


def test_a_trill_has_none_of_them():
    rng = np.random.default_rng(5)
    sound = source.voice(source.steady(4.0, 180.0, rng=rng), source.mouth("oo"), rng=rng)
    chopped = sound * (0.55 + 0.45 * np.sin(2 * np.pi * 24 * np.arange(len(sound)) / source.RATE))
    (hold,) = analyse(0.1 * np.pad(chopped, source.RATE), source.RATE, task=TakeKind.HOLD).holds
    assert isnan(hold.perturbation.jitter_percent)
    assert isnan(hold.perturbation.hnr_db)
