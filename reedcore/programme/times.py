"""How long one try of an item lasts."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.devices.breath_counts import BreathCount
from reedcore.errors import Refusal

#: What a try lasts where nothing times it (conventions), seconds.
A_LINE_S, A_REP_S, A_COUNT_S, A_TICK_S = 6.0, 8.0, 30.0, 10.0


def try_seconds(task: Task, params: Mapping[str, Any]) -> float:
    """How long one try lasts."""
    value = params.get
    if task.measure in ("hold", "hiss", "glide"):
        return float(value("seconds", 5.0))
    if task.measure == "compound":
        timed = float(value("s_s", 0.0)) + float(value("z_s", 0.0))
        return timed or A_REP_S
    if task.measure == "timed":
        return float(value("held_s") or value("pant_s") or 60.0 * float(value("minutes", 1.0)))
    if task.measure == "counted":
        breath = breath_of(params)
        return breath.total_s(int(value("cycles", 1))) if breath else A_COUNT_S
    if task.measure == "pattern":
        beats = len(task.degrees) or (29 if task.growing else int(value("pulses", 8)))
        rounds = 1 + int(value("rounds_down", 0)) + int(value("rounds_up", 0))
        return beats * rounds * 60.0 / float(value("tempo", 90.0))
    if task.measure == "script":
        return A_LINE_S * float(value("lines", 0) or 10 * float(value("sets", 1)))
    return {"reps": A_REP_S, "count": A_COUNT_S}.get(task.measure, A_TICK_S)


def breath_of(params: Mapping[str, Any]) -> BreathCount | None:
    """The counted breath of an item; None where it has none or cannot be breathed."""
    if not {"breath_in", "breath_out", "tempo"} <= set(params):
        return None
    try:
        return BreathCount(int(params["breath_in"]), int(params["breath_out"]), params["tempo"])
    except Refusal:
        return None
