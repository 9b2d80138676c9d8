"""A programme as the session that a device leads through: everything it needs, so that it can go on
without a network. The device follows; what is done when, and in which order, is settled here."""

import re

from django.conf import settings
from django.templatetags.static import static
from django.urls import reverse
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_material
from reedcore.dose import DoseKind
from reedcore.dose.session_time import SIP_S
from reedcore.dose.today import Day, Planned, SessionType, Voice, day_for, turns_today
from reedcore.measures import kind_of
from reedcore.measures.told import breath_of
from reedcore.programme.document import answers_of, dose_of
from reedcore.programme.plan import rest_s
from reedcore.safety import ASKED_AFTER, ASKED_BEFORE, TIERS, Flag, consequence, without_water
from reedcore.safety.flags import Tier
from web.catalogue.queries import every_task
from web.clients.queries import is_paused
from web.clients.wording import PROPS
from web.programmes.queries import note_name

from .asked import Asked
from .presenters import stage
from .queries import (
    asks_bother,
    known_flags,
    over_today,
    stops_known,
    strain_today,
    tries_today,
)
from .wording import CLIENT_ADVICE, CLIENT_FLAGS, SKIPS, VOICES, instruction, title_of

#: Lines of a script that are said where nothing says how many.
LINES = 10
#: Silence after which a try is over, seconds; who speaks lines thinks between them.
ENDS_AFTER_S = {"compound": 1.2, "pattern": 2.0, "script": 6.0}
USUALLY_ENDS_AFTER_S = 1.0
#: A breath inside a task takes less than this.
BREATH_INSIDE_S = 2.5
#: Rungs of the ladder of models, as the device knows them.
MODELS = {"together": "together", "after it": "after", "alone": "alone"}
_EMPHASIS = re.compile(r"\*([^*]+)\*")


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
    planned = [Planned(each["id"], each["family"], each["loud"], each["short"]) for each in blocks]
    said = client.stops.filter(taken_back_at=None).values_list("flags", flat=True)
    dizzy = sum(Flag.LIGHT_HEADED in flags for flags in said)
    return {
        "client": client.pk,
        "version": programme.version,
        "clinic": clinic_mode,
        "made_at": timezone.now().isoformat(),
        "paused": is_paused(client),
        # by its key, whether each stop still pauses: a device asks its own memory against this
        "stops": stops_known(client),
        "over_today": over_today(client, now=timezone.now()),
        "loud_over": strain_today(client, now=timezone.now()),
        "blocks": blocks,
        "orders": {
            f"{day.value}:{sort.value}": [
                [turn.id, turn.again] for turn in turns_today(planned, day=day, sort=sort)
            ]
            for day in Day
            for sort in SessionType
        },
        "answers": {
            voice.value: day_for(voice, answers_of(programme.document)).value for voice in Voice
        },
        "rest_today": _is_rest_day(programme, client),
        "sip_s": SIP_S,
        # who must not drink while practising has the pause all the same
        "dry": without_water(client.caution_codes),
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
        }
        for flag in most_urgent_first
        if (found := consequence([flag], light_headed_before=dizzy_before))
    }


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
        "short": item.get("short", True),
        "name": title_of(first) if shipped is None or not kind.steady else shipped.name,
        "lines": list(shipped.client) if shipped else [instruction(first.task)],
        "drawing": static(shipped.drawing_path) if shipped and shipped.drawing else "",
        "props": [PROPS.get(prop, prop) for prop in shipped.props] if shipped else [],
        "mirror": bool(shipped and "mirror" in shipped.props),
        "depth_cm": first.params.get("depth_cm"),
        "cue": item.get("cue", True),
        "cues": item.get("cues", False),
        "feedback": item.get("feedback", "live"),
        "sip": item.get("sip", False),
        "caution": shipped.cautions if shipped else "",
        "rest_s": rest_s(cautions),
        "ends_after_s": _ends_after_s(measure, shipped),
        "level": item.get("floor") is not None or item.get("ceiling") is not None,
        "felt": {"ask": shipped.felt[0], "if_not": shipped.felt[1]}
        if shipped and shipped.felt
        else None,
        "faults": [{"noticed": noticed, "try": remedy} for noticed, remedy in shipped.faults]
        if shipped
        else [],
        "contrast": item.get("contrast", False),
        "turns": [_turn(each, each_item=item) for each in tasks],
    }
    block["told"] = _told(first) if not heard else None
    if kind.by_line:
        block["say"] = _lines(first)
        block["model"] = MODELS.get(first.params.get("model", ""), "alone")
    return block


def _ends_after_s(measure: str, shipped) -> float:
    """After how much silence a try is over; a breath that belongs to it ends nothing."""
    usual = ENDS_AFTER_S.get(measure, USUALLY_ENDS_AFTER_S)
    if shipped and shipped.breath_inside != "none":
        return max(usual, BREATH_INSIDE_S)
    return usual


def _turn(asked: Asked, *, each_item) -> dict:
    """One row of results: a task on its note, so many tries."""
    task = asked.task
    row = each_item.get("row") or []
    plays = bool(task.note_midi is not None or (each_item.get("notes") and asked.shipped))
    tries = task.tries
    kind = kind_of(task.measure)
    if kind.by_line:
        tries = len(_lines(asked))
    elif not kind.is_heard:  # repetitions and breaths are counted inside one set
        tries = each_item.get("sets", 1)
    return {
        "task": task.pk,
        "title": title_of(asked, note=note_name(task)),
        "note": note_name(task) or "",
        "tone": reverse("practice:tone", args=[task.pk]) if plays else "",
        "seconds": asked.seconds,
        "row": row,
        "tries": tries * 2 if each_item.get("contrast") and not kind.by_line else tries,
    }


def _told(asked: Asked) -> dict:
    """What the device counts or asks for, where nothing is heard."""
    params, shipped = asked.params, asked.shipped
    measure = asked.task.measure
    found = {"seconds": asked.seconds}
    breath = breath_of(params)
    if measure == "counted" and breath:
        beat_s = 60.0 / breath.tempo_bpm
        found |= {
            "ticks": "metronome" in shipped.props,
            "beat_s": beat_s,
            "in": breath.breath_in,
            "out": breath.breath_out,
            "cycles": int(params.get("cycles", 1)),
        }
    elif measure == "reps":
        found["reps"] = int(params.get("reps", 1))
    elif measure == "checklist":
        found["items"] = list(shipped.items)
    elif measure == "count":
        found["lower"] = shipped.lower_is_better
    return found


def _lines(asked: Asked) -> list[list[dict]]:
    """Lines to say, each as pieces of which some are emphasised: ``*so*``, or stretched words."""
    item, shipped = asked.item, asked.shipped
    count = int(asked.params.get("lines", 0) or LINES)
    lines = item.get("lines") or list(shipped_material().get(shipped.material, ()))
    if not lines:
        lines = [" ".join(shipped.client)]
    said = (
        [lines[place % len(lines)] for place in range(max(1, count))] if len(lines) > 1 else lines
    )
    if item.get("contrast"):  # a pair compares the same line
        said = [line for line in said for _ in ("poor", "good")]
    if asked.task.task_code == "stretched_words":
        return [_stretched(line, place) for place, line in enumerate(said)]
    return [_emphasised(line) for line in said]


def _emphasised(line):
    pieces, at = [], 0
    for match in _EMPHASIS.finditer(line):
        pieces.append({"words": line[at : match.start()], "strong": False})
        pieces.append({"words": match[1], "strong": True})
        at = match.end()
    pieces.append({"words": line[at:], "strong": False})
    return [piece for piece in pieces if piece["words"]]


def _stretched(text, place):
    """The last words of the sentences first, then the first ones, to compare the two."""
    pieces = []
    for sentence in re.findall(r"[^.?!]+[.?!]?\s*", text):
        words = re.findall(r"\S+\s*", sentence)
        chosen = len(words) - 1 if place % 2 == 0 else 0
        pieces += [{"words": word, "strong": at == chosen} for at, word in enumerate(words)]
    return pieces
