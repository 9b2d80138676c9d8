"""Each calculator: its form in, its answer out as plain words and figures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import log2
from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.baseline import GoalSource, goal_from_volume, longest_of, s_to_z_ratio
from reedcore.baseline.goals import todays_target_s
from reedcore.devices.back_pressure import (
    Resistance,
    Tube,
    back_pressure,
    class_pressure,
    in_order,
)
from reedcore.devices.bores import BORES
from reedcore.devices.breath_counts import BreathCount
from reedcore.devices.levels import SoundPressureLevel
from reedcore.pitch import Note, note_nearest
from web.baseline.wording import RATIO_CAUTION, RATIO_NO_CLEARANCE
from web.clients.wording import PROPS

from . import forms
from .drawings import keyboard, score

if TYPE_CHECKING:
    from reedcore.devices.back_pressure import BackPressure
    from reedcore.pitch.patterns import PatternDrill
    from web.clients.models import Client

#: Depths at which a tube in water is compared with the straws, cm.
DEPTHS_CM = (2, 4, 7)
TRILLS = {
    "hum or “ng”": Resistance.LOW,
    "tongue trill": Resistance.MIDDLE,
    "lip trill": Resistance.HIGH,
}


@dataclass(frozen=True)
class Tool:
    """A calculator's name, title and form."""

    code: str
    title: str
    form: type[forms.ToolForm]


TOOLS = (
    Tool("note", "Note, Hz and cents", forms.NoteForm),
    Tool("goal", "Hold goal from volume", forms.GoalForm),
    Tool("ratio", "s/z", forms.RatioForm),
    Tool("distance", "Level at another distance", forms.DistanceForm),
    Tool("straw", "Back pressure", forms.StrawForm),
    Tool("breath", "Counted breath", forms.BreathForm),
    Tool("pattern", "Growing pattern", forms.PatternForm),
)


def answer(code: str, cleaned: Any, *, client: Any, found: Any, a4_hz: Any) -> dict[str, Any]:
    """The answer of one calculator; ``found`` is what the client's baseline came to, if any."""
    made: dict[str, Callable[..., dict[str, Any]]] = {
        "note": _note,
        "goal": _goal,
        "ratio": _ratio,
        "distance": _distance,
        "straw": _straw,
        "breath": _breath,
        "pattern": _pattern,
    }
    return made[code](cleaned, client=client, found=found, a4_hz=a4_hz)


def _note(cleaned: Any, *, found: Any, a4_hz: Any, **_: Any) -> dict[str, Any]:
    note, cents = note_nearest(cleaned["pitch"], a4_hz=a4_hz)
    words = [f"{cleaned['pitch']:.1f} Hz is {note.name()} {cents:+.0f} cents".replace("-", "−")]
    if cleaned.get("target"):
        off = 1200 * log2(cleaned["pitch"] / cleaned["target"])
        words.append(
            f"{off:+.0f} cents ({off / 100:+.1f} semitones) from the comparison".replace("-", "−")
        )
    low: Note | None = None
    high: Note | None = None
    if found and found.comfortable_range:
        low = note_nearest(found.comfortable_range.low_hz, a4_hz=a4_hz)[0]
        high = note_nearest(found.comfortable_range.high_hz, a4_hz=a4_hz)[0]
    return {"words": words, "keyboard": keyboard(marked=note, low=low, high=high)}


def _goal(cleaned: dict[str, Any], **_: Any) -> dict[str, Any]:
    source = GoalSource(cleaned["source"])
    goal = goal_from_volume(cleaned["volume_ml"], source=source, on=timezone.localdate())
    words = [
        f"Goal {goal.seconds:.1f} s" + (", the cap" if goal.capped else "")
        + f"; first stage {goal.stage_s:.1f} s",
        f"{cleaned['volume_ml']:g} mL ÷ 80 mL/s, and ÷ 100 for the stage",
    ]  # fmt: skip
    if source is GoalSource.VITAL_CAPACITY:
        words.append("An overestimate: voicing never uses the full vital capacity.")
    if cleaned.get("best_s"):
        today = todays_target_s(best_s=cleaned["best_s"], goal_s=goal.seconds)
        words.append(f"Today {today:g} s: the step at or under {cleaned['best_s']:g} s + 10 %")
    return {"words": words}


def _ratio(cleaned: Any, **_: Any) -> dict[str, Any]:
    ratio = s_to_z_ratio(
        s=longest_of([cleaned["s"]], wanted=2), z=longest_of([cleaned["z"]], wanted=2)
    )
    if ratio is None:  # the form asks for both
        return {"words": []}
    remark = RATIO_CAUTION if ratio.caution else RATIO_NO_CLEARANCE
    return {"words": [f"s/z {ratio.ratio:.2f}", remark], "warns": ratio.caution}


def _distance(cleaned: dict[str, float], **_: Any) -> dict[str, Any]:
    level = SoundPressureLevel(cleaned["level"], "C", cleaned["here_cm"] / 100)
    moved = level.at(cleaned["there_cm"] / 100)
    return {
        "words": [
            f"{moved.db_spl:.1f} dB SPL at {cleaned['there_cm']:g} cm",
            "For a free field. Walls make the difference smaller.",
        ]
    }


def about(pressure: BackPressure) -> str:
    """``about 0.4 cmH₂O``."""
    return f"about {pressure.about:g} cmH₂O" + (", rough" if pressure.rough else "")


def _straw(cleaned: dict[str, float], *, client: Client, **_: Any) -> dict[str, Any]:
    words = [about(back_pressure(Tube(**cleaned)))]
    owned = client.props if client else list(BORES)
    props = [(PROPS[code], back_pressure(Tube(*BORES[code]))) for code in owned if code in BORES]
    if "tube" in owned:
        props += [
            (f"the tube, {depth} cm deep in water", back_pressure(Tube(*BORES["tube"], depth)))
            for depth in DEPTHS_CM
        ]
    props += [(name, class_pressure(level)) for name, level in TRILLS.items()]
    ladder = [(name, about(pressure)) for name, pressure in in_order(props)]
    title = f"{client}’s equipment, from easy to hard" if client else "From easy to hard"
    return {"words": words, "ladder": ladder, "ladder_title": title}


def _breath(cleaned: Any, **_: Any) -> dict[str, Any]:
    cycles = cleaned.pop("cycles")
    breath = BreathCount(**cleaned)
    words = [
        f"In {breath.seconds(breath.breath_in):.1f} s, "
        f"out {breath.seconds(breath.breath_out):.1f} s, one breath {breath.cycle_s:.1f} s",
        f"{breath.breaths_per_min:.1f} breaths a minute, out ÷ in {breath.ratio:g}",
        f"{cycles} breaths take {breath.total_s(cycles):.0f} s",
    ]
    must = breath.must_be_meant(cycles)
    if must:
        words.append(
            "Under 4 breaths a minute for more than 2 minutes: check that this is intended."
        )
    return {"words": words, "warns": must}


def _pattern(cleaned: dict[str, Any], **_: Any) -> dict[str, Any]:
    drill = cleaned["drill"]
    rounds = drill.rounds()
    firsts = " ".join(each.groups[0][0].name() for each in rounds)
    words = [
        f"{len(rounds)} rounds on {firsts}",
        f"{drill.seconds:.0f} s in all, {rounds[0].seconds:.1f} s a round",
    ]
    return {"words": words, "score": score(drill), "has_sound": True}


def played(drill: PatternDrill) -> list[tuple[Any, ...]]:
    """A drill as (note or None for a rest, beats), one after the other."""
    line: list[tuple[Note | None, float]] = []
    for each in drill.rounds():
        for group in each.groups:
            line += [(note, 1.0) for note in group]
            line.append((None, 1.0))
        line.append((None, 1.0))
    return line
