"""Each part's sound: source and filter.

The source is a pulse-like period of harmonics read off along a phase, so that pitch is known at
every sample; the filter a cascade of two-pole resonators (J Acoust Soc Am 1980;67:971–995).

scipy.signal is imported where a sound is made: it takes a fifth of the time that a process of the
site takes to start, and most processes make none.
"""

from __future__ import annotations

from math import pi

import numpy as np
from numpy.typing import NDArray

from .parts import VOWELS, BreathIn, Cough, Hiss, Part, Silence, Talk, Tone, VoicedPart

Array = NDArray[np.float64]

#: Slope of the source harmonics, dB per octave.
SOURCE_TILT_DB = 12.0
RELEASE_S = 0.05
#: Points per period: linear interpolation then adds about −80 dB.
_PERIOD_POINTS = 8192


def sound_of(part: Part, rate_hz: int, rng: np.random.Generator) -> tuple[Array, Array]:
    """Return the samples of a part, and the pitch at each (NaN without one)."""
    count = round(part.seconds * rate_hz)
    no_pitch = np.full(count, np.nan)
    if isinstance(part, VoicedPart):
        return render_vowel(part, rate_hz, rng)
    if isinstance(part, Silence) or count == 0:
        return np.zeros(count), no_pitch
    if isinstance(part, Tone):
        return _tone(part, count, rate_hz), no_pitch
    if isinstance(part, Hiss):
        return _hiss(part, count, rate_hz, rng), no_pitch
    if isinstance(part, Talk):
        return _talk(part, count, rate_hz, rng), no_pitch
    return _burst(part, count, rng), no_pitch


def render_vowel(part: VoicedPart, rate_hz: int, rng: np.random.Generator) -> tuple[Array, Array]:
    """Return a vowel's samples and its pitch."""
    count = round(part.seconds * rate_hz)
    t = np.arange(count) / rate_hz
    pitch = _pitch(part, t, rng)
    phase = np.cumsum(pitch) / rate_hz
    if part.cycle_jitter or part.shimmer_db:
        phase, strength = _perturb_cycles(part, phase, rng)
    else:
        strength = np.ones(count)
    source = _read_period(phase, float(np.max(pitch)), rate_hz, part.overtone_db) * strength
    voice = _through_vowel(source, part.vowel, rate_hz)
    air = _through_vowel(rng.normal(size=count), part.vowel, rate_hz)
    air *= rms(voice) / rms(air) * 10 ** (part.breathiness_db / 20)
    sound = (voice + air) / rms(voice)
    if rms(pitch - pitch.mean()) > 0.1 * pitch.mean():
        sound = _equalise_level(
            sound, rate_hz
        )  # A glide through the formants would swell and fade.
    envelope = _envelope(part, t)
    sounding = envelope > 1e-3
    sound *= envelope
    level = np.sqrt(np.mean(sound[sounding] ** 2)) if sounding.any() else 1.0
    return sound * rms_of_level(part.level_dbfs) / level, pitch


def _pitch(part: VoicedPart, t: Array, rng: np.random.Generator) -> Array:
    if isinstance(part.pitch_hz, tuple):
        at, hz = (np.array(values) for values in zip(*part.pitch_hz, strict=True))
        base = 2 ** np.interp(t, at, np.log2(hz))
    else:
        base = np.full(t.size, part.pitch_hz)
    length = max(float(t[-1]), 1e-9)
    cents = part.drift_cents * t / length + part.scoop_cents * np.exp(-t / 0.15)
    cents += part.vibrato_cents * np.sin(2 * pi * part.vibrato_hz * t)
    cents += part.tremor_cents * np.sin(2 * pi * part.tremor_hz * t)
    if part.jitter_cents:
        from scipy.signal import lfilter

        # A random walk with a pull to the note, one step every 10 ms, linearly interpolated.
        walk = lfilter([1.0], [1.0, -0.9], rng.normal(size=max(2, round(part.seconds * 100))))
        walk *= part.jitter_cents / max(float(np.std(walk)), 1e-9)
        cents += np.interp(t, np.linspace(0, length, walk.size), walk)
    return np.asarray(base * 2 ** (cents / 1200))


def _perturb_cycles(
    part: VoicedPart, phase: Array, rng: np.random.Generator
) -> tuple[Array, Array]:
    """Return the phase with every cycle a little too long or short, and each cycle's strength."""
    cycles = int(phase[-1]) + 3
    edges = np.arange(cycles) + np.cumsum(rng.normal(0, part.cycle_jitter, cycles))
    edges -= np.linspace(0, edges[-1] - (cycles - 1), cycles)  # No drift from the note.
    strengths = 10 ** (rng.normal(0, part.shimmer_db, cycles) / 20)
    moved = np.interp(phase, edges, np.arange(cycles))
    return moved, np.interp(phase, np.arange(cycles), strengths)


def _read_period(phase: Array, highest_hz: float, rate_hz: int, overtone_db: float) -> Array:
    harmonics = max(1, min(40, int(0.45 * rate_hz / highest_hz)))
    turn = np.linspace(0.0, 2 * pi, _PERIOD_POINTS + 1)
    period = np.zeros(turn.size)
    for harmonic in range(1, harmonics + 1):
        gain_db = -SOURCE_TILT_DB * np.log2(harmonic) + (overtone_db if harmonic == 2 else 0.0)
        period += 10 ** (gain_db / 20) * np.sin(harmonic * turn + 0.7 * harmonic**2)
    return np.interp((phase % 1.0) * _PERIOD_POINTS, np.arange(turn.size), period)


def _through_vowel(sound: Array, vowel: str, rate_hz: int) -> Array:
    from scipy.signal import lfilter

    for centre_hz, width_hz in VOWELS[vowel]:
        if centre_hz < 0.45 * rate_hz:
            radius = np.exp(-pi * width_hz / rate_hz)
            back = [1.0, -2 * radius * np.cos(2 * pi * centre_hz / rate_hz), radius**2]
            sound = lfilter([sum(back)], back, sound)
    return np.asarray(sound)


def _equalise_level(sound: Array, rate_hz: int) -> Array:
    window = max(1, round(0.05 * rate_hz))
    power = np.convolve(sound**2, np.ones(window) / window, mode="same")
    return np.asarray(sound / np.sqrt(np.maximum(power, 1e-6)))


def _envelope(part: VoicedPart, t: Array) -> Array:
    length = max(float(t[-1]), 1e-9)
    place = t / length
    level_db = -part.fall_db * (place - 0.5) - part.swell_db * np.abs(2 * place - 1)
    level_db += part.tremor_db * np.sin(2 * pi * part.tremor_hz * t)
    shape = 10 ** (level_db / 20)
    shape *= np.clip(t / max(part.attack_s, 1e-4), 0, 1)
    shape *= np.clip((length - t) / RELEASE_S, 0, 1)
    if part.trail_s:
        # 50 dB down at the end: inaudible in any room.
        shape *= 10 ** (-50 / 20 * np.clip((t - (length - part.trail_s)) / part.trail_s, 0, 1))
    if part.flutter_hz:
        shape *= _flutter(t, part.flutter_hz, part.flutter_db)
    for at, seconds in part.breaks:
        edge = 0.008
        gap = np.clip((t - at) / edge, 0, 1) * np.clip((at + seconds - t) / edge, 0, 1)
        shape *= 1 - gap
    return np.asarray(shape)


def _flutter(t: Array, hz: float, depth_db: float) -> Array:
    return np.asarray(10 ** (-depth_db / 2 * (1 + np.cos(2 * pi * hz * t)) / 20))


def _tone(part: Tone, count: int, rate_hz: int) -> Array:
    t = np.arange(count) / rate_hz
    sound = np.zeros(count)
    for n in range(1, 9):
        if n * part.pitch_hz < 0.45 * rate_hz:
            sound += np.sin(2 * pi * n * part.pitch_hz * t) / n
    sound *= np.clip(np.minimum(t, t[-1] - t) / 0.08, 0, 1)
    return sound * rms_of_level(part.level_dbfs) / rms(sound)


def _hiss(part: Hiss, count: int, rate_hz: int, rng: np.random.Generator) -> Array:
    from scipy.signal import butter, sosfilt

    t = np.arange(count) / rate_hz
    if part.flutter_hz:
        band = butter(2, [120, 700], "bandpass", fs=rate_hz, output="sos")
    elif rate_hz >= 12_000:
        band = butter(4, [4000, min(9000, 0.45 * rate_hz)], "bandpass", fs=rate_hz, output="sos")
    else:
        band = butter(4, 0.3 * rate_hz, "highpass", fs=rate_hz, output="sos")
    sound = sosfilt(band, rng.normal(size=count))
    sound *= 10 ** (-part.fall_db * (t / max(t[-1], 1e-9) - 0.5) / 20)
    if part.flutter_hz:
        sound *= _flutter(t, part.flutter_hz, part.flutter_db)
    sound *= np.clip(np.minimum(t / 0.03, (t[-1] - t) / 0.03), 0, 1)
    return np.asarray(sound * rms_of_level(part.level_dbfs) / rms(sound))


def _burst(part: BreathIn | Cough, count: int, rng: np.random.Generator) -> Array:
    place = np.linspace(0, 1, count)
    from scipy.signal import lfilter

    sound = lfilter([1.0, -0.7], [1.0], rng.normal(size=count))
    sound *= np.sin(pi * place) ** 2 if isinstance(part, BreathIn) else np.exp(-4 * place)
    return np.asarray(sound * rms_of_level(part.level_dbfs) / rms(sound))


def _talk(part: Talk, count: int, rate_hz: int, rng: np.random.Generator) -> Array:
    """Return about four syllables a second in phrases, each with another vowel and pitch."""
    sound = np.zeros(count)
    at = 0
    vowels = tuple(VOWELS)
    while at < count:
        length = rng.uniform(0.10, 0.24)
        start_hz = part.pitch_hz * 2 ** (rng.uniform(-5, 5) / 12)
        end_hz = start_hz * 2 ** (rng.uniform(-4, 2) / 12)
        syllable = VoicedPart(
            length,
            ((0.0, start_hz), (length, end_hz)),
            vowel=vowels[rng.integers(len(vowels))],
            level_dbfs=part.level_dbfs + rng.uniform(-6, 3),
        )
        samples, _ = render_vowel(syllable, rate_hz, rng)
        samples = samples[: count - at]
        sound[at : at + samples.size] += samples
        at += samples.size
        pause = rng.uniform(0.3, 0.6) if rng.random() < 0.15 else rng.uniform(0.04, 0.12)
        if rng.random() < 0.4 and at < count:
            hiss = _hiss(
                Hiss(pause, level_dbfs=part.level_dbfs - 14), round(pause * rate_hz), rate_hz, rng
            )[: count - at]
            sound[at : at + hiss.size] += hiss
        at += round(pause * rate_hz)
    return sound


def rms(sound: Array) -> float:
    """Return the root mean square; 1 for silence, so that it can be a divisor."""
    return float(np.sqrt(np.mean(sound**2))) or 1.0


def rms_of_level(level_dbfs: float) -> float:
    """Return the RMS of a level, 0 dBFS being a full-scale sine."""
    return float(10 ** (level_dbfs / 20) / np.sqrt(2))
