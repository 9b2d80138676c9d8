"""Sound sources that the engine was never tuned on, for held-out recordings only.

Formant wave functions and physical models (csound), a statistical voice (festival's HTS), and
vowels that people said in single words, held by laying their own periods one over the other.
"""

from __future__ import annotations

import tempfile
from functools import cache
from pathlib import Path

import numpy as np

from . import elsewhere
from .source import RATE

#: Five formants of each of five vowels for two singers: centre Hz, level dB, width Hz, as commonly
#: given for this kind of synthesis.
BASS = {
    "a": ((600, 0, 60), (1040, -7, 70), (2250, -9, 110), (2450, -9, 120), (2750, -20, 130)),
    "e": ((400, 0, 40), (1620, -12, 80), (2400, -9, 100), (2800, -12, 120), (3100, -18, 120)),
    "i": ((250, 0, 60), (1750, -30, 90), (2600, -16, 100), (3050, -22, 120), (3340, -28, 120)),
    "o": ((400, 0, 40), (750, -11, 80), (2400, -21, 100), (2600, -20, 120), (2900, -40, 120)),
    "u": ((350, 0, 40), (600, -20, 80), (2400, -32, 100), (2675, -28, 120), (2950, -36, 120)),
}
SOPRANO = {
    "a": ((800, 0, 80), (1150, -6, 90), (2900, -32, 120), (3900, -20, 130), (4950, -50, 140)),
    "e": ((350, 0, 60), (2000, -20, 100), (2800, -15, 120), (3600, -40, 150), (4950, -56, 200)),
    "i": ((270, 0, 60), (2140, -12, 90), (2950, -26, 100), (3900, -26, 120), (4950, -44, 120)),
    "o": ((450, 0, 40), (800, -11, 80), (2830, -22, 100), (3800, -22, 120), (4950, -50, 120)),
    "u": ((325, 0, 50), (700, -16, 60), (2700, -35, 170), (3800, -40, 180), (4950, -60, 200)),
}
_HEAD = f"sr = {RATE}\nksmps = 32\nnchnls = 1\n0dbfs = 1\n"
#: Write 16-bit samples and print nothing.
_QUIET = ("-W", "-s", "-d", "-m0", "--logfile=/dev/null")


@cache
def _csound(orchestra: str, score: str) -> np.ndarray:
    with tempfile.TemporaryDirectory() as folder:
        piece, made = Path(folder, "a.csd"), Path(folder, "a.wav")
        piece.write_text(
            f"<CsoundSynthesizer>\n<CsInstruments>\n{_HEAD}{orchestra}\n</CsInstruments>\n"
            f"<CsScore>\n{score}\ne\n</CsScore>\n</CsoundSynthesizer>\n"
        )
        elsewhere._run("csound", *_QUIET, "-o", str(made), str(piece))
        return elsewhere._read(made.read_bytes())


def synthesise_vowel(
    vowel: str,
    hz: float,
    seconds: float,
    *,
    to_hz: float | None = None,
    vibrato: tuple[float, float] = (5.0, 4.0),
    wander_cents: float = 6.0,
) -> np.ndarray:
    """Return a vowel of formant wave functions, on a note or in a straight line of semitones
    between two; ``vibrato`` is its rate in Hz and its extent in cents."""
    formants = (BASS if hz < 250 else SOPRANO)[vowel]
    rate, extent = vibrato
    octaves = np.log2((to_hz or hz) / hz)
    voices = "\n".join(
        f"a{at} fof {10 ** (level / 20):.4f}, kf, {centre}, 0, {width}, "
        "0.003, 0.02, 0.007, 80, 1, 2, p3"
        for at, (centre, level, width) in enumerate(formants)
    )
    orchestra = f"""
instr 1
kline line 0, p3, {octaves:.6f}
kvib oscili {extent / 1200:.6f}, {rate}, 1
kwan randi {wander_cents / 600:.6f}, 2.5, 0.37
kf = {hz} * powoftwo(kline + kvib + kwan)
{voices}
aenv linseg 0, 0.05, 1, p3 - 0.11, 1, 0.06, 0
out ({" + ".join(f"a{at}" for at in range(len(formants)))}) * aenv * 0.1
endin"""
    score = f"f1 0 16384 10 1\nf2 0 1024 19 0.5 0.5 270 0.5\ni1 0 {seconds}"
    return _csound(orchestra, score)


def synthesise_instrument(model: str, hz: float, seconds: float) -> np.ndarray:
    """Return a physical model of a sustained instrument."""
    line = {
        "bowed string": f"a1 wgbow 0.5, {hz}, 3, 0.127, 5, 0.003, 1",
        "flute": f"a1 wgflute 0.5, {hz}, 0.32, 0.05, 0.06, 0.05, 5, 0.01, 1",
    }[model]
    body = f"instr 1\n{line}\naenv linseg 0, 0.05, 1, p3 - 0.11, 1, 0.06, 0\nout a1 * aenv\nendin"
    return _csound(body, f"f1 0 16384 10 1\ni1 0 {seconds}")


@cache
def synthesise_speech(text: str) -> np.ndarray:
    """Return speech from hidden Markov models."""
    with tempfile.NamedTemporaryFile(suffix=".wav") as made:
        voice = "(voice_cmu_us_slt_arctic_hts)"
        elsewhere._run("text2wave", "-eval", voice, "-o", made.name, given=text.encode())
        return elsewhere._read(Path(made.name).read_bytes())


def find_vowel(word: np.ndarray) -> tuple[np.ndarray, float] | None:
    """Return the steadiest 80 ms of a word with its pitch in Hz; None if no part is clear."""
    width, best = round(0.08 * RATE), (0.0, 0, 0.0)
    for first in range(0, len(word) - 2 * width, round(0.02 * RATE)):
        piece = word[first : first + width] * np.hanning(width)
        power = np.abs(np.fft.rfft(piece, 4 * width)) ** 2
        likeness = np.fft.irfft(power)[: round(RATE / 70)]
        likeness /= likeness[0] * (1.0 - np.arange(likeness.size) / width) ** 1.5
        low = round(RATE / 400)
        lag = low + int(np.argmax(likeness[low:]))
        score = float(likeness[lag]) * np.sqrt(np.mean(piece**2))
        if likeness[lag] > 0.85 and score > best[0]:
            best = (score, first, RATE / lag)
    score, first, hz = best
    return (word[first : first + width], hz) if score else None


def _grains(vowel: np.ndarray, period: int) -> list[np.ndarray]:
    """Return two periods around each peak except the first and the last, each where it is most
    similar to the one before."""
    if len(vowel) < 4 * period:
        return []
    at = period + int(np.argmax(np.abs(vowel[period : 2 * period])))
    first = vowel[at - period : at + period]
    grains = []
    while at + period + period // 4 <= len(vowel):
        places = range(max(period, at - period // 4), at + period // 4)
        best = max(places, key=lambda place: float(vowel[place - period : place + period] @ first))
        grains.append(vowel[best - period : best + period] * np.hanning(2 * period))
        at = best + period
    return grains


def sustain_vowel(word: np.ndarray, hz: float, seconds: float, *, rng) -> np.ndarray | None:
    """Return a word's vowel held on a note by overlapping its own periods, no two of them equal."""
    found = find_vowel(word)
    if found is None:
        return None
    vowel, own_hz = found
    period = round(RATE / own_hz)
    grains = _grains(vowel, period)
    if not grains:
        return None
    made, place = np.zeros(round((seconds + 1) * RATE)), float(period)
    slow = np.interp(
        np.linspace(0, 8 * seconds, 2000), np.arange(int(8 * seconds) + 2),
        np.cumsum(rng.normal(0, 3.0, int(8 * seconds) + 2)),
    )  # fmt: skip
    while place < seconds * RATE:
        at = round(place)
        made[at - period : at + period] += grains[rng.integers(len(grains))] * rng.normal(1, 0.02)
        drift = slow[min(int(place / RATE / seconds * 2000), 1999)] - slow.mean()
        place += RATE / (hz * 2 ** (np.clip(drift, -30, 30) / 1200)) * rng.normal(1, 0.003)
    made = made[: round(seconds * RATE)]
    ramp = round(0.05 * RATE)
    made[:ramp] *= np.linspace(0, 1, ramp)
    made[-ramp:] *= np.linspace(1, 0, ramp)
    return made
