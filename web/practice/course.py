"""The course of a glide or a pattern: pitch upwards, seconds to the right, notes to follow."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import log2
from typing import Any

from django.utils.translation import gettext

from reedcore.measures import kind_of
from reedcore.pitch import A4_HZ, Note, Spelling
from reedcore.programme.sounds import beat_s, line_of, line_of_round, notes_of, rounds_of
from reedcore.programme.times import LONG_TRY_S
from web.clients.models import Client
from web.record.prescribed_item import PrescribedRow

WIDTH, HEIGHT, LEFT, TOP, BOTTOM = 1200, 450, 70, 20, 410
#: Margin above and below the notes, semitones.
MARGIN_ST = 4
#: Range around the usual voice when no notes are set, semitones.
OWN_ST = 15
#: Extra time in the picture, as a factor.
SPARE = 1.4
#: Number of hills, and the length of one sweep in a glide that lasts minutes, seconds.
HILLS, A_SWEEP_S = 3, 8.0
USUAL_MIDI = {Client.Voice.TREBLE: 60, Client.Voice.BASS: 50, Client.Voice.OWN: 55}


@dataclass(frozen=True)
class CourseDrawing:
    """The drawing; the page draws the voice into it by the same two scales."""

    width: int
    height: int
    left: int
    bottom: int
    px_per_s: float
    px_per_st: float
    top_cents: float
    lines: list[tuple[float, str]]
    guides: list[str]
    spoken: str

    @property
    def top(self) -> int:
        """Return the upper edge of the picture, px."""
        return TOP


def course(prescribed: PrescribedRow) -> CourseDrawing:
    """Return the course to follow; cents are relative to the clinic's A4, like the live track."""
    client = prescribed.task.programme.client
    item, task = prescribed.item, prescribed.shipped
    line = line_of(item, task) if item and task else []
    notes = notes_of(item, task) if item and task else ()
    pattern = kind_of(prescribed.task.measure).is_followed and bool(line)
    rounds = rounds_of(item, task) if item and task and pattern else ()
    played = [note.midi for note, _ in line if note] if pattern else notes
    middle = USUAL_MIDI[Client.Voice(client.voice)]
    low = (min(played) - MARGIN_ST) if played else middle - OWN_ST
    high = (max(played) + MARGIN_ST) if played else middle + OWN_ST
    seconds = prescribed.seconds if rounds or not pattern else sum(each for _, each in line)
    px_per_s = (WIDTH - LEFT) / max(2.0, seconds * SPARE)
    px_per_st = (BOTTOM - TOP) / (high - low)
    a4_shift = 12 * log2(client.clinic.a4_hz / A4_HZ)

    def y(midi: Any) -> Any:
        return round(TOP + (high - midi) * px_per_st, 1)

    def x(at: Any) -> Any:
        return round(LEFT + at * px_per_s, 1)

    def step_path(line: Any) -> Any:
        path, at = "", 0.0
        for note, each in line:
            if note:
                path += f"M{x(at)} {y(note.midi)}H{x(at + each * 0.92)}"
            at += each
        return path

    guides = []
    if pattern:
        beat = beat_s(prescribed.params)
        guides = [step_path(line_of_round(each, beat)) for each in rounds] or [step_path(line)]
    elif len(notes) > 1:
        guides = [_way(prescribed, notes, seconds, x, y)]
    spelling = Spelling(client.spelling)
    marked = sorted(set(played)) if played else [middle - 12, middle, middle + 12]
    named = [Note(midi).name(spelling) for midi in (played[0], played[-1])] if played else []
    return CourseDrawing(
        width=WIDTH,
        height=HEIGHT,
        left=LEFT,
        bottom=BOTTOM,
        px_per_s=round(px_per_s, 3),
        px_per_st=round(px_per_st, 3),
        top_cents=round(100 * (high - 69 + a4_shift), 1),
        lines=[(y(midi), Note(midi).name(spelling)) for midi in marked],
        guides=guides,
        spoken=gettext("From {value} to {value_2}.").format(value=named[0], value_2=named[1])
        if named
        else gettext("Any notes that are easy."),
    )


def _way(
    prescribed: PrescribedRow,
    notes: Any,
    seconds: float,
    x: Callable[..., Any],
    y: Callable[..., Any],
) -> str:
    """Return a glide as it is to go: one way, or there and back as often as its shape has it."""
    if prescribed.shipped is None or prescribed.shipped.shape != "up_and_down":
        return f"M{x(0)} {y(notes[0])}L{x(seconds)} {y(notes[-1])}"
    low, high = min(notes), max(notes)
    hills = HILLS if prescribed.shipped.pair and prescribed.shipped.pair[0] == "hills" else 1
    sweeps = max(hills, round(seconds / A_SWEEP_S)) if seconds > LONG_TRY_S else hills
    path, each = f"M{x(0)} {y(low)}", seconds / sweeps
    for number in range(sweeps):
        path += f"L{x((number + 0.5) * each)} {y(high)}L{x((number + 1) * each)} {y(low)}"
    return path
