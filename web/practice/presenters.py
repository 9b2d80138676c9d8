"""The practice screen's pictures: the live trace with its waterline and tries, a glide's course."""

from __future__ import annotations

import re
from dataclasses import dataclass
from math import isfinite, log2
from typing import TYPE_CHECKING, Any

import numpy as np

from reedcore.formats.trace import STEP_S, unpack_trace
from reedcore.measures import DrawingKind, kind_of
from reedcore.pitch import A4_HZ
from web.record.models import Trial
from web.record.programmes import note_hz, note_name
from web.sound.wording import reasons
from web.ui.reeds import Scale, traced_stem

from .course import course
from .result_words import result_sentence
from .wording import WHY, VerdictReason

if TYPE_CHECKING:
    from web.record.models import PrescribedTask
    from web.record.prescribed_item import PrescribedRow

#: State by shape first, then by colour.
HEADS = {
    VerdictReason.LEVEL_INSIDE: "full",
    VerdictReason.TOO_SOFT: "half",
    VerdictReason.TOO_LOUD: "open",
}
#: Earlier trials shown beside the growing reed.
SHOWN_TRIES = {"wide": 5, "narrow": 3}


@dataclass(frozen=True)
class Tick:
    seconds: int
    y: float


@dataclass(frozen=True)
class Head:
    """The head of a reed: full for level inside its band, half under it, open over it."""

    x: float
    y: float
    kind: str


@dataclass(frozen=True)
class TodaysReed:
    """A try of today, standing in the live trace."""

    x: float
    path: str
    seconds: str
    state: str
    title: str
    head: Head | None


@dataclass(frozen=True)
class LiveTrace:
    """A drawing of a trial; the page has a wide and a narrow one and shows the one that fits."""

    shape: str
    width: int
    height: int
    scale: Scale
    centre: float
    px_per_cent: float
    surface: float
    ticks: list[Tick]
    reeds: list[TodaysReed]
    dots: list[int]

    @property
    def ground(self) -> Any:
        """Return the ground line, px."""
        return self.scale.ground

    @property
    def water_height(self) -> float:
        """Return the height of the water, px."""
        return round(self.ground - self.surface, 1)

    @property
    def below(self) -> int:
        """Return the position of the figures below the ground."""
        return self.ground + 28

    @property
    def dots_y(self) -> int:
        """Return the line of the dots, px."""
        return self.ground + 21

    @property
    def dots_end(self) -> Any:
        """Return the end of the row of dots, px."""
        return self.dots[-1] + 26

    @property
    def flat_x(self) -> float:
        """Return the place of the flat sign, px."""
        return self.channel_left - 10

    @property
    def sharp_x(self) -> float:
        """Return the place of the sharp sign, px."""
        return self.channel_left + self.channel_width + 10

    @property
    def channel_left(self) -> float:
        """Return the left edge of the channel of ±50 cents, px."""
        return self.centre - 50 * self.px_per_cent

    @property
    def channel_width(self) -> float:
        """Return the width of the channel of ±50 cents, px."""
        return 100 * self.px_per_cent


#: Measures with a live reed; those with a course are drawn over time.


def stage(prescribed: PrescribedRow, tries: list[Any]) -> dict[str, Any]:
    """Return everything the middle of the practice screen shows of one task."""
    task = prescribed.task
    counted = [trial for trial in tries if trial.total_s is not None]
    drawn = kind_of(task.measure).drawn
    common: dict[str, Any] = {
        "task": task,
        "note": note_name(task),
        "target_s": prescribed.seconds,
        "straight": drawn is DrawingKind.STRAIGHT,
        "done": len(counted),
        "to_go": max(0, task.tries - len(counted)),
    }
    if drawn in (DrawingKind.REED, DrawingKind.STRAIGHT):
        target = prescribed.seconds
        common["traces"] = [
            _live_trace("wide", 1200, 450, 660, 0.9, task, counted, target),
            _live_trace("narrow", 360, 330, 236, 0.54, task, counted, target),
        ]
    elif drawn is DrawingKind.COURSE:
        common["course"] = course(prescribed)
    return common


def trial_card(trial: Trial) -> dict[str, Any]:
    """Return one try as the client reads it."""
    parts = [
        {"name": part["part"], "verdict": part["verdict"], "words": WHY[VerdictReason(part["why"])]}
        for part in trial.parts
    ]
    return {
        "trial": trial,
        "sentence": result_sentence(trial, note_name=note_name(trial.task)),
        "parts": parts,
        "reasons": reasons(trial.reasons, is_hold=kind_of(trial.task.measure).can_be_steady),
    }


def cents_from_note(cents_from_a4: list[float] | np.ndarray, task: PrescribedTask) -> list[float]:
    """Return cents above the task's note, or above the try's own median without a note."""
    hz = note_hz(task)
    if hz is None:
        known = sorted(value for value in cents_from_a4 if isfinite(value))
        zero = known[len(known) // 2] if known else 0.0
    else:
        zero = 1200.0 * log2(hz / A4_HZ)
    return [value - zero for value in cents_from_a4]


def _live_trace(
    shape: str,
    width: int,
    height: int,
    centre: int,
    px_per_cent: float,
    task: PrescribedTask,
    tries: list[Any],
    target_s: float,
) -> LiveTrace:
    shown = tries[-SHOWN_TRIES[shape] :]
    top_s = max([target_s * 1.3, *(trial.drawn_s * 1.05 for trial in shown)])
    ground = height - 40
    scale = Scale(ground=ground, px_per_s=(ground - 24) / top_s)
    left = 210 if shape == "wide" else 66
    gap = 72 if shape == "wide" else 48
    reeds = [
        _todays_reed(trial, left + index * gap, px_per_cent / 4, scale)
        for index, trial in enumerate(shown)
    ]
    every = 5 if top_s <= 30 else 10
    if top_s < 8:
        every = 1
    ticks = [
        Tick(second, scale.y(second))
        for second in range(every, int(top_s) + 1, every)
        if abs(second - target_s) > top_s * 0.06
    ]
    to_go = max(0, task.tries - len(tries))
    first_dot = centre + (190 if shape == "wide" else 60)
    dots = [first_dot + 40 * index for index in range(min(to_go, 10 if shape == "wide" else 0))]
    return LiveTrace(
        shape=shape,
        width=width,
        height=height,
        scale=scale,
        centre=centre,
        px_per_cent=px_per_cent,
        surface=scale.y(target_s),
        ticks=ticks,
        reeds=reeds,
        dots=dots,
    )


def _todays_reed(trial: Trial, x: int, px_per_cent: float, scale: Scale) -> TodaysReed:
    trace = getattr(trial, "trace", None)
    if (
        trace is None or kind_of(trial.task.measure).drawn is DrawingKind.STRAIGHT
    ):  # Straight, because the pitch is unknown.
        path = f"M{x} {scale.ground}L{x} {scale.y(trial.drawn_s)}"
    else:
        cents = cents_from_note(unpack_trace(bytes(trace.packed)).cents, trial.task)
        cents = cents[: round(trial.drawn_s / STEP_S)]
        path = traced_stem(
            x=x,
            cents=cents,
            step_s=STEP_S,
            px_per_cent=px_per_cent,
            breaks=[(gap["start_s"], gap["end_s"]) for gap in trial.breaks],
            scale=scale,
        )
    tops = re.findall(r"([\d.]+) ([\d.]+)", path)
    verdict = next((part for part in trial.parts if part["part"] == "level"), None)
    kind = HEADS.get(VerdictReason(verdict["why"])) if verdict else None
    return TodaysReed(
        head=Head(float(tops[-1][0]), float(tops[-1][1]), kind) if kind and tops else None,
        x=x,
        path=path,
        seconds=f"{trial.drawn_s:.1f}",
        state=trial.outcome,
        title=result_sentence(trial, note_name=note_name(trial.task)),
    )
