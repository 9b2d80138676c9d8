"""The sounds that an item plays and that the client sings: notes, glide, pattern."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.settings import chosen_way
from reedcore.catalogue.tasks import Task
from reedcore.errors import Refusal
from reedcore.measures import DrawingKind, kind_of
from reedcore.pitch import Note
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI
from reedcore.pitch.patterns import GROWING, BreathRule, PatternDrill, Round

from .programme import Item

TONE_S, GAP_S = 2.0, 1.0
USUAL_TEMPO = 90.0
#: Range of a trill or glide by rung, semitones; None for the full range.
WIDTHS_ST = {"semitone": 1, "fifth": 7, "siren": None}
#: Pattern choices that the drill supports.
CATCH, STOP = "a catch-breath in every gap", "stop below it"
Line = list[tuple[Note | None, float]]


def is_glide(item: Item, task: Task) -> bool:
    """Return whether its two notes are the ends of a glide, not two notes to hold."""
    kind = kind_of(task.measure)
    return kind.drawn is DrawingKind.COURSE and kind.is_one_breath


def notes_of(item: Item, task: Task) -> tuple[int, ...]:
    """Return the notes as prescribed; the ends of a glide have the distance of its rung."""
    notes, params = item.notes, item.params
    width = params.get("semitones") or WIDTHS_ST.get(params.get("width", ""))
    if not width or len(notes) < 2 or not is_glide(item, task):
        return notes
    low, high = min(notes), max(notes)
    if "width" in params:  # A trill widens upwards from its note.
        ends = (low, low + int(width))
    else:
        middle = (low + high) / 2
        ends = (round(middle - width / 2), round(middle - width / 2) + int(width))
    ends = (max(LOWEST_MIDI, ends[0]), min(HIGHEST_MIDI, ends[1]))
    return ends if notes[0] <= notes[-1] else ends[::-1]


def groups_of(item: Item, task: Task) -> tuple[tuple[int, ...], ...]:
    """Return the degrees of one round, group by group; empty if it is not a pattern of notes."""
    if item.pattern.groups:
        return item.pattern.groups
    if task.growing and "breath_in" not in task.parameters:  # Breaths can grow too.
        return GROWING
    return (task.degrees,) if task.degrees else ()


def beat_s(params: Mapping[str, Any]) -> float:
    """Return the length of a note."""
    return 60.0 / float(params.get("tempo", USUAL_TEMPO))


def drill_of(item: Item, task: Task) -> PatternDrill | None:
    """Return its pattern and direction; None without one, or if its start cannot be sung."""
    groups = groups_of(item, task)
    if not groups or not item.notes:
        return None
    params, own = item.params, item.pattern
    ends = {
        name: Note(midi)
        for name in ("floor", "ceiling", "bridge")
        if (midi := getattr(own, name)) is not None
    }
    try:
        return PatternDrill(
            start=Note(item.notes[0]),
            groups=groups,
            step_st=int(params.get("step_st", 1)),
            rounds_down=int(params.get("rounds_down", 0)),
            rounds_up=int(params.get("rounds_up", 0)),
            beat_s=beat_s(params),
            stops_at_bridge=(chosen_way(task, params, "at_bridge") or STOP) == STOP,
            breath=BreathRule.CATCH
            if chosen_way(task, params, "between_groups") == CATCH
            else BreathRule.ONE_BREATH,
            **ends,
        )
    except Refusal:
        return None


def rounds_of(item: Item, task: Task) -> tuple[Round, ...]:
    """Return the rounds to sing; each is a try of its own."""
    drill = drill_of(item, task)
    return drill.rounds() if drill else ()


def line_of_round(each: Round, beat: float) -> Line:
    """Return one time through: its groups with a gap of a beat between them."""
    line: Line = []
    for group in each.groups:
        line += [(note, beat) for note in group]
        line.append((None, beat))
    return line


def line_of(item: Item, task: Task, *, number: int | None = None) -> Line:
    """Return consecutive (note or None for a rest, seconds); empty without pitch.

    Args:
        number: of a pattern that round alone, from 1.
    """
    if not item.notes:
        return []
    drill = drill_of(item, task)
    if drill is None:
        if groups_of(item, task):  # It starts outside the vocal range: play its note only.
            return [(Note(item.notes[0]), TONE_S)]
        notes = notes_of(item, task)
        return [each for midi in notes for each in ((Note(midi), TONE_S), (None, GAP_S))]
    rounds = [each for each in drill.rounds() if number in (None, each.number)]
    return [part for each in rounds for part in line_of_round(each, drill.beat_s)]
