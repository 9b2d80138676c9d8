"""Impossible pieces of sound: no measure fails on them."""

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.acoustics.holds.breaks import breaks_of
from reedcore.acoustics.holds.measures import find_hisses
from reedcore.acoustics.moves.bubbles import breaks_and_chop
from reedcore.acoustics.moves.flutter import flutter_of
from reedcore.acoustics.moves.glide import glide_of
from reedcore.acoustics.track.frames import Frames
from reedcore.acoustics.voice import steadiness
from reedcore.acoustics.voice.levels import end_uncertainty_s, level_figures, level_shape
from reedcore.acoustics.voice.steadiness import on_pitch_share, pitch_figures, steady_seconds
from reedcore.acoustics.voice.tremor import tremor_of

MEASURES = {
    "breaks of a low voice": lambda part: breaks_of(part, start_s=0.0, median_hz=70.0),
    "breaks of a high voice": lambda part: breaks_of(part, start_s=0.0, median_hz=300.0),
    "breaks, no pitch known": lambda part: breaks_of(part, start_s=0.0, median_hz=float("nan")),
    "pitch": pitch_figures,
    "share on pitch": lambda part: on_pitch_share(part, target_hz=220.0, window_cents=50.0),
    "steady seconds": steady_seconds,
    "steady seconds of a hiss": lambda part: steady_seconds(part, is_pitched=False),
    "level": level_figures,
    "level shape": level_shape,
    "tremor": tremor_of,
    "flutter": flutter_of,
    "glide": glide_of,
    "breaks and what chops": lambda part: breaks_and_chop(part, start=0, median_hz=220.0),
    "hiss": find_hisses,
    "end": lambda part: end_uncertainty_s(part, len(part)),
}


@st.composite
def pieces(draw):
    """Generate zero frames to a second: pitched, unpitched or both; loud, silent or both."""
    count = draw(st.sampled_from([0, 1, 2, 3, 4, 5, 12, 30, 60, 100]))
    pitch = {
        "none": np.full(count, np.nan),
        "all": np.full(count, draw(st.sampled_from([50.0, 110.0, 440.0, 1300.0]))),
        "now and then": np.where(np.arange(count) % 3 == 0, 200.0, np.nan),
    }[draw(st.sampled_from(["none", "all", "now and then"]))]
    level = {
        "silent": np.zeros((count, 2)),
        "even": np.full((count, 2), 0.01),
        "on and off": np.where(np.arange(count)[:, None] % 2 == 0, 0.01, 0.0) * np.ones((count, 2)),
        "fading": np.geomspace(0.1, 1e-9, max(1, count))[:count, None] * np.ones((count, 2)),
    }[draw(st.sampled_from(["silent", "even", "on and off", "fading"]))]
    share = np.full(count, draw(st.sampled_from([0.0, 0.9])))
    return Frames(
        pitch_hz=pitch, strength=np.where(np.isnan(pitch), 0.0, 0.9), energy=level,
        voice_band=level.copy(), hiss_share=share, top_share=share, clipped=np.zeros(count),
        bands=np.outer(level.mean(axis=1), np.geomspace(1.0, draw(st.sampled_from([0.01, 1.0])), 6)),
    )  # fmt: skip


@pytest.mark.parametrize("name", MEASURES)
def test_no_measure_fails(name):
    @given(pieces())
    def holds_of(part):
        with warnings.catch_warnings():
            # The mean of nothing is NaN, with a reason.
            warnings.simplefilter("ignore", RuntimeWarning)
            MEASURES[name](part)

    holds_of()


@given(st.lists(st.sampled_from([0.0, 30.0, 60.0, 120.0, np.nan]), min_size=1, max_size=90))
def test_the_median_so_far_is_the_median_of_what_was_so_far(values):
    running = np.repeat(np.array(values), 3)
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(steadiness, "_running_median", lambda values: values)
        strayed = steadiness._strays(running, 50.0)
    away = 0
    for at in np.flatnonzero(np.isfinite(running)):
        so_far = running[: at + 1]
        assert strayed[at] == (abs(running[at] - np.nanmedian(so_far)) > 50.0)
        away = (away if at and strayed[at - 1] else 0) + 1 if strayed[at] else 0
        if away >= 30:
            break


@st.composite
def melodies(draw):
    """Generate two seconds of jumping pitches, with gaps of a few frames anywhere."""
    notes = draw(
        st.lists(st.sampled_from([110.0, 147.0, 220.0, 330.0, 440.0]), min_size=2, max_size=6)
    )
    pitch = np.repeat(notes, 200 // len(notes))
    for at in draw(st.lists(st.integers(0, len(pitch) - 8), max_size=12)):
        pitch[at : at + draw(st.integers(1, 7))] = np.nan
    level = np.full((len(pitch), 2), 0.01)
    zeros = np.zeros(len(pitch))
    bands = np.outer(np.ones(len(pitch)), np.geomspace(1.0, 0.01, 6))
    return Frames(
        pitch_hz=pitch, strength=np.where(np.isnan(pitch), 0.0, 0.9), energy=level,
        voice_band=level.copy(), hiss_share=zeros, top_share=zeros, clipped=zeros, bands=bands,
    )  # fmt: skip


@given(melodies())
def test_a_jump_is_reported_with_its_pitch_wherever_the_voice_was_lost(part):
    found = glide_of(part)
    for jump in found.jumps if found else ():
        assert np.isfinite(jump.hz)
        assert np.isfinite(jump.semitones)
