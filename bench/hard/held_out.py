"""Families of recordings from held-out sources (:mod:`.held_out_sources`)."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from pathlib import Path

import numpy as np

from reedcore.acoustics import TakeKind

from . import elsewhere, rooms
from .case import HardRecording, Truth, rng_of
from .held_out_sources import (
    sustain_vowel,
    synthesise_instrument,
    synthesise_speech,
    synthesise_vowel,
)
from .source import RATE

PITCHES = (82.0, 110.0, 165.0, 220.0, 330.0, 494.0, 698.0, 988.0)
PLACES = ("quiet", "fan", "echo", "soft")
HTS = Path("/usr/share/festival/voices/us/cmu_us_slt_arctic_hts")
LINES = (
    "Every morning the boats go out before the sun is over the hill.",
    "She wrote a letter to her sister, and put it under the door.",
    "There are nine apples on the table, and one of them is mine.",
    "We would rather wait until the rain is over.",
    "My uncle mends the nets while he is listening to the radio.",
    "Will you come along with us on Monday?",
)


def cases() -> list[HardRecording]:
    """Yield all cases whose programs are installed."""
    return [*_waves(), *_wave_glides(), *_models(), *_peoples_vowels(), *_statistical()]


def _place(sound: np.ndarray, place: str, name: str) -> tuple[np.ndarray, int]:
    """Return the sound in one of four places."""
    rng = rng_of(name)
    if place == "echo":
        sound = rooms.add_reverberation(
            np.pad(sound, (0, round(0.6 * RATE))), 0.45, rng=rng, share=0.3
        )
    how = {"quiet": {}, "fan": {"room_dbfs": -50.0}, "echo": {}, "soft": {"dbfs": -36.0}}[place]
    return rooms.scene(sound, rng=rng, **how), RATE


def _waves() -> Iterator[HardRecording]:
    if not elsewhere.there("csound"):
        return
    for at, hz in enumerate(PITCHES):
        for number, vowel in enumerate("aeiou"):
            place = PLACES[(at + number) % 4]
            vibrato = ((5.0, 3.0), (5.5, 60.0), (4.5, 25.0))[(at + 2 * number) % 3]
            name = f"“{vowel}” at {hz:.0f} Hz, vibrato ±{vibrato[1]:.0f} cents, {place}"
            seconds = 3.0 + (at + 3 * number) % 5

            def make(hz=hz, vowel=vowel, place=place, vibrato=vibrato, seconds=seconds, name=name):
                return _place(
                    synthesise_vowel(vowel, hz, seconds, vibrato=vibrato),
                    place,
                    name,
                )

            truth = Truth((seconds,), hz, wet=False)
            yield HardRecording(
                "formant waves", name, make, truth, TakeKind.HOLD, source="formant waves"
            )


def _wave_glides() -> Iterator[HardRecording]:
    if not elsewhere.there("csound"):
        return
    for at, hz in enumerate(PITCHES[1:7], start=1):
        for steps, seconds in ((7, 2.0), (12, 3.0), (-9, 2.5)):
            vowel = "aou"[(at + steps) % 3]
            to_hz = hz * 2 ** (steps / 12)
            name = f"“{vowel}” from {hz:.0f} Hz by {steps:+d} semitones"

            def make(hz=hz, to_hz=to_hz, vowel=vowel, seconds=seconds, name=name):
                return _place(
                    synthesise_vowel(vowel, hz, seconds, to_hz=to_hz),
                    "quiet",
                    name,
                )

            truth = Truth(range_hz=(min(hz, to_hz), max(hz, to_hz)), jumps=0)
            yield HardRecording(
                "wave glides", name, make, truth, TakeKind.GLIDE, source="formant waves"
            )


def _models() -> Iterator[HardRecording]:
    if not elsewhere.there("csound"):
        return
    for model in ("bowed string", "flute"):
        for at, hz in enumerate((131.0, 196.0, 262.0, 392.0, 523.0, 659.0)):
            place, seconds = PLACES[at % 4], 3.0 + at % 3
            name = f"{model}, {hz:.0f} Hz, {place}"

            def make(model=model, hz=hz, seconds=seconds, place=place, name=name):
                return _place(synthesise_instrument(model, hz, seconds), place, name)

            # The flute model is out of tune by up to a whole tone.
            truth = Truth((seconds,), hz if model == "bowed string" else None)
            yield HardRecording(
                "physical models", name, make, truth, TakeKind.HOLD, source="physical models"
            )


def _peoples_vowels() -> Iterator[HardRecording]:
    for at, language in enumerate(elsewhere.languages()):
        for number, hz in enumerate((123.0, 185.0, 277.0)):
            place, seconds = PLACES[(at + number) % 4], 3.0 + (at + number) % 4
            name = f"a word in “{language}”, its vowel at {hz:.0f} Hz, {place}"
            sound = partial(_held_speech, language, 5 + 4 * number, hz, seconds, name)
            if sound() is None:
                continue

            def make(sound=sound, place=place, name=name):
                return _place(sound(), place, name)

            truth = Truth((seconds,), hz, length_s=0.2)
            yield HardRecording(
                "people’s vowels", name, make, truth, TakeKind.HOLD, source="people’s vowels"
            )


def _held_speech(language: str, which: int, hz: float, seconds: float, name: str):
    word = elsewhere._word(elsewhere._words(language)[which])
    return sustain_vowel(word, hz, seconds, rng=rng_of(name))


def _statistical() -> Iterator[HardRecording]:
    if not (elsewhere.there("text2wave") and HTS.is_dir()):
        return
    for at, text in enumerate(LINES):
        for place in PLACES:
            name = f"sentence {at}, {place}"

            def make(text=text, place=place, name=name):
                return _place(synthesise_speech(text), place, name)

            truth = Truth(holds=())
            yield HardRecording(
                "statistical talk", name, make, truth, TakeKind.HOLD, source="statistical"
            )
    for count in (2, 3, 4):
        for place in PLACES:
            name = f"{count} lines, {place}"

            def make(count=count, place=place, name=name):
                rng, parts = rng_of(name), []
                for at in range(count):
                    line = synthesise_speech(LINES[(at + count) % 6].replace(",", ""))
                    loud = np.flatnonzero(np.abs(line) > 0.03 * np.abs(line).max())
                    line = line[loud[0] : loud[-1] + 1]
                    line = line / np.sqrt(np.mean(line**2))
                    parts += [line, np.zeros(round(rng.uniform(0.65, 1.0) * RATE))]
                return _place(np.concatenate(parts[:-1]), place, name)

            truth = Truth(groups=count)
            yield HardRecording(
                "statistical lines", name, make, truth, TakeKind.SPEECH, source="statistical"
            )
