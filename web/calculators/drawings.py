"""Geometry of the keyboard and of a pattern's score."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from reedcore.pitch import Note, Spelling

if TYPE_CHECKING:
    from reedcore.pitch.patterns import PatternDrill

FIRST, LAST = Note.named("C2"), Note.named("C6")
WHITE, BLACK = (0, 2, 4, 5, 7, 9, 11), (1, 3, 6, 8, 10)
KEY_W, KEY_H, BLACK_W, BLACK_H = 36, 96, 22, 60


@dataclass(frozen=True)
class Key:
    x: float
    width: float
    height: float
    is_black: bool
    name: str
    is_marked: bool
    is_inside: bool


def keyboard(
    *, marked: Note | None, low: Note | None, high: Note | None, spelling: Any = Spelling.SHARPS
) -> dict[str, Any]:
    """Return keys from C2 to C6: white ones first, so that the black ones are on top."""
    keys, x = [], 0.0
    for midi in range(FIRST.midi, LAST.midi + 1):
        note = Note(midi)
        black = midi % 12 in BLACK
        keys.append(
            Key(
                x=x - BLACK_W / 2 if black else x,
                width=BLACK_W if black else KEY_W,
                height=BLACK_H if black else KEY_H,
                is_black=black,
                name=note.name(spelling),
                is_marked=note == marked,
                is_inside=low is not None and high is not None and low <= note <= high,
            )
        )
        if not black:
            x += KEY_W
    return {
        "width": x,
        "height": KEY_H,
        "keys": sorted(keys, key=lambda key: key.is_black),
        "label_y": KEY_H - 8,
    }


PX_PER_BEAT, PX_PER_ST, MARGIN = 5.0, 7.0, 46


def score(drill: PatternDrill) -> dict[str, Any]:
    """Return a pattern as bars: beats to the right, semitones upwards; one group after
    the other."""
    rounds = drill.rounds()
    notes = [note for each in rounds for group in each.groups for note in group]
    low, high = min(notes).midi, max(notes).midi
    height = (high - low + 2) * PX_PER_ST
    bars, at = [], 0.0
    for each in rounds:
        for group in each.groups:
            for note in group:
                y = height - (note.midi - low + 1.5) * PX_PER_ST
                bars.append({"x": round(MARGIN + at * PX_PER_BEAT, 1), "y": round(y, 1)})
                at += 1
            at += 1
        at += 1
    lines = [
        {"y": round(height - (midi - low + 1) * PX_PER_ST, 1), "name": Note(midi).name()}
        for midi in {low, drill.start.midi, high}
    ]
    return {
        "width": round(MARGIN + at * PX_PER_BEAT),
        "height": round(height),
        "bars": bars,
        "bar_width": PX_PER_BEAT - 0.8,
        "lines": sorted(lines, key=lambda line: line["y"]),
        "margin": MARGIN,
    }
