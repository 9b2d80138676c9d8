"""The simulated microphone's repertoire: a made-up client at the task in hand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from reedcore.pitch import Note
from reedcore.programme.session import BAR
from reedcore.programme.sounds import line_of, notes_of
from reedcore.programme.times import LONG_TRY_S
from reedcore.synthvoice import (
    VOWELS,
    Clip,
    HeldVoice,
    Hiss,
    Room,
    Silence,
    Talk,
    VoicedPart,
    render,
    speak,
)
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_hz
from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from web.clients.models import Client
    from web.record.models import PrescribedTask

ROOM = Room(-68.0)

#: Pitch of the synthetic client when no note is set.
OWN_HZ = 180.0
#: Vowel to synthesise for sounds without a vowel of their own.
NEAREST_VOWEL = {"mee": "ee", "hum": "oo"}
#: Nearest vowel for straws, trills and other nearly closed sounds.
HUMMED = "oo"

#: Manners: (label, share of the target held, changes to a steady voice).
MANNERS: Mapping[str, tuple[str, float, dict[str, Any]]] = Words(
    {
        "even": (gettext_noop("holds evenly past the target"), 1.08, {"scoop_cents": -90.0}),
        "short": (
            gettext_noop("runs out of air early"),
            0.7,
            {"fall_db": 10.0, "drift_cents": -35.0},
        ),
        "flat": (gettext_noop("sings flat"), 1.02, {"pitch_cents": -70.0}),
        "shaky": (gettext_noop("trembles"), 0.95, {"tremor_cents": 70.0}),
        "broken": (gettext_noop("breaks once on the way"), 1.0, {"break_at": 0.5}),
        "octave": (gettext_noop("sings an octave low"), 1.0, {"pitch_cents": -1200.0}),
        "silent": (gettext_noop("makes no sound"), 0.0, {"level_dbfs": -150.0}),
    }
)


#: Length of one sweep in a long glide, seconds.
A_SWEEP_S = 5.0
#: Level of the synthetic comfortable voice, and of a strong one.
COMFORTABLE_DBFS, STRONG_DBFS = -26.0, -14.0


def simulated_clip(
    prescribed: PrescribedRow,
    *,
    manner: str,
    seed: int,
    number: int | None = None,
    rate_hz: int = 48_000,
) -> Clip:
    """Return the synthetic client's take of this task, or of one round; the same seed gives the
    same take."""
    if manner == "silent":
        return render((Silence(2.5),), room=ROOM, rate_hz=rate_hz, seed=seed)
    made: Any = SIMULATED[prescribed.prescribed_item.kind]
    if made is _held_clip:
        return _held_clip(prescribed, manner, seed, rate_hz)
    _, share, _ = MANNERS[manner]
    sung = made(prescribed, share, number) if made is _pattern else made(prescribed, share)
    parts = (Silence(0.5), *sung, Silence(2.4))
    return render(parts, room=ROOM, rate_hz=rate_hz, seed=seed)


def comfortable_clip(client: Client, *, seed: int, rate_hz: int = 48_000) -> Clip:
    """Return the made-up client's comfortable vowel."""
    voice = VoicedPart(2.5, OWN_HZ, level_dbfs=COMFORTABLE_DBFS + (seed % 3 - 1) * 0.4, vowel="ah")
    return render((Silence(0.5), voice, Silence(1.4)), room=ROOM, rate_hz=rate_hz, seed=seed)


def _held_clip(prescribed: PrescribedRow, manner: str, seed: int, rate_hz: int) -> Clip:
    task = prescribed.task
    _, share, changed = MANNERS[manner]
    changes: dict[str, Any] = dict(changed)
    cents = changes.pop("pitch_cents", 0.0)
    break_at = changes.pop("break_at", None)
    # Holds differ by up to 6 %, as real ones do.
    hold_s = max(0.4, prescribed.seconds * share * (0.94 + 0.12 * ((seed * 37) % 100) / 100))
    if break_at is not None:
        changes["breaks"] = ((hold_s * break_at, 0.14),)
    loud = prescribed.shipped is not None and prescribed.shipped.is_loud
    voice = VoicedPart(
        seconds=hold_s,
        pitch_hz=(note_hz(task) or OWN_HZ) * 2 ** ((cents + seed % 13 - 6) / 1200),
        level_dbfs=STRONG_DBFS if loud else COMFORTABLE_DBFS,
        vowel=vowel_of(task),
        **changes,
    )
    held = HeldVoice(voice, tail_s=1.6, breath_in=True, seed=seed)
    return speak(held, rate_hz=rate_hz)


def _hiss(prescribed: PrescribedRow, share: float) -> tuple[Hiss]:
    return (Hiss(max(0.6, prescribed.seconds * share)),)


def _s_to_z(prescribed: PrescribedRow, share: float) -> tuple[Hiss, VoicedPart]:
    each = float(prescribed.params.get("s_s", 3.0)) * share
    return Hiss(each), VoicedPart(each, OWN_HZ, vowel="ee", level_dbfs=COMFORTABLE_DBFS)


def _glide(prescribed: PrescribedRow, share: float) -> tuple[Any, ...]:
    notes = (
        notes_of(prescribed.item, prescribed.shipped)
        if prescribed.item and prescribed.shipped
        else ()
    )
    ends = [Note(midi).hz() for midi in (notes[0], notes[-1])] if notes else [140.0, 280.0]
    seconds = max(1.5, prescribed.seconds * min(1.0, share))
    shape = prescribed.shipped.shape if prescribed.shipped else ""
    if prescribed.prescribed_item.breath_inside == "required":
        return _there_and_back(seconds / 2, sorted(ends))
    if seconds > LONG_TRY_S:
        return _circles(seconds, sorted(ends))
    if shape == "down":
        ends = sorted(ends, reverse=True)
    if shape == "up_and_down":
        low, high = min(ends), max(ends)
        hill = ((0.0, low), (seconds / 2, high), (seconds, low))
        return (VoicedPart(seconds, hill, level_dbfs=COMFORTABLE_DBFS),)
    course = ((0.0, ends[0]), (0.3, ends[0]), (seconds - 0.3, ends[1]), (seconds, ends[1]))
    return (VoicedPart(seconds, course, level_dbfs=COMFORTABLE_DBFS),)


def _there_and_back(seconds: float, ends: list[float]) -> tuple[VoicedPart, Silence, VoicedPart]:
    """Return a glide up, a breath, and a glide down."""
    up = ((0.0, ends[0]), (0.5, ends[0]), (seconds, ends[1]))
    down = ((0.0, ends[1]), (seconds, ends[0]))
    return (
        VoicedPart(seconds, up, level_dbfs=STRONG_DBFS),
        Silence(0.9),
        VoicedPart(seconds, down, level_dbfs=STRONG_DBFS),
    )


def _circles(seconds: float, ends: list[float]) -> tuple[Any, ...]:
    """Return circles that grow to sweeps, with a breath between bouts."""
    parts, at = [], 0.0
    while at < seconds:
        middle, share = (ends[0] * ends[1]) ** 0.5, min(1.0, 0.3 + at / seconds)
        low, high = (middle * (end / middle) ** share for end in ends)
        course = ((0.0, low), (A_SWEEP_S / 2, high), (A_SWEEP_S, low))
        parts += [VoicedPart(A_SWEEP_S, course, level_dbfs=COMFORTABLE_DBFS), Silence(0.8)]
        at += A_SWEEP_S + 0.8
    return tuple(parts)


def _delay_to_beat(prescribed: PrescribedRow, share: float) -> tuple[Silence, VoicedPart]:
    """Delay the sound to the first beat of the next bar, with human accuracy."""
    beat_s = 60.0 / float(prescribed.params.get("tempo", 90.0))
    return (
        Silence(BAR * beat_s - 0.02),
        VoicedPart(
            1.2, note_hz(prescribed.task) or OWN_HZ, level_dbfs=COMFORTABLE_DBFS, vowel=HUMMED
        ),
    )


def _pattern(prescribed: PrescribedRow, share: float, number: Any = None) -> tuple[Any, ...]:
    item, task = prescribed.item, prescribed.shipped
    line = line_of(item, task, number=number) if item and task else []
    if not line:
        return (Hiss(2.0),)
    a4_hz = prescribed.task.programme.client.clinic.a4_hz
    parts: list[VoicedPart | Silence] = []
    course: list[tuple[float, float]] = []
    at = 0.0
    for note, seconds in [*line, (None, 0.0)]:
        if note:
            hz = note.hz(a4_hz=a4_hz)
            course += [(at, hz), (at + seconds * 0.85, hz)]
            at += seconds
            continue
        if course:  # One breath per group of notes.
            parts.append(VoicedPart(at, tuple(course), level_dbfs=COMFORTABLE_DBFS))
        parts.append(Silence(seconds))
        course, at = [], 0.0
    return tuple(parts)


def _pulses(prescribed: PrescribedRow, share: float) -> tuple[Any, ...]:
    beat_s = 60.0 / float(prescribed.params.get("tempo", 90.0))
    count = max(1, round(float(prescribed.params.get("pulses", 8)) * share))
    return tuple(part for _ in range(count) for part in (Hiss(0.4 * beat_s), Silence(0.6 * beat_s)))


def _bursts(prescribed: PrescribedRow, share: float) -> tuple[Any, ...]:
    short = tuple(part for _ in range(4) for part in (Hiss(0.25), Silence(0.3)))
    return (*short, Hiss(max(1.5, 4.0 * share)))


def _air_then_voice(prescribed: PrescribedRow, share: float) -> tuple[Hiss, VoicedPart]:
    return Hiss(1.0, level_dbfs=-38.0), VoicedPart(3.0 * share, OWN_HZ, level_dbfs=COMFORTABLE_DBFS)


def _script(prescribed: PrescribedRow, share: float) -> tuple[Talk]:
    loud = prescribed.shipped is not None and prescribed.shipped.is_loud
    level = STRONG_DBFS if loud else COMFORTABLE_DBFS
    return (Talk(2.5 * share, pitch_hz=OWN_HZ, level_dbfs=level),)


#: Synthetic client by kind of measure.
SIMULATED = {
    "hold": _held_clip,
    "hiss": _hiss,
    "compound": _s_to_z,
    "glide": _glide,
    "pattern": _pattern,
    "script": _script,
    "pulses": _pulses,
    "bursts_then_long": _bursts,
    "air_then_voice": _air_then_voice,
    "on_the_beat": _delay_to_beat,
}


def vowel_of(task: PrescribedTask) -> str:
    """Return the vowel of the simulated voice for a task's sound."""
    sound = NEAREST_VOWEL.get(task.sound, task.sound)
    return sound if sound in VOWELS else HUMMED
