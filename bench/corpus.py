"""Conditions times voices: every clip with its true figures.

A condition is what happens; a voice is who it happens to. Truth is the simulated voice's own.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from zlib import crc32

from reedcore.acoustics import TakeKind
from reedcore.synthvoice import (
    BreathIn,
    Clip,
    Cough,
    Hiss,
    Part,
    Room,
    Silence,
    Talk,
    Tone,
    VoicedPart,
    render,
)


@dataclass(frozen=True)
class Speaker:
    """A speaker: comfortable pitch, vowel, and quality of the source."""

    name: str
    pitch_hz: float
    vowel: str
    cycle_jitter: float
    shimmer_db: float
    breathiness_db: float

    def says(self, seconds: float = 5.0, **changes: object) -> VoicedPart:
        """Return a hold of this speaker."""
        own = VoicedPart(
            seconds,
            self.pitch_hz,
            vowel=self.vowel,
            cycle_jitter=self.cycle_jitter,
            shimmer_db=self.shimmer_db,
            breathiness_db=self.breathiness_db,
        )
        return replace(own, **changes)


SPEAKERS = (
    Speaker("bass", 104.0, "oh", 0.004, 0.2, -30.0),
    Speaker("tenor", 172.0, "ah", 0.003, 0.15, -34.0),
    Speaker("treble", 330.0, "ee", 0.005, 0.25, -28.0),
)


@dataclass(frozen=True)
class Case:
    """One clip and how strictly it is judged.

    Attributes:
        noisy: the wider limits apply (noise, trills, fading).
        task: what the analyser is told.
        tone: when the application's own note sounded, if it tells.
    """

    name: str
    clip: Clip
    noisy: bool = False
    task: TakeKind | None = None
    tone: tuple[float, float] | None = None


LEAD, TAIL = Silence(1.1), Silence(1.0)


def _voices(who: Speaker) -> dict[str, VoicedPart]:
    """Yield conditions of the hold itself, in a quiet room."""
    f = who.pitch_hz
    return {
        "even": who.says(),
        "2 seconds": who.says(2.0),
        "12 seconds": who.says(12.0),
        "a fifth lower": who.says(pitch_hz=f / 1.5),
        "a fifth higher": who.says(pitch_hz=f * 1.5),
        "an octave higher": who.says(pitch_hz=f * 2),
        "soft": who.says(level_dbfs=-44.0),
        "strong": who.says(level_dbfs=-9.0),
        "on oo": who.says(vowel="oo"),
        "on ah": who.says(vowel="ah"),
        "on ee": who.says(vowel="ee"),
        "sagging": who.says(8.0, drift_cents=-70.0),
        "rising": who.says(8.0, drift_cents=90.0),
        "scooping": who.says(scoop_cents=-300.0),
        "vibrato": who.says(vibrato_cents=60.0),
        "tremor of 5 Hz": who.says(8.0, tremor_cents=200.0, tremor_db=6.0),
        "tremor of 8 Hz": who.says(8.0, tremor_cents=60.0, tremor_db=3.0, tremor_hz=8.0),
        "tremor of level": who.says(8.0, tremor_db=5.0),
        "fading by 8 dB": who.says(8.0, fall_db=8.0),
        "fading by 16 dB": who.says(8.0, fall_db=16.0),
        "growing by 8 dB": who.says(8.0, fall_db=-8.0),
        "swelling": who.says(8.0, swell_db=10.0),
        "a break": who.says(breaks=((2.0, 0.10),)),
        "a short break": who.says(breaks=((2.5, 0.06),)),
        "a long break": who.says(breaks=((2.5, 0.30),)),
        "three breaks": who.says(8.0, breaks=((1.6, 0.08), (3.4, 0.15), (6.0, 0.25))),
        "breathy": who.says(breathiness_db=-14.0),
        "very breathy": who.says(breathiness_db=-8.0),
        "rough": who.says(cycle_jitter=0.02, shimmer_db=1.0),
        "very rough": who.says(cycle_jitter=0.035, shimmer_db=1.5),
        "strong overtone": who.says(overtone_db=18.0),
        "hard onset": who.says(attack_s=0.008),
        "soft onset": who.says(attack_s=0.25),
    }


def _harder_voices(who: Speaker) -> dict[str, VoicedPart]:
    """Yield conditions of the hold that make its edges or its pitch unsure."""
    return {
        "lip trill of 22 Hz": who.says(flutter_hz=22.0),
        "tongue trill of 28 Hz": who.says(flutter_hz=28.0, flutter_db=18.0),
        "bubbles of 15 Hz": who.says(flutter_hz=15.0, flutter_db=12.0),
        "bubbles of 38 Hz": who.says(flutter_hz=38.0, flutter_db=10.0),
        "trailing off": who.says(8.0, trail_s=1.0),
    }


def _scenes(who: Speaker) -> dict[str, tuple[tuple[Part, ...], Room]]:
    """Yield the conditions around the hold."""
    hold = who.says()
    quiet = Room()
    level = hold.level_dbfs
    rooms = {
        "a room at 25 dB": Room(level - 25),
        "a fan": Room(level - 18, tilt_db=5.0),
        "hum of 50 Hz": Room(hum_hz=50.0, hum_dbfs=-45.0),
        "hum of 60 Hz": Room(hum_hz=60.0, hum_dbfs=-45.0),
        "clipped": Room(gain_db=16.0),
        "very quiet": Room(-84.0),
    }
    scenes: dict[str, tuple[tuple[Part, ...], Room]] = {
        name: ((LEAD, hold, TAIL), room) for name, room in rooms.items()
    }
    scenes |= {
        "after a breath in": ((Silence(0.6), BreathIn(), Silence(0.1), hold, TAIL), quiet),
        "after a long breath": ((Silence(0.6), BreathIn(1.4), Silence(0.08), hold, TAIL), quiet),
        "after a cough": ((Silence(0.5), Cough(), Silence(0.8), hold, TAIL), quiet),
        "before a cough": ((LEAD, hold, Silence(0.5), Cough(), TAIL), quiet),
        "before talk": ((LEAD, hold, Silence(0.7), Talk(3.0, who.pitch_hz), TAIL), quiet),
        "after talk": ((LEAD, Talk(2.5, who.pitch_hz), Silence(0.8), hold, TAIL), quiet),
        "after the tone": (
            (Silence(0.3), Tone(2.0, who.pitch_hz), Silence(0.9), hold, TAIL),
            quiet,
        ),
        "twice, 0.5 s apart": ((LEAD, hold, Silence(0.5), who.says(2.0), TAIL), quiet),
    }
    return scenes


def _noisy_scenes(who: Speaker) -> dict[str, tuple[tuple[Part, ...], Room]]:
    hold = who.says()
    return {
        "a room at 15 dB": ((LEAD, hold, TAIL), Room(hold.level_dbfs - 15)),
        "a room at 10 dB": ((LEAD, hold, TAIL), Room(hold.level_dbfs - 10)),
        "a loud fan": ((LEAD, hold, TAIL), Room(hold.level_dbfs - 12, tilt_db=5.0)),
        "fading in a room": (
            (LEAD, who.says(8.0, fall_db=14.0), TAIL),
            Room(hold.level_dbfs - 22),
        ),
    }


def _no_hold(who: Speaker) -> dict[str, tuple[tuple[Part, ...], Room]]:
    """Yield clips without a hold."""
    return {
        "silence": ((Silence(4.0),), Room()),
        "a fan alone": ((Silence(4.0),), Room(-40.0, tilt_db=5.0)),
        "hum alone": ((Silence(4.0),), Room(hum_hz=50.0, hum_dbfs=-38.0)),
        "talk alone": ((LEAD, Talk(6.0, who.pitch_hz), TAIL), Room()),
        "a cough alone": ((LEAD, Cough(), TAIL), Room()),
        "the tone alone": ((LEAD, Tone(3.0, who.pitch_hz), TAIL), Room()),
        "a breath alone": ((LEAD, BreathIn(), TAIL), Room()),
    }


def _hisses(who: Speaker) -> dict[str, tuple[Part, ...]]:
    return {
        "hiss": (LEAD, Hiss(6.0), TAIL),
        "fading hiss": (LEAD, Hiss(6.0, fall_db=6.0), TAIL),
        "voiceless trill": (LEAD, Hiss(4.0, flutter_hz=24.0), TAIL),
        "voiceless bubbles": (LEAD, Hiss(4.0, flutter_hz=16.0), TAIL),
    }


def cases(rate_hz: int = 48_000) -> Iterator[Case]:
    """Yield all cases; each is made when it is requested."""
    for who in SPEAKERS:
        for name, voice in _voices(who).items():
            yield _case(who, name, (LEAD, voice, TAIL), Room(), rate_hz)
        for name, voice in _harder_voices(who).items():
            yield _case(who, name, (LEAD, voice, TAIL), Room(), rate_hz, noisy=True)
        for name, (parts, room) in _scenes(who).items():
            yield _case(who, name, parts, room, rate_hz)
        for name, (parts, room) in _noisy_scenes(who).items():
            yield _case(who, name, parts, room, rate_hz, noisy=True)
        for name, (parts, room) in _no_hold(who).items():
            yield _case(who, name, parts, room, rate_hz)
        for name, parts in _hisses(who).items():
            yield _case(who, name, parts, Room(), rate_hz, task=TakeKind.HISS)


def glides(rate_hz: int = 48_000) -> Iterator[tuple[Clip, float, float]]:
    """Yield glides up, down and both, with their lowest and highest pitch in Hz."""
    for who in SPEAKERS:
        low, high = who.pitch_hz / 1.4, who.pitch_hz * 1.8
        for name, points in {
            "up": ((0.0, low), (0.6, low), (3.4, high), (4.0, high)),
            "down": ((0.0, high), (0.6, high), (3.4, low), (4.0, low)),
            "there and back": ((0.0, low), (2.5, high), (5.0, low)),
        }.items():
            voice = who.says(points[-1][0], pitch_hz=points)
            yield _case(who, f"glide {name}", (LEAD, voice, TAIL), Room(), rate_hz).clip, low, high


def _case(
    who: Speaker, name: str, parts: tuple[Part, ...], room: Room, rate_hz: int, **how: object
) -> Case:
    seed = crc32(f"{who.name}/{name}".encode())
    clip = render(parts, room=room, rate_hz=rate_hz, seed=seed)
    return Case(f"{name}, {who.name}", clip, **how)
