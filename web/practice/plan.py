"""A programme as the session that a device leads through: everything it needs, so that it can go on
without a network. The device follows; what is done when, and in which order, is settled here."""

from django.conf import settings
from django.templatetags.static import static
from django.urls import reverse
from django.utils import timezone

from reedcore.catalogue.ages import ADULT
from reedcore.checks import hazards_of
from reedcore.dose import DoseKind
from reedcore.dose.session_time import DAY_VOICED_CAP_S, SIP_S
from reedcore.dose.today import (
    Day,
    Planned,
    SessionType,
    Voice,
    day_for,
    gentler_s,
    turns_today,
)
from reedcore.measures import kind_of
from reedcore.pitch import Spelling
from reedcore.programme.document import answers_of, dose_of
from reedcore.programme.led import breaths_of, rising_s
from reedcore.programme.lines import lines_of, marked_text, material_of
from reedcore.programme.plan import plans_of, rest_s
from reedcore.programme.sounds import beat_s, drill_of, line_of
from reedcore.programme.strands import strands_of
from reedcore.programme.times import LONG_TRY_S
from reedcore.programme.words import client_lines
from reedcore.safety import (
    ASKABLE,
    ASKED_AFTER,
    ASKED_BEFORE,
    TIERS,
    Flag,
    Hazard,
    consequence,
    without_water,
)
from reedcore.safety.flags import Tier
from web.catalogue.queries import every_task
from web.clients.queries import is_paused
from web.clients.wording import IN_THE_MOUTH, PROPS, caution_advice
from web.programmes.person import person_of
from web.programmes.presenters import strand_name
from web.programmes.queries import note_hz, note_name
from web.ui.words import sentence_case

from .asked import Asked
from .presenters import stage
from .queries import (
    asks_bother,
    known_flags,
    over_today,
    sessions_today,
    stops_known,
    strain_today,
    tries_today,
    voiced_today,
)
from .wording import CLIENT_ADVICE, CLIENT_FLAGS, SKIPS, VOICES, instruction, title_of

#: Types of session that are done on a trigger.
ON_TRIGGER = (SessionType.RESET.value, SessionType.EVENT.value)
#: In a long try a breath between takes less than this, seconds.
LONG_BREAK_S = 6.0
#: How the breath before a try is called for.
BREATHS = {
    "": "Breathe in", "nose": "Breathe in through the nose",
    "mouth": "Breathe in through the mouth", "straw": "Breathe in through the straw",
}  # fmt: skip
#: A bar before a start on the beat, the beat on which the breath is taken, and how many beats are
#: counted before anything else that keeps time; the recording begins so long before the first.
BAR, BREATHE_ON, COUNT_IN, BEAT_LEAD_S = 8, 7, 4, 0.5
#: A glide with a breath in its middle is led in three parts.
PHASES = ["Start steady, then glide up", "Breathe in", "Now glide down"]
#: Silence after which a try is over, seconds; who speaks lines thinks between them.
ENDS_AFTER_S = {"compound": 1.2, "pattern": 2.0, "script": 6.0}
USUALLY_ENDS_AFTER_S = 1.0
#: A breath inside a task takes less than this.
BREATH_INSIDE_S = 2.5
#: Rungs of the ladder of models, as the device knows them.
MODELS = {"together": "together", "after it": "after", "alone": "alone"}


def session_plan(programme, *, client, clinic_mode=False) -> tuple[dict, dict]:
    """What a device is told, as plain values that JSON can carry; and each task's picture."""
    catalogue = every_task(client.clinic)
    programme.client = client
    blocks, stages = [], {}
    by_item = {}
    prescribed = list(programme.tasks.all())
    today = tries_today(prescribed)
    for task in prescribed:
        task.programme = programme
        of_item = by_item.setdefault(task.item_id or f"task-{task.pk}", {})
        of_item.setdefault(task.task_code, []).append(task)
    for item_id, by_code in by_item.items():
        # the item's own task, and the one that will do as well where a choice is offered
        made = [
            _block(item_id, [Asked(task, catalogue) for task in tasks], client.caution_codes)
            for tasks in by_code.values()
        ]
        made = [block for block in made if block]
        if made:
            blocks.append({**made[0], "or": made[1] if len(made) > 1 else None})
        for tasks in by_code.values():
            stages |= {task.pk: stage(Asked(task, catalogue), today[task.pk]) for task in tasks}
    by_strand = _by_strand(programme, blocks, catalogue, client)
    said = client.stops.filter(taken_back_at=None).values_list("flags", flat=True)
    dizzy = sum(Flag.LIGHT_HEADED in flags for flags in said)
    return {
        "client": client.pk,
        "version": programme.version,
        "clinic": clinic_mode,
        "made_at": timezone.now().isoformat(),
        "paused": is_paused(client),
        # the last day of voice rest: a device goes by its own day, also without a network
        "rest_until": client.voice_rest_until.isoformat() if client.voice_rest_until else None,
        # by its key, whether each stop still pauses: a device asks its own memory against this
        "stops": stops_known(client),
        "over_today": over_today(client, now=timezone.now()),
        "loud_over": strain_today(client, now=timezone.now()),
        "blocks": blocks,
        "sessions": [_session(strand, planned) for strand, planned in by_strand if planned],
        "answers": {
            voice.value: day_for(voice, answers_of(programme.document)).value for voice in Voice
        },
        "rest_today": _is_rest_day(programme, client),
        "done_today": sessions_today(client, now=timezone.now()),
        "voiced": {"cap_s": DAY_VOICED_CAP_S, "today_s": voiced_today(client, now=timezone.now())},
        "sip_s": SIP_S,
        # who must not drink while practising has the pause all the same
        "dry": without_water(client.caution_codes),
        "advice": caution_advice(client.caution_codes),
        "breath_s": settings.BREATH_CUE_S,
        "needs_reference": any(block["level"] for block in blocks),
        "asks_bother": asks_bother(client, now=timezone.now()),
        "asks_medication": bool(programme.document.get("practice", {}).get("medication")),
        "flags": _flags(client, dizzy),
        "before": [flag.value for flag in ASKED_BEFORE],
        "known": [CLIENT_FLAGS[flag] for flag in known_flags(client) if flag in ASKED_BEFORE],
        "after": [flag.value for flag in ASKED_AFTER],
        "voices": {voice.value: words for voice, words in VOICES.items()},
        "skips": SKIPS,
    }, stages


def _by_strand(programme, blocks, catalogue, client):
    """The programmes in force together, each with what is planned in it."""
    more = _voice_of(programme, catalogue, client)
    planned = {
        each["id"]: Planned(
            each["id"],
            each["family"],
            short=each["short"],
            in_seconds=each["in_seconds"],
            **{"loud": each["loud"], **more.get(each["id"], {})},
        )
        for each in blocks
    }
    if not programme.document:
        return [(None, list(planned.values()))]
    return [
        (strand, [planned[i["id"]] for i in strand.document["items"] if i["id"] in planned])
        for strand in strands_of(programme.document)
    ]


def _voice_of(programme, catalogue, client) -> dict[str, dict]:
    """By item, how much voice it is and whether it is high: what a gentler day goes by."""
    if not programme.document:
        return {}
    person, _ = person_of(client)
    found = {}
    for _, plan in plans_of(programme.document, catalogue, cautions=client.caution_codes):
        for item in plan.items:
            found[item.id] = {
                "loud": item.is_loud,
                "high": Hazard.HIGH in hazards_of(item, person),
                "voiced_s": item.part.voiced_s,
            }
    return found


def _session(strand, planned) -> dict:
    """One of today's sessions: what it is called, when it is done, and its order for each day."""
    dose = dose_of(strand.document) if strand and strand.document.get("dose") else None
    beside = bool(strand and strand.id)
    on_trigger = beside and dose.kind is DoseKind.ON_DEMAND
    # what is done on a trigger fills no slot of the day; the rest is a session of the programme
    sort = SessionType.FULL.value
    if on_trigger:
        sort = strand.sort if strand.sort in ON_TRIGGER else SessionType.EVENT.value
    return {
        "id": strand.id if strand else "",
        "name": sentence_case(strand_name(strand)) if strand else "",
        "when": strand.document["dose"].get("trigger", "") if strand else "",
        "a_day": dose.a_day if dose and not on_trigger else None,
        "sort": sort,
        "orders": {
            f"{day.value}:{each.value}": [
                [turn.id, turn.again] for turn in turns_today(planned, day=day, sort=each)
            ]
            for day in Day
            for each in SessionType
        },
    }


def _is_rest_day(programme, client) -> bool:
    """Whether the dose leaves today free; a programme without dated sessions has no such day."""
    if not programme.document:
        return False
    dose = dose_of(programme.document)
    today = timezone.localdate(timezone=client.zone)
    if dose.kind is DoseKind.ON_DEMAND or today < dose.start:
        return False
    return today.weekday() not in dose.weekdays or today in dose.off


def _flags(client, dizzy_before):
    """Each thing that can be wrong, most urgent first, with what the client is told to do."""
    number = client.clinic.emergency_number
    most_urgent_first = sorted(Flag, key=lambda flag: list(Tier).index(TIERS[flag]))
    return {
        flag.value: {
            "words": CLIENT_FLAGS[flag],
            "advice": CLIENT_ADVICE[TIERS[flag]].format(emergency_number=number),
            "ends": found.ends_session,
            "pauses": found.pauses,
            "urgent": TIERS[flag] is Tier.EMERGENCY,
            "asked": flag in ASKABLE,
        }
        for flag in most_urgent_first
        if (found := consequence([flag], light_headed_before=dizzy_before))
    }


def _lines(asked: Asked) -> list[str]:
    """The instruction, worded as the version says."""
    if asked.shipped is None:
        return [instruction(asked.task)]
    wording = (asked.task.programme.document or {}).get("wording", ADULT)
    return list(client_lines(asked.item, asked.shipped, wording))


def _block(item_id, tasks: list[Asked], cautions) -> dict | None:
    first = tasks[0]
    shipped, item, measure = first.shipped, first.item, first.task.measure
    if item and shipped is None:
        return None  # a clinic's own task that is gone: the handout has it still
    kind = kind_of(measure)
    heard = kind.is_heard
    block = {
        "id": item_id,
        "measure": measure,
        "heard": heard,
        "family": shipped.family if shipped else "block",
        "loud": shipped.is_loud if shipped else False,
        "voiced": shipped.voiced if shipped else True,
        # a gentler day asks for fewer seconds where it is seconds that are asked for
        "in_seconds": _in_seconds(kind, measure),
        "short": item.get("short", True),
        "name": title_of(first) if shipped is None or not kind.steady else shipped.name,
        "lines": _lines(first),
        "drawing": static(shipped.drawing_path) if shipped and shipped.drawing else "",
        "picture": _picture(first),
        "props": [PROPS.get(prop, prop) for prop in shipped.props] if shipped else [],
        "washed": bool(shipped and set(shipped.props) & IN_THE_MOUTH),
        "mirror": bool(shipped and "mirror" in shipped.props),
        "depth_cm": first.params.get("depth_cm"),
        "cue": item.get("cue", True),
        "breath_words": BREATHS.get(first.params.get("breath_in_by", ""), BREATHS[""]),
        "pause_s": float(first.params.get("pause_s", 0)),
        "say_before": item.get("say_before", ""),
        "cues": item.get("cues", False),
        "feedback": item.get("feedback", "live"),
        "sip": item.get("sip", False),
        "caution": shipped.cautions if shipped else "",
        "rest_s": rest_s(cautions),
        "ends_after_s": _ends_after_s(first),
        "ends_at_s": first.seconds if first.seconds > LONG_TRY_S else None,
        "level": item.get("floor") is not None or item.get("ceiling") is not None,
        "felt": {"ask": shipped.felt[0], "if_not": shipped.felt[1]}
        if shipped and shipped.felt
        else None,
        "faults": [{"noticed": noticed, "try": remedy} for noticed, remedy in shipped.faults]
        if shipped
        else [],
        "contrast": item.get("contrast", False),
        "model": _model(first),
        "beat": _beat(first),
        "phases": PHASES if _in_phases(first) else [],
        "turns": [_turn(each, each_item=item) for each in tasks],
    }
    block["told"] = _told(first) if not heard else None
    if kind.by_line:
        block["say"] = [_pieces(line) for line in lines_of(item, shipped)]
    elif shipped and shipped.material and item:
        texts = material_of(item, shipped)
        block["read"] = [_pieces(marked_text(item, shipped, text)) for text in texts]
    return block


def _in_seconds(kind, measure) -> bool:
    """Whether it is seconds that are asked for, and can be fewer."""
    return bool(kind.steady or measure == "timed")


def _pieces(line):
    return [{"words": piece.words, "strong": piece.strong} for piece in line]


def _picture(asked: Asked) -> dict | None:
    """What is spoken about, as the page shows it; None where none is chosen, or it is gone."""
    pk = asked.item.get("picture")
    clinic = asked.task.programme.client.clinic
    found = clinic.pictures.filter(pk=pk).only("pk", "alt").first() if pk else None
    if found is None:
        return None
    return {"url": reverse("catalogue:picture", args=[found.pk]), "alt": found.alt}


def _model(asked: Asked) -> str:
    """Whether something is played before a try: with it, before it, or nothing."""
    kind = kind_of(asked.task.measure)
    chosen_one = asked.params.get("model", "")
    if kind.follows:
        return MODELS.get(chosen_one, "after")
    return MODELS.get(chosen_one, "alone") if kind.by_line else ""


def _beat(asked: Asked) -> dict | None:
    """The beat that a heard task keeps: sounded before it, shown during it; and of a start on its
    beat, after how many beats the voice comes in and on which the breath is taken."""
    tempo = asked.params.get("tempo")
    if not tempo or not asked.shipped or not kind_of(asked.task.measure).is_heard:
        return None
    starts = asked.asking.kind == "on_the_beat"
    beat_s = 60.0 / float(tempo)
    return {
        "beat_s": beat_s,
        "before": BAR if starts else COUNT_IN,
        "breathe_on": BREATHE_ON if starts else None,
        "at_s": BEAT_LEAD_S + BAR * beat_s if starts else None,
        "lead_s": BEAT_LEAD_S,
        # a try whose notes are followed is in time by its notes; lines are said over the beat
        "sounds": kind_of(asked.task.measure).by_line,
    }


def _in_phases(asked: Asked) -> bool:
    way = asked.shipped.shape if asked.shipped else ""
    return way == "up_and_down" and asked.asking.breath_inside == "required"


def _ends_after_s(asked: Asked) -> float:
    """After how much silence a try is over; a breath that belongs to it ends nothing."""
    usual = ENDS_AFTER_S.get(asked.task.measure, USUALLY_ENDS_AFTER_S)
    if asked.seconds > LONG_TRY_S:
        return max(usual, LONG_BREAK_S)
    if asked.asking.breath_inside != "none":
        return max(usual, BREATH_INSIDE_S)
    return usual


def _turn(asked: Asked, *, each_item) -> dict:
    """One row of results: a task on its note, so many tries."""
    task = asked.task
    row = list(rising_s(each_item)) if each_item.get("params") else each_item.get("row") or []
    tries = task.tries
    kind = kind_of(task.measure)
    rounds = []
    if kind.by_line:
        tries = len(lines_of(each_item, asked.shipped))
    elif not kind.is_heard:  # repetitions and breaths are counted inside one set
        tries = len(row) or each_item.get("sets", 1)
    elif kind.follows and each_item and asked.shipped:
        drill = drill_of(each_item, asked.shipped)
        rounds = [_round(asked, each, drill.beat_s) for each in drill.rounds()] if drill else []
    if rounds:  # also of a version from before, whose rounds were all one try
        tries = max(tries, len(rounds))
    return {
        "task": task.pk,
        "title": title_of(asked, note=note_name(task)),
        "note": note_name(task) or "",
        "tone": [] if rounds else _tone(asked),
        "rounds": rounds,
        "seconds": asked.seconds,
        "row": row,
        "gentler": {"seconds": gentler_s(asked.seconds), "row": [gentler_s(each) for each in row]}
        if asked.seconds and _in_seconds(kind, task.measure)
        else None,
        "tries": tries * 2 if each_item.get("contrast") and not kind.by_line else tries,
    }


def _tone(asked: Asked, number=None) -> list[list]:
    """What is played before a try: (Hz, or nothing for a rest; seconds), one after the other."""
    hz = note_hz(asked.task)
    if hz is not None:
        return [[round(hz, 3), settings.REFERENCE_TONE_S]]
    if not asked.item or asked.shipped is None:
        return []
    a4_hz = asked.task.programme.client.clinic.a4_hz
    line = line_of(asked.item, asked.shipped, number=number)
    return [[round(note.hz(a4_hz=a4_hz), 3) if note else None, s] for note, s in line]


def _round(asked: Asked, each, beat_s) -> dict:
    """One round of a pattern as it is announced, played and followed."""
    spelling = Spelling(asked.task.programme.client.spelling)
    return {
        "number": each.number,
        "left": each.remaining,
        "starts_on": each.groups[0][0].name(spelling),
        "crosses": each.crosses,
        "cue": asked.item.get("pattern", {}).get("cue", ""),
        "seconds": round(each.seconds, 2),
        "tone": _tone(asked, each.number),
    }


def _told(asked: Asked) -> dict:
    """What the device counts or asks for, where nothing is heard."""
    params, shipped = asked.params, asked.shipped
    measure = asked.task.measure
    found = {"seconds": asked.seconds}
    breaths = breaths_of(asked.item, shipped) if asked.item and shipped else ()
    if measure == "counted" and breaths:
        found |= {
            "beat_s": beat_s(params),
            "breaths": [[[phase.way, phase.counts] for phase in breath] for breath in breaths],
        }
    elif measure == "reps":
        found["reps"] = int(params.get("reps", 1))
    elif measure == "checklist":
        found["items"] = list(shipped.items)
    elif measure == "count":
        found["lower"] = shipped.lower_is_better
    return found
