"""Spoken lines: the client's own or the catalogue's, on their rung of speech, repeated as
prescribed, with stretched words marked. The player and papers use the same lines."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from reedcore.catalogue.settings import chosen_way
from reedcore.catalogue.tasks import Task, shipped_material

from .programme import Item
from .words import client_lines

#: Default number of script lines.
USUAL_LINES = 10
#: Material by rung of speech; the other rungs need no lines.
OF_SPEECH = {
    "syllables": "chains",
    "words": "words",
    "phrases": "phrases",
    "sentences": "sentences",
    "paragraph": "passages",
    "answering": "prompts",
}
LAST, FIRST, BOTH = "last word", "first word", "last, then first"
TWICE, WHOLE = "twice", "twice, then the whole"
_EMPHASIS = re.compile(r"\*([^*]+)\*")


@dataclass(frozen=True, slots=True)
class Piece:
    """Some words of a line; strong ones are stretched or emphasised."""

    words: str
    is_strong: bool = False


Line = tuple[Piece, ...]


def material_of(item: Item, task: Task) -> tuple[str, ...]:
    """Return the lines before they are repeated or marked; empty if there are none."""
    if item.lines:
        return item.lines
    params = item.params
    if "count_to" in task.parameters:
        return _count_rows(int(params.get("count_to", 10)), chosen_way(task, params, "counting"))
    return shipped_material().get(_material_code(params, task), ())


def _material_code(params: Mapping[str, Any], task: Task) -> str:
    """Return the material of the chosen rung of speech, or the task's own; None without lines."""
    rung = str(params.get("speech", ""))
    return OF_SPEECH.get(rung, "") if rung else task.material


def lines_of(item: Item, task: Task) -> tuple[Line, ...]:
    """Return every line in reading order; each is a trial.

    The clinician's own lines are all said, once a set; of the task's material as many as its
    number of lines says."""
    params = item.params
    lines = material_of(item, task) or (" ".join(client_lines(item, task)),)
    if not item.lines and len(lines) > 1 and "count_to" not in task.parameters:
        count = max(1, int(params.get("lines", 0) or USUAL_LINES))
        lines = tuple(lines[place % len(lines)] for place in range(count))
    way = chosen_way(task, params, "said")
    if way in (TWICE, WHOLE):
        lines = tuple(line for line in lines for _ in range(2))
    if way == WHOLE:
        lines = (*lines, " ".join(dict.fromkeys(lines)))
    # Repeat the whole set.
    lines *= int(params.get("sets", 1)) * item.sets
    if item.contrast:  # A contrast pair repeats the same line.
        lines = tuple(line for line in lines for _ in ("poor", "good"))
    return tuple(_mark_line(line, at, params, task) for at, line in enumerate(lines))


def numbers_in_force(item: Item) -> Mapping[str, Any]:
    """Return the parameters of an item; its own lines decide how many lines there are."""
    if "lines" not in item.params or not item.lines:
        return item.params
    return {**item.params, "lines": len(item.lines)}


def is_answered(item: Item, task: Task) -> bool:
    """Return whether its lines are questions to answer."""
    return _material_code(item.params, task) == "prompts"


def text_of(line: Line) -> str:
    """Return its words."""
    return "".join(piece.words for piece in line)


def marked_text(item: Item, task: Task, text: str) -> Line:
    """Return a reading text with stretched words marked."""
    return _mark_line(text, 0, item.params, task)


def _count_rows(last: int, way: str) -> tuple[str, ...]:
    up = [str(number) for number in range(1, last + 1)]
    rows = [_join_numbers(up)]
    if way == "up and back":
        rows.append(_join_numbers(up[::-1]))
    return tuple(rows)


def _join_numbers(numbers: Sequence[str]) -> str:
    return ", ".join(numbers) + "."


def _mark_line(line: str, at: int, params: Mapping[str, Any], task: Task) -> Line:
    way = chosen_way(task, params, "stretched")
    if way == BOTH:
        way = LAST if at % 2 == 0 else FIRST
    if way in (LAST, FIRST):
        return _stretch(line, is_last=way == LAST)
    return _emphasise(line)


def _emphasise(line: str) -> Line:
    pieces, at = [], 0
    for match in _EMPHASIS.finditer(line):
        pieces += [Piece(line[at : match.start()]), Piece(match[1], is_strong=True)]
        at = match.end()
    pieces.append(Piece(line[at:]))
    return tuple(piece for piece in pieces if piece.words)


def _stretch(text: str, *, is_last: bool) -> Line:
    pieces = []
    for sentence in re.findall(r"[^.?!]+[.?!]?\s*", text):
        words = re.findall(r"\S+\s*", sentence)
        strong = len(words) - 1 if is_last else 0
        pieces += [Piece(word, is_strong=place == strong) for place, word in enumerate(words)]
    return tuple(pieces)
