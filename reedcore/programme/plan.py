"""A programme as the plan that is checked: the duration and the physical demands of each item."""

from collections.abc import Collection, Mapping
from dataclasses import replace
from datetime import date
from types import MappingProxyType
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.checks.plan import CheckedItem, Plan, ProgrammeType, School
from reedcore.devices.back_pressure import Tube, back_pressure
from reedcore.devices.bores import BORES
from reedcore.dose import Dose, DoseKind, SessionPart
from reedcore.measures import kind_of
from reedcore.measures.told import breath_of
from reedcore.pitch import Note
from reedcore.safety import LUNG_REST_S, Caution, Hazard

from .led import is_equal_breath, rising_s
from .lines import lines_of
from .prescribed_item import PrescribedItem
from .programme import Item, Programme
from .sounds import beat_s, groups_of, is_glide, notes_of, rounds_of
from .strands import Strand, strands_of
from .times import item_seconds
from .words import NONE, breath_inside

LYING = "lying with book"
#: Fallback for kinds without a best of their own: a glide is voiced, and a counted or phased breath
#: is air.
BEST_OF = {"glide": "hold", "counted": "hiss", "compound": "hiss"}
#: Level shapes with a rise.
SWELLING = ("swell", "both")
#: Families whose unvoiced tasks use neither breath nor voice.
WITHOUT_BREATH = ("release", "cooldown")
#: Hazards that a setting adds to its task.
BROUGHT = {
    ("breath_in_by", "straw"): Hazard.SUCK,
    ("posture", LYING): Hazard.LYING_FLAT,
    ("bubbles", "vigorous"): Hazard.HARD_BLOW,
}
#: Reference tone, breath in, rest, preparation (conventions), seconds.
TONE_S, BREATH_S, REST_S, SETUP_S = 2.0, 3.0, 5.0, 10.0


def count_trials(item: Item, task: Task) -> int:
    """Set × repetitions × notes (a glide's two notes are its ends); a row has one try a step, a
    pattern one a round, a script one a line."""
    if kind_of(task.measure).is_by_line:
        return len(lines_of(item, task))
    reps = int(item.params.get("reps", 1)) * max(1, len(rounds_of(item, task)))
    notes = max(1, len(item.notes)) if kind_of(task.measure).is_by_note else 1
    return item.sets * (len(rising_s(item)) or reps) * notes


def rest_s(cautions: Collection[Caution]) -> float:
    """Return the pause after a try; longer where the record asks for it."""
    return LUNG_REST_S if Caution.LUNG_DISEASE in cautions else REST_S


def session_part(
    item: Item, task: Task, cautions: Collection[Caution] = frozenset()
) -> SessionPart:
    """Return an item's share of the session."""
    seconds = item_seconds(item, task)
    leads_in = item.cue and kind_of(task.measure).has_lead_in
    return SessionPart(
        tries=count_trials(item, task),
        target_s=seconds,
        is_voiced=task.voiced,
        setup_s=SETUP_S,
        tone_s=TONE_S if task.tone and item.notes else 0.0,
        breath_s=BREATH_S if leads_in else 0.0,
        rest_s=rest_s(cautions),
        has_sip_after=item.sip,
    )


def pressure_of(item: Item, task: Task) -> float | None:
    """Return an estimate from the prescribed bore, length and depth in water; by default those of
    the named prop."""
    bores = [BORES[prop] for prop in task.props if prop in BORES]
    if not bores:
        return None
    params, (bore, length) = item.params, bores[0]
    tube = Tube(
        float(params.get("bore_mm", bore)),
        float(params.get("length_cm", length)),
        float(params.get("depth_cm", 0.0)),
    )
    return back_pressure(tube).cmh2o


def reach_of(item: Item, task: Task) -> tuple[Note, ...]:
    """Return the lowest and the highest note of all rounds of a pattern; empty without notes."""
    rounds = rounds_of(item, task) if kind_of(task.measure).is_followed else ()
    notes = [note for each in rounds for group in each.groups for note in group]
    return (min(notes), max(notes)) if notes else ()


def longest_out_s(item: Item, task: Task) -> float | None:
    """Return the longest out-breath; None if it is not known."""
    params = item.params
    if breath_inside(item, task) != NONE:
        return None
    if kind_of(task.measure).is_one_breath:
        return float(max(item.row, default=0) or item_seconds(item, task))
    if breath := breath_of(_longest_breath(item, task)):
        return breath.seconds(breath.breath_out)
    if {"s_s", "z_s"} <= set(params):
        return float(params["s_s"]) + float(params["z_s"])
    return None


def hazards_of_item(item: Item, task: Task) -> frozenset[Hazard]:
    """Return the task's own, with those that its settings bring, and without those that they take
    away."""
    params = {**task.choice, **item.params}
    hazards = set(task.hazards)
    for (name, value), brought in BROUGHT.items():
        if params.get(name) == value:
            hazards.add(brought)
    if params.get("posture") not in (None, LYING):
        hazards.discard(Hazard.LYING_FLAT)
    if _held_breath_s(item):
        hazards.add(Hazard.BREATH_HOLD)
    if task.voiced and task.level in SWELLING:
        hazards.add(Hazard.SWELL)
    if not task.own and (task.voiced or task.family not in WITHOUT_BREATH):
        hazards.add(Hazard.UPPER_AIRWAY)
    return frozenset(hazards)


def _held_breath_s(item: Item) -> float | None:
    """Return the longest breath hold, quiet or between in and out; None without one."""
    params = item.params
    if "held_s" in params:
        return float(max(rising_s(item), default=params["held_s"]))
    counts = float(params.get("held", 0))
    return max(float(params.get("pause_s", 0)), counts * beat_s(params)) or None


def _longest_breath(item: Item, task: Task) -> Mapping[str, Any]:
    """Return the numbers of a counted breath at the last of its rising counts."""
    params = item.params
    if not item.row or "breath_out" not in params:
        return params
    most = max(item.row)
    longest = {**params, "breath_out": most}
    return {**longest, "breath_in": most} if is_equal_breath(params, task) else longest


def plan_of(
    programme: Programme,
    tasks: Mapping[str, Task],
    *,
    best: Mapping[str, float] | None = None,
    before: Mapping[str, float] | None = None,
    cautions: Collection[Caution] = frozenset(),
    before_cmh2o: Mapping[str, float] | None = None,
    before_loud_s: float | None = None,
) -> Plan:
    """Return the plan.

    Args:
        best: by task code, the client's best; the empty code stands for every held voice.
        before: by item, the seconds in force seven days ago; by task code the most of any.
        before_cmh2o: back pressure before the change.
        before_loud_s: strong voice a day that was in force then.
        cautions: what is on record; some lengthen the pauses.
    """
    return Plan(
        items=tuple(
            checked_item(
                item, tasks[item.task], best or {}, before or {}, cautions, before_cmh2o or {}
            )
            for item in programme.items
        ),
        dose=programme.dose,
        school=School(programme.school),
        sort=ProgrammeType(programme.sort),
        daily_for_life=programme.daily_for_life,
        before_loud_s=before_loud_s,
    )


def plans_of(
    programme: Programme, tasks: Mapping[str, Task], **known: Any
) -> tuple[tuple[Strand, Plan], ...]:
    """Return all programmes that are in force together, the main one first; each knows how much
    voice the others ask for. ``known`` as for :func:`plan_of`."""
    plans = [(each, plan_of(each.programme, tasks, **known)) for each in strands_of(programme)]
    whole = sum(plan.day_voiced_s for _, plan in plans)
    loud = sum(plan.day_loud_s for _, plan in plans)
    return tuple(
        (
            strand,
            replace(
                plan,
                beside_voiced_s=whole - plan.day_voiced_s,
                beside_loud_s=loud - plan.day_loud_s,
            ),
        )
        for strand, plan in plans
    )


def single_sound_plan(
    task: PrescribedItem, *, best: Mapping[str, float], before: Mapping[str, float]
) -> Plan:
    """Return a single held sound as a plan, with its duration and repetitions."""
    held = CheckedItem(
        id="held",
        task=task.code,
        family="block",
        part=SessionPart(tries=task.tries, target_s=task.target_s or 0.0, is_voiced=True),
        hazards=frozenset({Hazard.EMPTIES_LUNGS, Hazard.LONG_BREATH}),
        seconds=task.target_s,
        notes=() if task.note_midi is None else (Note(task.note_midi),),
        longest_out_s=task.target_s,
        best_s=best.get("hold"),
        before_s=before.get(task.item_key),
        reason="asked for by itself",
        is_in_short_day=True,
    )
    dose = Dose(DoseKind.ON_DEMAND, date(2000, 1, 1), a_day=1, weekdays=(0, 1, 2, 3, 4), weeks=1)
    return Plan((held,), dose, sort=ProgrammeType.EXTRA)


def checked_item(
    item: Item,
    task: Task,
    best: Mapping[str, float] = MappingProxyType({}),
    before: Mapping[str, float] = MappingProxyType({}),
    cautions: Collection[Caution] = frozenset(),
    before_cmh2o: Mapping[str, float] = MappingProxyType({}),
) -> CheckedItem:
    """Return one item as the check sees it."""
    params = item.params
    seconds = max(rising_s(item), default=None) or params.get("seconds")
    if breath_inside(item, task) != NONE:  # Its duration spans several breaths.
        seconds = None
    return CheckedItem(
        id=item.id,
        task=task.code,
        family=task.family,
        part=session_part(item, task, cautions),
        hazards=hazards_of_item(item, task),
        props=task.props,
        needs_prop=bool(task.props),
        sound=item.sound,
        is_own=task.own,
        has_cue_off=task.breath_cue and not item.cue,
        seconds=float(seconds) if seconds else None,
        notes=tuple(Note(midi) for midi in notes_of(item, task)),
        glides=is_glide(item, task),
        reach=reach_of(item, task),
        lacks_start=not item.notes and bool(groups_of(item, task)),
        longest_out_s=longest_out_s(item, task),
        all_the_air=task.all_the_air,
        floor_db=item.floor,
        ceiling_db=item.ceiling,
        best_s=best.get(task.code, best.get(BEST_OF.get(task.measure, task.measure))),
        before_s=before.get(item.id, before.get(task.code)),
        before_cmh2o=before_cmh2o.get(item.id, before_cmh2o.get(task.code)),
        breath=breath_of(_longest_breath(item, task)),
        cycles=int(params.get("cycles", 1)),
        held_breath_s=_held_breath_s(item),
        pant_s=params.get("pant_s"),
        pressure_cmh2o=pressure_of(item, task),
        reason=item.reason,
        is_in_short_day=item.short,
        is_intended=bool(item.meant.strip()),
    )
