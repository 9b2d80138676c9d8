"""Sounds from programs of Debian's archive: speech synthesisers, a sampler, codecs.

`apt-get install espeak-ng flite festival festvox-kallpc16k fluidsynth fluid-soundfont-gm sox
libsox-fmt-all ktuberling-data` brings them. What is not installed makes no recordings, and the
table says how many were made.
"""

from __future__ import annotations

import io
import shutil
import subprocess
import tempfile
import warnings
from functools import cache
from pathlib import Path

import numpy as np
from mido import Message, MetaMessage, MidiFile, MidiTrack
from scipy.io import wavfile
from scipy.signal import resample_poly

from .source import RATE

FONT = Path("/usr/share/sounds/sf2/FluidR3_GM.sf2")
#: Words recorded by people in many languages for a children's game.
SPOKEN = Path("/usr/share/ktuberling/sounds")


def there(*programs: str) -> bool:
    """Return whether all these programs are installed."""
    return all(shutil.which(each) for each in programs)


def _read(data: bytes) -> np.ndarray:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", wavfile.WavFileWarning)  # A pipe has no true length.
        rate, sound = wavfile.read(io.BytesIO(data))
    sound = sound.astype(float) / (32768.0 if sound.dtype == np.int16 else 1.0)
    if sound.ndim > 1:
        sound = sound.mean(axis=1)
    return resample_poly(sound, RATE, rate) if rate != RATE else sound


def _run(*command: str, given: bytes = b"") -> bytes:
    done = subprocess.run(command, input=given, capture_output=True, check=True, timeout=60)
    return done.stdout


@cache
def espeak(text: str, voice: str, *, pitch: int = 50, speed: int = 160) -> np.ndarray:
    """Return speech of the first synthesiser."""
    with tempfile.NamedTemporaryFile(suffix=".wav") as made:
        _run("espeak-ng", "-v", voice, "-p", str(pitch), "-s", str(speed), "-w", made.name, text)
        return _read(Path(made.name).read_bytes())


@cache
def flite(text: str, voice: str) -> np.ndarray:
    """Return speech of a second synthesiser, from pieces of recorded speech."""
    with tempfile.NamedTemporaryFile(suffix=".wav") as made:
        _run("flite", "-voice", voice, "-t", text, "-o", made.name)
        return _read(Path(made.name).read_bytes())


@cache
def festival(text: str) -> np.ndarray:
    """Return speech of a third, diphone synthesiser."""
    with tempfile.NamedTemporaryFile(suffix=".wav") as made:
        _run("text2wave", "-o", made.name, given=text.encode())
        return _read(Path(made.name).read_bytes())


@cache
def languages() -> tuple[str, ...]:
    """Return the languages of the installed recorded words."""
    if not there("sox") or not SPOKEN.is_dir():
        return ()
    return tuple(sorted(each.name for each in SPOKEN.iterdir() if len(_words(each.name)) > 30))


@cache
def _words(language: str) -> tuple[Path, ...]:
    folder = SPOKEN / language
    return tuple(sorted((*folder.glob("*.ogg"), *folder.glob("*.wav"))))


@cache
def _word(path: Path) -> np.ndarray:
    """Return one word without silence around it, at a common level."""
    sound = _read(_run("sox", str(path), "-t", "wavpcm", "-b", "16", "-r", str(RATE), "-"))
    loud = np.flatnonzero(np.abs(sound) > 0.05 * np.abs(sound).max())
    sound = sound[loud[0] : loud[-1] + 1]
    return 0.2 * sound / np.sqrt(np.mean(sound**2))


def people(language: str, number: int) -> np.ndarray:
    """Return six recorded words of one speaker in a row."""
    rng = np.random.default_rng(number)
    said = rng.choice(len(_words(language)), 6, replace=False)
    parts = []
    for each in said:
        parts += [_word(_words(language)[each]), np.zeros(round(rng.uniform(0.01, 0.09) * RATE))]
    return np.concatenate(parts)


@cache
def sampled_instrument(
    program: int, notes: tuple[tuple[int, float, float], ...], seconds: float
) -> np.ndarray:
    """Return a sampled instrument: (note, start s, length s) each; program 52 sings “ah”."""
    track = MidiTrack(
        [MetaMessage("set_tempo", tempo=500_000), Message("program_change", program=program)]
    )
    events = [(start, "note_on", note) for note, start, _ in notes]
    events += [(start + length, "note_off", note) for note, start, length in notes]
    now = 0
    for when, what, note in sorted(events):
        tick = round(when * 960)
        track.append(Message(what, note=note, velocity=90, time=tick - now))
        now = tick
    song = MidiFile(ticks_per_beat=480)
    song.tracks.append(track)
    with tempfile.TemporaryDirectory() as folder:
        written, made = Path(folder, "a.mid"), Path(folder, "a.wav")
        song.save(written)
        _run(
            "fluidsynth",
            "-ni",
            "-q",
            "-R",
            "0",
            "-C",
            "0",
            "-r",
            str(RATE),
            "-F",
            str(made),
            str(FONT),
            str(written),
        )
        sound = _read(made.read_bytes())
    wanted = round(seconds * RATE)
    return np.pad(sound[:wanted], (0, max(0, wanted - len(sound))))


def through_codec(sound: np.ndarray, form: tuple[str, ...], rate: int) -> tuple[np.ndarray, int]:
    """Return the sound after a codec, as from a telephone or a call."""
    with tempfile.NamedTemporaryFile(suffix=".wav") as plain:
        wavfile.write(plain.name, RATE, (np.clip(sound, -1, 1) * 32767).astype(np.int16))
        packed = _run("sox", plain.name, "-r", str(rate), *form, "-")
        kind = form[form.index("-t") + 1]
        back = _run(
            "sox",
            "-t",
            kind,
            "-",
            "-t",
            "wavpcm",
            "-b",
            "16",
            "-e",
            "signed-integer",
            "-",
            given=packed,
        )
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", wavfile.WavFileWarning)  # A pipe has no true length.
        rate, made = wavfile.read(io.BytesIO(back))
    return made.astype(float) / 32768.0, rate
