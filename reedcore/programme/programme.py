"""A programme and its items as values, read from a document."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from types import MappingProxyType
from typing import Any

from reedcore.catalogue.ages import ADULT
from reedcore.dose import Dose
from reedcore.dose.today import USUAL_ANSWERS, Day, Voice

#: An empty mapping; shared and read-only.
NOTHING: Mapping[str, Any] = MappingProxyType({})


def _empty_mapping() -> Mapping[str, Any]:
    return NOTHING


#: Id of the main programme.
MAIN = ""


@dataclass(frozen=True, slots=True)
class ItemPattern:
    """The settings of an item's pattern of notes.

    Attributes:
        groups: scale degrees, group by group; empty for the task's own.
        floor, ceiling, bridge: MIDI notes; None where none is set.
        cue: spoken at each round.
    """

    groups: tuple[tuple[int, ...], ...] = ()
    floor: int | None = None
    ceiling: int | None = None
    bridge: int | None = None
    cue: str = ""


@dataclass(frozen=True, slots=True)
class Item:
    """An item of a programme: a task of the catalogue with its settings.

    Attributes:
        id: unique in its programme, and kept through the versions.
        task: the code of the catalogue.
        params: the numbers and choices of the task.
        notes: MIDI notes.
        sound: what it is practised on; empty for the task's own.
        counts: "total" or "steady" seconds.
        floor, ceiling: dB above the comfortable level; None where none is set.
        limits: steadiness limits by name; None for none.
        meant: why a combination that looks like an error is intended.
        alternative: a task that the client may do in its place; empty for none.
        row: rising seconds or counts, a try each.
        rungs: the client's own steps, seconds; empty for the usual ones.
        lines: text to say or read; empty for the task's own material.
        strand: which programme it belongs to; empty for the main one.
        short: part of a short day.
        sip: a break for water after it.
        cue: a cue to breathe in before each try.
        contrast: each try is made badly, then well.
        ladder: the ladder it climbs; empty for the task's own.
        words: instructions for this client in the clinician's own words.
        words_replace: they stand in place of the task's instructions, not after them.
        say_before: spoken before each trial.
        picture: the clinic's number of a picture to speak about.
        feedback: live, trial, block or none.
        cues: halfway and last-seconds cues.
    """

    id: str
    task: str
    sets: int = 1
    params: Mapping[str, Any] = field(default_factory=_empty_mapping)
    notes: tuple[int, ...] = ()
    sound: str = ""
    counts: str = "total"
    floor: float | None = None
    ceiling: float | None = None
    limits: Mapping[str, float | None] = field(default_factory=_empty_mapping)
    reason: str = ""
    meant: str = ""
    alternative: str = ""
    row: tuple[float, ...] = ()
    rungs: tuple[float, ...] = ()
    lines: tuple[str, ...] = ()
    strand: str = MAIN
    short: bool = False
    sip: bool = False
    cue: bool = True
    contrast: bool = False
    ladder: str = ""
    words: tuple[str, ...] = ()
    say_before: str = ""
    picture: int | None = None
    pattern: ItemPattern = ItemPattern()
    feedback: str = "live"
    words_replace: bool = False
    cues: bool = False


@dataclass(frozen=True, slots=True)
class BesideProgramme:
    """A programme beside the main one.

    Attributes:
        sort: the type of its sessions.
        name: empty where it is called by its type.
        school, daily_for_life: None where they are the main one's.
    """

    sort: str
    dose: Dose
    name: str = ""
    school: str | None = None
    daily_for_life: bool | None = None


@dataclass(frozen=True, slots=True)
class TaperState:
    """The state of a taper, with the values before it.

    Attributes:
        week: from 1.
        peak_s: the longest hold when it began, seconds.
        since: the first day of this week of the taper.
        items, dose: of the programme before the taper.
    """

    week: int
    peak_s: float
    since: date
    items: tuple[Item, ...]
    dose: Dose


@dataclass(frozen=True, slots=True)
class Programme:
    """All that is prescribed in one version.

    Attributes:
        sort: the type of session.
        wording: for whom the instructions are worded.
        answers: what each answer to "how is your voice today?" leads to.
        asks_medication: hours since medication are asked for.
        overrules: by finding, the reason it was accepted.
        beside: the programmes beside the main one, by id.
    """

    dose: Dose
    items: tuple[Item, ...] = ()
    sort: str = "full"
    school: str = "soft"
    daily_for_life: bool = False
    wording: str = ADULT
    answers: Mapping[Voice, Day] = field(default_factory=lambda: dict(USUAL_ANSWERS))
    asks_medication: bool = False
    overrules: Mapping[str, str] = field(default_factory=_empty_mapping)
    beside: Mapping[str, BesideProgramme] = field(default_factory=_empty_mapping)
    taper: TaperState | None = None

    def item(self, id: str) -> Item | None:
        """Return the item with this id; None if there is none."""
        return next((each for each in self.items if each.id == id), None)
