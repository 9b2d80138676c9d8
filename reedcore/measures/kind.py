"""A kind of measure: all that anything asks about one, in one value."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.holds.live_hold import Listening
from reedcore.catalogue.tasks import Task
from reedcore.progress import BetterDirection
from reedcore.targets import HoldTarget, Judgement

from .common import Columns, TrialContext, TrialGoal

#: Default duration of a trial, seconds (convention).
USUAL_S = 5.0


class DrawingKind(StrEnum):
    """The kind of drawing of a trial, live and afterwards."""

    #: A reed: height is duration, with lean and shiver from the pitch.
    REED = "reed"
    #: A reed without pitch: straight.
    STRAIGHT = "straight"
    #: The pitch over the notes to follow.
    COURSE = "course"
    NOTHING = "nothing"


class CountedThing(StrEnum):
    """The unit that a device counts or asks for if it measures no sound."""

    BREATHS = "breaths"
    REPETITIONS = "repetitions"
    ITEMS = "items"
    NUMBER = "number"
    NOTHING = "nothing"


@dataclass(frozen=True, slots=True)
class Figure:
    """The figure that a kind is about: drawn, compared and followed.

    Attributes:
        value: of (figures, share on pitch, seconds that count); None where it was not measured.
    """

    name: str
    unit: str
    value: Callable[[Mapping[str, Any], float | None, float | None], float | None]
    better: BetterDirection = BetterDirection.HIGHER

    @property
    def short_unit(self) -> str:
        """Return where there is little room."""
        return "st" if self.unit == "semitones" else self.unit


HELD = Figure("held", "s", lambda figures, share, counted: counted)


@dataclass(frozen=True, slots=True)
class MeasureKind:
    """All that anything asks about a kind of measure.

    Attributes:
        code: as the catalogue has it: a measure, or a shape that is listened for in its own way.
        seconds: how long one try lasts, by the task and its numbers.
        listens: what of a recording is looked for; None where the client tells it.
        figures: a recording's figures and how they did.
        by_hand: how seconds that a hand has timed did; None where they are only kept.
        figure: what its series is about; None where there is none.
        drawn: how a try is drawn.
        is_in_seconds: its target is in seconds, for paper logs and reeds.
        rungs_s: the ladder of its seconds.
        is_by_note: results are kept apart by note; otherwise its notes belong to one try.
        can_be_steady: its pitch and level may be asked to stay even.
        can_have_level: a floor and a ceiling may be asked of it.
        is_one_breath: it lasts one out-breath.
        has_lead_in: a breath in is cued before each try.
        is_followed: its notes are followed one after another, and may go up and down in rounds.
        is_by_line: each trial is one spoken line.
        can_rise: a row of rising numbers may be asked for within one session.
        can_decide: trials on target decide the next step; otherwise the felt check does.
        has_weekly_cap: the weekly increase of its target is limited.
        ends_after_s: silence that ends a trial, seconds.
        live: what is listened for live.
        is_air: air alone, without voice.
        has_session_target: its seconds may be set for one session.
        can_be_shorter: seconds are asked for, and fewer of them are still the same exercise.
        counts: what is counted or asked for where nothing is heard.
        unheard: message for a trial in which nothing of this kind was found.
        needs_file: a task of a clinic's own takes more than one number, and is written as a file.
    """

    code: str
    seconds: Callable[[Task, Mapping[str, Any]], float]
    listens: Sound | None = None
    figures: Callable[[TrialGoal, Analysis, TrialContext], tuple[Columns, Judgement]] | None = None
    by_hand: Callable[[float, HoldTarget], Judgement] | None = None
    figure: Figure | None = None
    drawn: DrawingKind = DrawingKind.NOTHING
    is_in_seconds: bool = False
    rungs_s: tuple[float, ...] = ()
    is_by_note: bool = False
    can_be_steady: bool = False
    can_have_level: bool = False
    is_one_breath: bool = False
    has_lead_in: bool = True
    is_followed: bool = False
    is_by_line: bool = False
    can_rise: bool = False
    can_decide: bool = False
    has_weekly_cap: bool = False
    end_silence_s: float = 1.0
    live: Listening = Listening.ALL
    is_air: bool = False
    has_session_target: bool = False
    can_be_shorter: bool = False
    counts: CountedThing = CountedThing.NOTHING
    unheard: str = ""
    needs_file: bool = False

    @property
    def is_heard(self) -> bool:
        """Return whether it is measured from its sound."""
        return self.listens is not None


def asked_seconds(task: Task, params: Mapping[str, Any]) -> float:
    """Return the prescribed seconds, from the item's seconds or minutes."""
    if "seconds" not in params and "minutes" in params:
        return 60.0 * float(params["minutes"])
    return float(params.get("seconds", USUAL_S))
