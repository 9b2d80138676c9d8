"""The uses that a recording is good enough for."""

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from bench.hard import rooms, source
from reedcore.acoustics import QualityReason, TakeKind, analyse
from reedcore.formats.analysis_json import analysis_values
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from tests.core.sounds import RATE, held


def noise_below(snr_db, level=0.2):
    """Return noise at this distance below a buzz."""
    buzz_rms = level * np.sqrt(sum(1 / n**2 for n in range(1, 13)) / 2)
    return buzz_rms / 10 ** (snr_db / 20)


@pytest.mark.parametrize(
    ("snr_db", "reason"),
    [
        (40, None),
        (24, None),
        (16, QualityReason.ROOM_TOO_LOUD_FOR_SPREAD),
        (7, QualityReason.ROOM_TOO_LOUD_FOR_LEVEL),
    ],
)
def test_the_gates_stand_at_20_and_10_decibels(snr_db, reason):
    quality = analyse(held(200.0, 3.0, noise=noise_below(snr_db)), RATE).quality
    assert quality.snr_db == pytest.approx(snr_db, abs=1.0)
    gates = {r for r in quality.reasons if r.value.startswith("room_too")}
    assert gates == ({reason} if reason else set())
    assert quality.spread_judged == (snr_db >= 20)
    assert quality.level_judged == (snr_db >= 10)


def test_clipping_is_noticed_and_level_not_judged():
    quality = analyse(np.clip(held(200.0, 2.0, level=1.5), -1, 1), RATE).quality
    assert QualityReason.CLIPPED in quality.reasons
    assert quality.clipped_fraction > 0.01
    assert not quality.level_judged


def test_a_room_without_a_recording_is_unknown():
    quality = analyse(held(200.0, 3.0, before=0.05, after=0.05), RATE).quality
    assert np.isnan(quality.snr_db)
    assert QualityReason.ROOM_NOT_HEARD in quality.reasons


def test_a_line_without_highs_is_named():
    narrow = analyse(held(200.0, 2.0, rate=8_000), 8_000).quality
    wide = analyse(held(200.0, 2.0, rate=48_000), 48_000).quality
    assert QualityReason.NARROW_BAND in narrow.reasons
    assert QualityReason.NARROW_BAND not in wide.reasons


def test_sound_that_the_browser_changed_has_no_level():
    quality = analyse(held(200.0, 2.0), RATE, is_processed=True).quality
    assert not quality.level_judged
    assert quality.spread_judged


def breathy(under_db):
    """Return a voice whose breath noise varies with it."""
    voice = held(147.0, 4.0)
    noise = np.random.default_rng(2).standard_normal(voice.size)
    noise = sosfilt(butter(2, (60, 1500), "bandpass", fs=RATE, output="sos"), noise)
    noise *= np.std(voice[RATE : 3 * RATE]) * 10 ** (-under_db / 20) / np.std(noise)
    noise[: round(0.8 * RATE)] = noise[-round(0.8 * RATE) :] = 0.0
    return voice + noise


@pytest.mark.parametrize(("under_db", "judged"), [(14.0, True), (5.0, False)])
def test_a_voice_full_of_breath_has_no_spread_but_a_cepstrum(under_db, judged):
    analysis = analyse(breathy(under_db), RATE, task=TakeKind.HOLD)
    assert analysis.quality.spread_judged == judged
    assert analysis.quality.voice_judged
    assert (QualityReason.BREATH_TOO_LOUD_FOR_SPREAD in analysis.quality.reasons) != judged
    (told,) = analysis_values(analysis, file="x")["holds"]
    assert (told["f0_sd_cents"] is not None) == judged
    assert told["cpps_db"] is not None


def test_the_steadiness_of_a_breathy_glide_is_not_reported():
    quality = analyse(breathy(5.0), RATE, task=TakeKind.GLIDE).quality
    assert quality.voice_judged
    assert QualityReason.BREATH_TOO_LOUD_FOR_SPREAD not in quality.reasons


@pytest.mark.parametrize("breath_db", [-34.0, -6.0])
def test_a_spread_that_is_mostly_lip_noise_is_not_reported(breath_db):
    """A /v/: noise of the lips with a voice as steady as one without."""
    rng = np.random.default_rng(5)
    sound = source.voice(
        source.steady(6.0, 130.0, rng=rng), source.mouth("oo"), rng=rng, breath_db=-40.0
    )
    noise = sosfilt(
        butter(2, (300, 2500), "bandpass", fs=source.RATE, output="sos"),
        rng.standard_normal(sound.size),
    )
    noise *= 10 ** (breath_db / 20) / np.sqrt(np.mean(noise**2))
    analysis = analyse(rooms.scene(sound + noise, rng=rng), source.RATE)
    assert analysis.quality.spread_judged == (breath_db < -30.0)
    if not analysis.quality.spread_judged:
        assert analysis.holds[0].pitch.spread_cents > 12.0  # It would have been reported.


def test_a_vibrato_is_not_taken_for_noise():
    clip = speak(
        HeldVoice(VoicedPart(6.0, 220.0, vibrato_cents=60.0, vibrato_hz=5.5)), rate_hz=44_100
    )
    analysis = analyse(clip.samples, 44_100)
    assert analysis.quality.spread_judged
    assert analysis.holds[0].pitch.spread_cents == pytest.approx(60 / np.sqrt(2), rel=0.2)
