"""Measures that the client reports: minutes, breaths, repetitions, a count, ticks."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.devices.breath_counts import BreathCount
from reedcore.errors import Refusal

from .kind import CountedThing, MeasureKind

#: Default duration of untimed kinds, seconds (conventions).
A_REP_S, A_COUNT_S, A_TICK_S = 8.0, 30.0, 10.0


def breath_of(params: Mapping[str, Any]) -> BreathCount | None:
    """Return the counted breath of an item; None if it has none or an impossible one."""
    if not {"breath_in", "breath_out", "tempo"} <= set(params):
        return None
    try:
        return BreathCount(
            int(params["breath_in"]),
            int(params["breath_out"]),
            params["tempo"],
            held=int(params.get("held", 0)),
        )
    except Refusal:
        return None


def _timed_seconds(task: Task, params: Mapping[str, Any]) -> float:
    seconds = params.get("held_s") or params.get("pant_s") or params.get("stay_s")
    return float(seconds or 60.0 * float(params.get("minutes", 1.0)))


def _counted_seconds(task: Task, params: Mapping[str, Any]) -> float:
    breath = breath_of(params)
    return breath.total_s(int(params.get("cycles", 1))) if breath else A_COUNT_S


KINDS = (
    MeasureKind("timed", _timed_seconds, has_lead_in=False, can_rise=True, can_be_shorter=True),
    MeasureKind(
        "counted",
        _counted_seconds,
        has_lead_in=False,
        can_rise=True,
        counts=CountedThing.BREATHS,
        needs_file=True,
    ),
    MeasureKind("reps", lambda task, params: A_REP_S, counts=CountedThing.REPETITIONS),
    MeasureKind(
        "count", lambda task, params: A_COUNT_S, has_lead_in=False, counts=CountedThing.NUMBER
    ),
    MeasureKind(
        "checklist", lambda task, params: A_TICK_S, has_lead_in=False, counts=CountedThing.ITEMS
    ),
)
