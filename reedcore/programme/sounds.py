"""What an item plays: its reference tones, or its pattern."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI
from reedcore.pitch.patterns import DEGREE_ST, PatternDrill

TONE_S, GAP_S = 2.0, 1.0
Line = list[tuple[Note | None, float]]


def line_of(item: Mapping[str, Any], task: Task) -> Line:
    """(note or None for a rest, seconds), one after the other; empty where nothing is pitched."""
    if not item["notes"]:
        return []
    beat_s = 60.0 / float(item["params"].get("tempo", 90.0))
    start = Note(item["notes"][0])
    if task.growing:
        return _growing(item, start, beat_s)
    if task.degrees:
        return _degrees(task, start, beat_s)
    return [each for midi in item["notes"] for each in ((Note(midi), TONE_S), (None, GAP_S))]


def _degrees(task: Task, start: Note, beat_s: float) -> Line:
    midis = [start.midi + DEGREE_ST[degree - 1] for degree in task.degrees]
    if not all(LOWEST_MIDI <= midi <= HIGHEST_MIDI for midi in midis):
        return [(start, TONE_S)]
    return [(Note(midi), beat_s) for midi in midis] + [(None, GAP_S)]


def _growing(item: Mapping[str, Any], start: Note, beat_s: float) -> Line:
    params = item["params"]
    try:
        drill = PatternDrill(
            start,
            rounds_down=int(params.get("rounds_down", 0)),
            rounds_up=int(params.get("rounds_up", 0)),
            beat_s=beat_s,
        )
    except Refusal:
        return [(start, TONE_S)]
    line: Line = []
    for each in drill.rounds():
        for group in each.groups:
            line += [(note, beat_s) for note in group]
            line.append((None, beat_s))
    return line
