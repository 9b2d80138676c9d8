"""A document as the plan that the core checks, for the person it is for."""

from datetime import date
from math import isfinite
from types import MappingProxyType

from django.db.models import Count, Max
from django.utils import timezone

from reedcore.catalogue.tasks import Task
from reedcore.checks import Item, Person, Plan, School, SessionType
from reedcore.devices.back_pressure import Tube, back_pressure
from reedcore.devices.breath_counts import BreathCount
from reedcore.devices.levels import TOLD_AT_M
from reedcore.dose import Dose, DoseKind, Part
from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.pitch.patterns import GROWING, PatternDrill
from reedcore.programme.document import dose_of
from reedcore.safety import LUNG_REST_S, Caution, Hazard, larynx_seen
from web.clients.derived import derived
from web.clients.queries import newest_screen
from web.clients.wording import BORES
from web.sound.queries import sound_pressure

from .models import PrescribedTask

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


def rest_s(cautions) -> float:
    """The pause after a try; longer where the record asks for it."""
    return LUNG_REST_S if Caution.LUNG_DISEASE in cautions else REST_S


def part_of(item: dict, task: Task, cautions=frozenset()) -> Part:
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
        rest_s=rest_s(cautions),
        sip_after=item["sip"],
    )


def pressure_of(item: dict, task: Task) -> float | None:
    """An estimate for the prop that is named, with its depth in water."""
    bores = [BORES[prop] for prop in task.props if prop in BORES]
    if not bores:
        return None
    return back_pressure(Tube(*bores[0], float(item["params"].get("depth_cm", 0.0)))).cmh2o


def reach_of(item: dict, task: Task) -> tuple[Note, ...]:
    """The lowest and the highest note of all rounds of a pattern; empty where it has no notes."""
    if task.measure != "pattern" or not item["notes"] or not (task.degrees or task.growing):
        return ()
    params = item["params"]
    try:
        rounds = PatternDrill(
            start=Note(item["notes"][0]),
            groups=GROWING if task.growing else (task.degrees,),
            rounds_down=int(params.get("rounds_down", 0)),
            rounds_up=int(params.get("rounds_up", 0)),
        ).rounds()
    except Refusal:  # off the keyboard at its very start: the start note itself is out of range
        return ()
    notes = [note for each in rounds for group in each.groups for note in group]
    return (min(notes), max(notes))


def out_s(item: dict, task: Task) -> float | None:
    """The longest out-breath that is asked for; None where nothing says how long."""
    params = item["params"]
    if task.measure in ("hold", "hiss", "glide"):
        return float(max(item["row"], default=0) or params.get("seconds", 5.0))
    if breath := breath_of(params):
        return breath.seconds(breath.breath_out)
    if {"s_s", "z_s"} <= set(params):
        return float(params["s_s"]) + float(params["z_s"])
    return None


def plan_of(
    document: dict, tasks: dict[str, Task], *, best=None, before=None, cautions=frozenset()
) -> Plan:
    """The plan.

    Args:
        best: by task code, the client's best; the empty code stands for every held voice.
        before: by task code, the seconds in force seven days ago.
        cautions: what is on record; some lengthen the pauses.
    """
    return Plan(
        items=tuple(
            item_of(item, tasks[item["task"]], best or {}, before or {}, cautions)
            for item in document["items"]
        ),
        dose=dose_of(document),
        school=School(document.get("school", "soft")),
        sort=SessionType(document.get("sort", "full")),
        daily_for_life=document.get("daily_for_life", False),
    )


def one_sound(task: PrescribedTask, *, best, before) -> Plan:
    """One held sound, prescribed by itself, as a plan: as long and as often as it takes."""
    held = Item(
        id="held",
        task=task.task_code,
        family="block",
        part=Part(tries=task.tries, target_s=task.target_s or 0.0, voiced=True),
        hazards=frozenset({Hazard.EMPTIES_LUNGS, Hazard.LONG_BREATH}),
        seconds=task.target_s,
        notes=() if task.note_midi is None else (Note(task.note_midi),),
        out_s=task.target_s,
        best_s=best.get(HOLD),
        before_s=before.get(task.task_code),
        reason="asked for by itself",
        in_short=True,
    )
    dose = Dose(DoseKind.ON_DEMAND, date(2000, 1, 1), a_day=1, weekdays=(0, 1, 2, 3, 4), weeks=1)
    return Plan((held,), dose, sort=SessionType.EXTRA)


def item_of(
    item: dict,
    task: Task,
    best=MappingProxyType({}),
    before=MappingProxyType({}),
    cautions=frozenset(),
) -> Item:
    """One item as the check sees it."""
    params = item["params"]
    asked = max(item["row"], default=None) or params.get("seconds")
    return Item(
        id=item["id"],
        task=task.code,
        family=task.family,
        part=part_of(item, task, cautions),
        hazards=task.hazards,
        props=task.props,
        needs_prop=bool(task.props),
        seconds=float(asked) if asked else None,
        notes=tuple(Note(midi) for midi in item["notes"]),
        glides=task.measure == "glide",
        reach=reach_of(item, task),
        out_s=out_s(item, task),
        all_the_air=task.all_the_air,
        floor_db=item["floor"],
        ceiling_db=item["ceiling"],
        best_s=best.get(task.code, best.get(task.measure)),
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
    today = timezone.localdate()
    person = Person(
        screened=newest_screen(client) is not None,
        larynx_seen=larynx_seen(client.safety_case()),
        cautions=client.caution_codes,
        forbidden=client.forbidden(on=today),
        comfortable=found.comfortable_range if found else None,
        held=found.held_range if found else None,
        props=frozenset(client.props) if client.props else None,
        comfortable_db_spl=_comfortable_db_spl(client, found, today),
        a4_hz=client.clinic.a4_hz,
    )
    return person, found


def _comfortable_db_spl(client, found, today):
    """At 30 cm, where the device that took the baseline is calibrated."""
    if found is None or found.comfortable_level is None:
        return None
    level = sound_pressure(client.clinic, found.comfortable_level, on=today)
    return level.at(TOLD_AT_M).db_spl if level else None


#: The measures for which a baseline knows a best, whatever the task.
HOLD, HISS = "hold", "hiss"
#: So many tries of a task since the baseline say more of it than the baseline does.
ENOUGH_TRIES = 4


def bests(client, found) -> dict[str, float]:
    """The client's best seconds: by task code where it was practised since the baseline, and by
    measure what the baseline says of every other held voice and hiss."""
    best = {}
    for measure, longest in (
        (HOLD, found.longest_vowel if found else None),
        (HISS, found.longest_s if found else None),
    ):
        if longest is not None and isfinite(longest.seconds):
            best[measure] = longest.seconds
    tried = PrescribedTask.objects.filter(
        programme__client=client, measure__in=(HOLD, HISS), trials__total_s__isnull=False
    ).exclude(task_code="")
    if found is not None:
        tried = tried.filter(trials__performed_at__date__gte=found.on)
    for code, longest, tries in tried.values_list("task_code").annotate(
        Max("trials__total_s"), Count("trials")
    ):
        if tries >= ENOUGH_TRIES:
            best[code] = longest
    return best
