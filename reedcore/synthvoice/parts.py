"""The sounds of a simulated recording: the parts of a clip, as plain values."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.errors import ValueOutOfRange

#: Formants of adult vowels: Hz and bandwidth in Hz (J Acoust Soc Am 1952;24:175–184).
VOWELS: dict[str, tuple[tuple[float, float], ...]] = {
    "ah": ((730, 80), (1090, 90), (2440, 120), (3400, 180)),
    "oh": ((500, 70), (850, 80), (2410, 120), (3300, 180)),
    "oo": ((320, 60), (870, 80), (2240, 120), (3300, 180)),
    "ee": ((290, 60), (2250, 100), (3000, 150), (3700, 200)),
}


@dataclass(frozen=True, slots=True)
class VoicedPart:
    """A held or gliding vowel.

    Attributes:
        seconds: from the first to the last instant of voice.
        pitch_hz: one value, or (second, Hz) points joined by straight lines in semitones.
        level_dbfs: RMS level of the whole, breaks aside.
        drift_cents: how far the pitch glides on top of that, evenly, from start to end.
        scoop_cents: how far off it starts before settling within half a second.
        vibrato_cents, vibrato_hz: a regular waver, half peak to peak.
        tremor_cents, tremor_db, tremor_hz: the same of pitch and level together.
        jitter_cents: SD of a slow random walk about the pitch.
        cycle_jitter: SD of each cycle's length as a share of it (0.005 healthy, 0.04 rough).
        shimmer_db: SD of each cycle's strength.
        flutter_hz, flutter_db: how fast and how deep lips, tongue or water chop the sound.
        fall_db: how much softer the end is than the start, evenly.
        swell_db: how much louder the middle is than both ends.
        trail_s: how long it takes to trail off to nothing at the end, out of ``seconds``.
        breaks: (seconds after the start, length) of silences inside.
        attack_s: how fast it starts.
        breathiness_db: noise through the vowel, relative to the voice.
        overtone_db: how much stronger the second harmonic is than the source makes it.
    """

    seconds: float
    pitch_hz: float | tuple[tuple[float, float], ...]
    vowel: str = "oh"
    level_dbfs: float = -20.0
    drift_cents: float = 0.0
    scoop_cents: float = 0.0
    vibrato_cents: float = 0.0
    vibrato_hz: float = 5.5
    tremor_cents: float = 0.0
    tremor_db: float = 0.0
    tremor_hz: float = 5.0
    jitter_cents: float = 4.0
    cycle_jitter: float = 0.003
    shimmer_db: float = 0.15
    flutter_hz: float = 0.0
    flutter_db: float = 14.0
    fall_db: float = 0.0
    swell_db: float = 0.0
    trail_s: float = 0.0
    breaks: tuple[tuple[float, float], ...] = ()
    attack_s: float = 0.04
    breathiness_db: float = -32.0
    overtone_db: float = 0.0


@dataclass(frozen=True, slots=True)
class Hiss:
    """A steady /s/, or with ``flutter_hz`` a voiceless trill or bubbles (then low in pitch)."""

    seconds: float
    level_dbfs: float = -30.0
    fall_db: float = 0.0
    flutter_hz: float = 0.0
    flutter_db: float = 14.0


@dataclass(frozen=True, slots=True)
class Silence:
    """Only the room."""

    seconds: float


@dataclass(frozen=True, slots=True)
class BreathIn:
    """Rushing air."""

    seconds: float = 0.6
    level_dbfs: float = -42.0


@dataclass(frozen=True, slots=True)
class Cough:
    """A burst of noise with a tail."""

    seconds: float = 0.35
    level_dbfs: float = -16.0


@dataclass(frozen=True, slots=True)
class Tone:
    """The reference note out of a loudspeaker: harmonics, dead steady."""

    seconds: float
    pitch_hz: float
    level_dbfs: float = -34.0


@dataclass(frozen=True, slots=True)
class Talk:
    """Syllables: short vowels of moving pitch, with consonants and pauses between them."""

    seconds: float
    pitch_hz: float = 120.0
    level_dbfs: float = -24.0


Part = VoicedPart | Hiss | Silence | BreathIn | Cough | Tone | Talk


@dataclass(frozen=True, slots=True)
class Room:
    """The constant background of a clip.

    Attributes:
        noise_dbfs: level of the noise.
        tilt_db: fall of its spectrum per octave above 100 Hz (0 a hiss, 5 a fan).
        hum_hz, hum_dbfs: mains hum with its harmonics.
        gain_db: on everything; what then passes full scale is clipped.
    """

    noise_dbfs: float = -66.0
    tilt_db: float = 0.0
    hum_hz: float = 0.0
    hum_dbfs: float = -60.0
    gain_db: float = 0.0


def check_part(part: Part) -> None:
    """Check that a voice can have the length, pitch and vowel of a part.

    Raises:
        ValueOutOfRange: a length, pitch or vowel that no voice has.
    """
    if not 0.0 <= part.seconds <= 600.0:
        raise ValueOutOfRange(what="seconds", value=part.seconds, lowest=0.0, highest=600.0)
    if isinstance(part, VoicedPart):
        if part.vowel not in VOWELS:
            raise ValueOutOfRange(what="vowel", value=part.vowel, lowest=None, highest=None)
        if part.seconds < 0.05:
            raise ValueOutOfRange(what="seconds", value=part.seconds, lowest=0.05, highest=600.0)
    for hz in pitch_values(part):
        if not 40.0 <= hz <= 1500.0:
            raise ValueOutOfRange(what="pitch in Hz", value=hz, lowest=40.0, highest=1500.0)


def pitch_values(part: Part) -> tuple[float, ...]:
    """Return the pitches of a part, empty for a part without."""
    pitch = getattr(part, "pitch_hz", ())
    return tuple(hz for _, hz in pitch) if isinstance(pitch, tuple) else (pitch,)
