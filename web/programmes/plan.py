"""A document as the plan that the core checks, for the person it is for."""

from math import isfinite

from django.utils import timezone

from reedcore.checks import Item, Person, Plan, School
from reedcore.devices.back_pressure import Tube, back_pressure
from reedcore.devices.breath_counts import BreathCount
from reedcore.dose import Part
from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.safety import Caution, forbidden_marks
from web.catalogue.tasks import Task
from web.clients.derived import derived
from web.clients.wording import BORES

from .document import dose_of

#: What a try lasts where nothing times it (conventions), seconds.
A_LINE_S, A_REP_S, A_COUNT_S, A_TICK_S = 6.0, 8.0, 30.0, 10.0
TONE_S, BREATH_S, REST_S, SETUP_S = 2.0, 3.0, 5.0, 10.0


def try_seconds(task: Task, params: dict) -> float:
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


def breath_of(params: dict) -> BreathCount | None:
    """The counted breath of an item; None where it has none or cannot be breathed."""
    if not {"breath_in", "breath_out", "tempo"} <= set(params):
        return None
    try:
        return BreathCount(int(params["breath_in"]), int(params["breath_out"]), params["tempo"])
    except Refusal:
        return None


def tries_of(item: dict, task: Task) -> int:
    """Sets × repetitions × notes (a glide's two notes are its ends); a row has one try a step."""
    reps = int(item["params"].get("reps", 1))
    notes = 1 if task.measure != "hold" else max(1, len(item["notes"]))
    return item["sets"] * (len(item["row"]) or reps) * notes


def part_of(item: dict, task: Task) -> Part:
    """An item's share of the session."""
    seconds = try_seconds(task, item["params"])
    if item["row"]:
        seconds = sum(item["row"]) / len(item["row"])
    timed = task.measure in ("timed", "counted", "script", "checklist", "count")
    return Part(
        tries=tries_of(item, task),
        target_s=seconds,
        voiced=task.voiced,
        setup_s=SETUP_S,
        tone_s=TONE_S if task.tone and item["notes"] else 0.0,
        breath_s=0.0 if timed or not item["cue"] else BREATH_S,
        rest_s=REST_S,
        sip_after=item["sip"],
    )


def pressure_of(item: dict, task: Task) -> float | None:
    """An estimate for the prop that is named, with its depth in water."""
    bores = [BORES[prop] for prop in task.props if prop in BORES]
    if not bores:
        return None
    return back_pressure(Tube(*bores[0], float(item["params"].get("depth_cm", 0.0)))).cmh2o


def plan_of(document: dict, tasks: dict[str, Task], *, best=None, before=None) -> Plan:
    """The plan.

    Args:
        best: by item id, the client's best on the same task, note and sound.
        before: by task code, the seconds in force seven days ago.
    """
    return Plan(
        items=tuple(
            _item(item, tasks[item["task"]], best or {}, before or {}) for item in document["items"]
        ),
        dose=dose_of(document),
        school=School(document.get("school", "soft")),
        daily_for_life=document.get("daily_for_life", False),
    )


def _item(item, task, best, before):
    params = item["params"]
    asked = max(item["row"], default=None) or params.get("seconds")
    return Item(
        id=item["id"],
        task=task.code,
        family=task.family,
        part=part_of(item, task),
        marks=task.marks,
        props=task.props,
        needs_prop=bool(task.props),
        seconds=float(asked) if asked else None,
        notes=tuple(Note(midi) for midi in item["notes"]),
        glides=task.measure == "glide",
        floor_db=item["floor"],
        ceiling_db=item["ceiling"],
        best_s=best.get(task.code),
        before_s=before.get(task.code),
        breath=breath_of(params),
        cycles=int(params.get("cycles", 1)),
        held_breath_s=params.get("held_s"),
        pant_s=params.get("pant_s"),
        pressure_cmh2o=pressure_of(item, task),
        reason=item["reason"],
        in_short=item["short"],
        meant=bool(item["meant"].strip()),
    )


def person_of(client) -> tuple[Person, object]:
    """What the record and the newest baseline say, and what that baseline came to (or None)."""
    sheet = client.baselines.select_related("client__clinic").first()
    found = derived(sheet, list(sheet.trials.all())) if sheet else None
    cautions = client.caution_codes
    person = Person(
        forbidden=forbidden_marks(cautions, loud_from=client.loud_from, on=timezone.localdate()),
        comfortable=found.comfortable_range if found else None,
        held=found.held_range if found else None,
        props=frozenset(client.props),
        after_surgery=Caution.VOCAL_FOLD_SURGERY in cautions,
        a4_hz=client.clinic.a4_hz,
    )
    return person, found


def best_by_task(document: dict, tasks: dict[str, Task], found) -> dict[str, float]:
    """The longest vowel of the baseline stands for every held voice until there is practice."""
    if found is None or found.longest_vowel is None or not isfinite(found.longest_vowel.seconds):
        return {}
    return {
        item["task"]: found.longest_vowel.seconds
        for item in document["items"]
        if tasks[item["task"]].measure == "hold"
    }
