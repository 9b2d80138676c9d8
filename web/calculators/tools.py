"""The calculators: form in, answer out as words and figures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import log2
from typing import TYPE_CHECKING, Any

from django.utils import timezone
from django.utils.translation import gettext

from reedcore.baseline import GoalSource, goal_from_volume, longest_of, s_to_z_ratio
from reedcore.baseline.goals import todays_target_s
from reedcore.devices.back_pressure import (
    Resistance,
    Tube,
    back_pressure,
    class_pressure,
    props_in_order,
)
from reedcore.devices.bores import BORES
from reedcore.devices.breath_counts import BreathCount
from reedcore.devices.levels import SoundPressureLevel
from reedcore.pitch import Note, note_nearest
from web.baseline.wording import RATIO_CAUTION, RATIO_NO_CLEARANCE
from web.clients.wording import PROPS
from web.ui.marked import WordList, gettext_noop

from . import forms
from .drawings import keyboard, score

if TYPE_CHECKING:
    from reedcore.devices.back_pressure import BackPressure
    from reedcore.pitch.patterns import PatternDrill
    from web.clients.models import Client

#: Depths at which a tube in water is compared with straws, cm.
DEPTHS_CM = (2, 4, 7)
TRILLS = WordList(
    (
        (gettext_noop("hum or “ng”"), Resistance.LOW),
        (gettext_noop("tongue trill"), Resistance.MIDDLE),
        (gettext_noop("lip trill"), Resistance.HIGH),
    )
)


@dataclass(frozen=True)
class Tool:
    """A calculator's name, title and form."""

    code: str
    title: str
    form: type[forms.ToolForm]


TOOLS = WordList(
    (
        Tool("note", gettext_noop("Note, Hz and cents"), forms.NoteForm),
        Tool("goal", gettext_noop("Hold goal from volume"), forms.GoalForm),
        Tool("ratio", "s/z", forms.RatioForm),
        Tool("distance", gettext_noop("Level at another distance"), forms.DistanceForm),
        Tool("straw", gettext_noop("Back pressure"), forms.StrawForm),
        Tool("breath", gettext_noop("Counted breath"), forms.BreathForm),
        Tool("pattern", gettext_noop("Growing pattern"), forms.PatternForm),
    )
)


def answer(code: str, cleaned: Any, *, client: Any, found: Any, a4_hz: Any) -> dict[str, Any]:
    """Return the answer of one calculator; ``found`` are the figures of the client's baseline, if
    any."""
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
    words = [
        gettext("{pitch:.1f} Hz is {note} {cents:+.0f} cents")
        .format(pitch=cleaned["pitch"], note=note.name(), cents=cents)
        .replace("-", "−")
    ]
    if cleaned.get("target"):
        off = 1200 * log2(cleaned["pitch"] / cleaned["target"])
        words.append(
            gettext("{off:+.0f} cents ({off_2:+.1f} semitones) from the comparison")
            .format(off=off, off_2=off / 100)
            .replace("-", "−")
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
        (
            gettext("Goal {seconds:.1f} s, the cap; first stage {stage_s:.1f} s")
            if goal.is_capped
            else gettext("Goal {seconds:.1f} s; first stage {stage_s:.1f} s")
        ).format(seconds=goal.seconds, stage_s=goal.stage_s),
        gettext("{volume_ml:g} mL ÷ 80 mL/s, and ÷ 100 for the stage").format(
            volume_ml=cleaned["volume_ml"]
        ),
    ]
    if source is GoalSource.VITAL_CAPACITY:
        words.append(gettext("An overestimate: voicing never uses the full vital capacity."))
    if cleaned.get("best_s"):
        today = todays_target_s(best_s=cleaned["best_s"], goal_s=goal.seconds)
        words.append(
            gettext("Today {today:g} s: the step at or under {best_s:g} s + 10 %").format(
                today=today, best_s=cleaned["best_s"]
            )
        )
    return {"words": words}


def _ratio(cleaned: Any, **_: Any) -> dict[str, Any]:
    ratio = s_to_z_ratio(
        s=longest_of([cleaned["s"]], required_trials=2),
        z=longest_of([cleaned["z"]], required_trials=2),
    )
    if ratio is None:  # The form requires both.
        return {"words": []}
    remark = RATIO_CAUTION if ratio.is_cautioned else RATIO_NO_CLEARANCE
    return {"words": [f"s/z {ratio.ratio:.2f}", remark], "warns": ratio.is_cautioned}


def _distance(cleaned: dict[str, float], **_: Any) -> dict[str, Any]:
    level = SoundPressureLevel(cleaned["level"], "C", cleaned["here_cm"] / 100)
    moved = level.at_distance(cleaned["there_cm"] / 100)
    return {
        "words": [
            gettext("{db_spl:.1f} dB SPL at {there_cm:g} cm").format(
                db_spl=moved.db_spl, there_cm=cleaned["there_cm"]
            ),
            gettext("For a free field. Walls make the difference smaller."),
        ]
    }


def approximate_pressure(pressure: BackPressure) -> str:
    """Return ``about 0.4 cmH₂O``."""
    words = (
        gettext("about {about:g} cmH₂O, rough")
        if pressure.is_rough
        else gettext("about {about:g} cmH₂O")
    )
    return words.format(about=pressure.about)


def _straw(cleaned: dict[str, float], *, client: Client, **_: Any) -> dict[str, Any]:
    words = [approximate_pressure(back_pressure(Tube(**cleaned)))]
    owned = client.props if client else list(BORES)
    props = [(PROPS[code], back_pressure(Tube(*BORES[code]))) for code in owned if code in BORES]
    if "tube" in owned:
        props += [
            (
                gettext("the tube, {depth} cm deep in water").format(depth=depth),
                back_pressure(Tube(*BORES["tube"], depth)),
            )
            for depth in DEPTHS_CM
        ]
    props += [(name, class_pressure(level)) for name, level in TRILLS]
    ladder = [(name, approximate_pressure(pressure)) for name, pressure in props_in_order(props)]
    title = (
        gettext("{client}’s equipment, from easy to hard").format(client=client)
        if client
        else gettext("From easy to hard")
    )
    return {"words": words, "ladder": ladder, "ladder_title": title}


def _breath(cleaned: Any, **_: Any) -> dict[str, Any]:
    cycles = cleaned.pop("cycles")
    breath = BreathCount(**cleaned)
    words = [
        gettext("In {seconds:.1f} s, out {seconds_2:.1f} s, one breath {cycle_s:.1f} s").format(
            seconds=breath.seconds(breath.breath_in),
            seconds_2=breath.seconds(breath.breath_out),
            cycle_s=breath.cycle_s,
        ),
        gettext("{breaths_per_min:.1f} breaths a minute, out ÷ in {ratio:g}").format(
            breaths_per_min=breath.breaths_per_min, ratio=breath.ratio
        ),
        gettext("{cycles} breaths take {total_s:.0f} s").format(
            cycles=cycles, total_s=breath.total_s(cycles)
        ),
    ]
    must = breath.needs_confirmation(cycles)
    if must:
        words.append(
            gettext(
                "Under 4 breaths a minute for more than 2 minutes: check that this is intended."
            )
        )
    return {"words": words, "warns": must}


def _pattern(cleaned: dict[str, Any], **_: Any) -> dict[str, Any]:
    drill = cleaned["drill"]
    rounds = drill.rounds()
    firsts = " ".join(each.groups[0][0].name() for each in rounds)
    words = [
        gettext("{rounds} rounds on {firsts}").format(rounds=len(rounds), firsts=firsts),
        gettext("{seconds:.0f} s in all, {seconds_2:.1f} s a round").format(
            seconds=drill.seconds, seconds_2=rounds[0].seconds
        ),
    ]
    return {"words": words, "score": score(drill), "has_sound": True}


def playable_drill(drill: PatternDrill) -> list[tuple[Any, ...]]:
    """Return a drill as consecutive (note or None for a rest, beats)."""
    line: list[tuple[Note | None, float]] = []
    for each in drill.rounds():
        for group in each.groups:
            line += [(note, 1.0) for note in group]
            line.append((None, 1.0))
        line.append((None, 1.0))
    return line
