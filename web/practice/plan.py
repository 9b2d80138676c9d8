"""A programme as the session that a device leads: everything it needs, so that it can continue
without a network. The order and times are decided here; the device follows."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.templatetags.static import static
from django.urls import reverse
from django.utils import timezone

from reedcore.catalogue.ages import CHILD
from reedcore.catalogue.tasks import Task
from reedcore.dose.session_time import DAY_VOICED_CAP_S, SIP_S
from reedcore.dose.today import USUAL_ANSWERS, PlannedItem, Voice, day_for
from reedcore.measures import kind_of
from reedcore.pitch import Spelling
from reedcore.programme.lines import lines_of, marked_text, material_of
from reedcore.programme.plan import rest_s
from reedcore.programme.session import (
    CountedTask,
    LedRound,
    beat_of,
    counted_task,
    end_silence_s,
    is_led_in_phases,
    is_rest_day,
    led_session,
    led_task,
    model_of,
    planned_items,
)
from reedcore.programme.strands import strands_of
from reedcore.programme.times import LONG_TRY_S
from reedcore.programme.words import client_lines
from reedcore.safety import (
    ASKABLE,
    ASKED_AFTER,
    ASKED_BEFORE,
    TIERS,
    Flag,
    avoids_water,
    consequence,
)
from reedcore.safety.flags import Tier
from web.catalogue.queries import all_tasks
from web.clients.wording import IN_THE_MOUTH, PROPS
from web.programmes.presenters import strand_name
from web.record.client_context import person_of
from web.record.models import PrescribedTask
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name, wording_of
from web.record.today import (
    asks_bother,
    flag_ending_today,
    known_flags,
    open_session,
    pausing_stops,
    sessions_today,
    strain_today,
    tries_today,
    voiced_today,
)
from web.screening.queries import is_paused
from web.screening.wording import caution_advice
from web.ui.marked import WordList, Words, gettext_noop
from web.ui.words import sentence_case

from .presenters import stage
from .wording import (
    CHILD_FLAGS,
    CLIENT_ADVICE,
    CLIENT_FLAGS,
    SKIPS,
    VOICES,
    instruction,
    title_of,
)

if TYPE_CHECKING:
    from reedcore.programme.strands import Strand
    from web.clients.models import Client
    from web.record.models import ProgrammeVersion

#: Words for the breath cue before a trial.
BREATHS = Words(
    {
        "": gettext_noop("Breathe in"),
        "nose": gettext_noop("Breathe in through the nose"),
        "mouth": gettext_noop("Breathe in through the mouth"),
        "straw": gettext_noop("Breathe in through the straw"),
    }
)
#: A glide with a breath in its middle has three phases.
PHASES = WordList(
    [
        gettext_noop("Start steady, then glide up"),
        gettext_noop("Breathe in"),
        gettext_noop("Now glide down"),
    ]
)


def session_plan(
    programme: ProgrammeVersion, *, client: Client, is_in_clinic: bool = False
) -> tuple[dict, dict]:
    """Return the plan for the device as plain JSON values, and each task's picture."""
    catalogue = all_tasks(client.clinic)
    programme.client = client
    blocks: list[dict[str, Any]] = []
    stages: dict[int, Any] = {}
    by_item: dict[str, dict[str, list[PrescribedTask]]] = {}
    rows = list(programme.tasks.all())
    today = tries_today(rows)
    for task in rows:
        task.programme = programme
        of_item = by_item.setdefault(task.item_id or f"task-{task.pk}", {})
        of_item.setdefault(task.task_code, []).append(task)
    for item_id, by_code in by_item.items():
        # The item's task, and its alternative if there is a choice.
        blocks_made = [
            _block(
                item_id, [PrescribedRow(task, catalogue) for task in tasks], client.caution_codes
            )
            for tasks in by_code.values()
        ]
        made = [block for block in blocks_made if block]
        if made:
            blocks.append({**made[0], "or": made[1] if len(made) > 1 else None})
        for tasks in by_code.values():
            stages |= {
                task.pk: stage(PrescribedRow(task, catalogue), today[task.pk]) for task in tasks
            }
    prescribed = programme.prescribed
    answers = prescribed.answers if prescribed else USUAL_ANSWERS
    by_strand = _strand_plans(programme, blocks, catalogue, client)
    is_child = wording_of(programme) == CHILD
    reported = client.stops.filter(cancelled_at=None).values_list("flags", flat=True)
    dizzy = sum(Flag.LIGHT_HEADED in flags for flags in reported)
    return {
        "client": client.pk,
        "version": programme.version,
        "clinic": is_in_clinic,
        "made_at": timezone.now().isoformat(),
        "paused": is_paused(client),
        # Last day of voice rest: a device uses its own date, also offline.
        "rest_until": client.voice_rest_until.isoformat() if client.voice_rest_until else None,
        # By key, whether each stop still pauses practice: a device compares it with its own record.
        "stops": pausing_stops(client),
        "over_today": flag_ending_today(client, now=timezone.now()),
        "loud_over": strain_today(client, now=timezone.now()),
        "blocks": blocks,
        "sessions": [_session(strand, planned) for strand, planned in by_strand if planned],
        "answers": {voice.value: day_for(voice, answers).value for voice in Voice},
        "rest_today": _is_rest_day(programme, client),
        "open_session": _open_session(client),
        "done_today": sessions_today(client, now=timezone.now()),
        "voiced": {"cap_s": DAY_VOICED_CAP_S, "today_s": voiced_today(client, now=timezone.now())},
        "sip_s": SIP_S,
        # Clients who must not drink get the pause without water.
        "dry": avoids_water(client.caution_codes),
        "advice": caution_advice(client.caution_codes),
        "breath_s": settings.BREATH_CUE_S,
        "waits": {"line_s": settings.LINE_WAIT_S, "answer_s": settings.ANSWER_WAIT_S},
        "needs_reference": any(block["level"] for block in blocks),
        "asks_bother": asks_bother(client, now=timezone.now()),
        "asks_medication": bool(prescribed and prescribed.asks_medication),
        "flags": _flags(client, dizzy, is_child=is_child),
        # Pictures for effort and feeling; an adult is named where one is needed.
        "is_child": is_child,
        "before": [flag.value for flag in ASKED_BEFORE],
        "known": [CLIENT_FLAGS[flag] for flag in known_flags(client) if flag in ASKED_BEFORE],
        "after": [flag.value for flag in ASKED_AFTER],
        "voices": {voice.value: words for voice, words in VOICES.items()},
        "skips": dict(SKIPS),
    }, stages


def _open_session(client: Client) -> dict[str, Any] | None:
    """Return the session that the client is in now, for a page that would begin another."""
    found = open_session(client, now=timezone.now())
    if found is None:
        return None
    return {"key": str(found.key), "begun_at": found.begun_at.isoformat()}


def _strand_plans(
    programme: ProgrammeVersion,
    blocks: list[dict[str, Any]],
    catalogue: dict[str, Task],
    client: Client,
) -> list[Any]:
    """Return the programmes in force together, each with its planned items."""
    prescribed = programme.prescribed
    if prescribed is None:
        alone = [
            PlannedItem(
                each["id"],
                each["family"],
                is_loud=False,
                is_short=True,
                is_in_seconds=each["in_seconds"],
            )
            for each in blocks
        ]
        return [(None, alone)]
    person, _ = person_of(client)
    found = planned_items(prescribed, catalogue, person, cautions=client.caution_codes)
    in_seconds = {each["id"]: each["in_seconds"] for each in blocks}
    planned = {
        id: replace(found[id], is_in_seconds=in_seconds[id]) for id in in_seconds if id in found
    }
    return [
        (strand, [planned[i.id] for i in strand.programme.items if i.id in planned])
        for strand in strands_of(prescribed)
    ]


def _planned_alone(block: Any) -> PlannedItem:
    """Return a single held sound: the whole session, on every day."""
    return PlannedItem(
        block["id"],
        block["family"],
        is_loud=False,
        is_short=True,
        is_in_seconds=block["in_seconds"],
    )


def _session(strand: Strand | None, planned: list[PlannedItem]) -> dict:
    """Return one of today's sessions: title, time, and its order for each day."""
    led = led_session(strand, planned)
    return {
        "id": strand.id if strand else "",
        "name": sentence_case(strand_name(strand)) if strand else "",
        "when": strand.programme.dose.trigger if strand else "",
        "a_day": led.a_day,
        "sort": led.sort.value,
        "orders": {
            f"{day.value}:{sort.value}": [[turn.id, turn.is_repeat] for turn in turns]
            for (day, sort), turns in led.orders.items()
        },
    }


def _is_rest_day(programme: ProgrammeVersion, client: Client) -> bool:
    today = timezone.localdate(timezone=client.zone)
    return programme.prescribed is not None and is_rest_day(programme.prescribed.dose, today)


def _flags(client: Client, dizzy_before: int, *, is_child: bool) -> dict[str, Any]:
    """Return each possible problem, most urgent first, with the advice for the
    client."""
    number = client.clinic.emergency_number
    most_urgent_first = sorted(Flag, key=lambda flag: list(Tier).index(TIERS[flag]))
    return {
        flag.value: {
            "words": CHILD_FLAGS[flag] if is_child else CLIENT_FLAGS[flag],
            # The text for an adult with a child.
            "adult": CLIENT_FLAGS[flag] if is_child else "",
            "advice": CLIENT_ADVICE[TIERS[flag]].format(emergency_number=number),
            "ends": found.ends_session,
            "pauses": found.pauses_practice,
            "urgent": TIERS[flag] is Tier.EMERGENCY,
            "asked": flag in ASKABLE,
        }
        for flag in most_urgent_first
        if (found := consequence([flag], light_headed_before=dizzy_before))
    }


def _lines(prescribed: PrescribedRow) -> list[str]:
    """Return the instruction, worded as the version says."""
    if prescribed.shipped is None or prescribed.item is None:
        return [instruction(prescribed.task)]
    return list(
        client_lines(prescribed.item, prescribed.shipped, wording_of(prescribed.task.programme))
    )


def _block(item_id: str, tasks: list[PrescribedRow], cautions: frozenset[Any]) -> dict | None:
    first = tasks[0]
    shipped, measure = first.shipped, first.task.measure
    if first.item and shipped is None:
        return None  # A deleted task of the clinic; the handout still has it.
    item, alone = first.prescribed_item.setting, first.item is None
    kind = kind_of(measure)
    is_heard = kind.is_heard
    block = {
        "id": item_id,
        "target_per_session": kind.has_session_target,
        "heard": is_heard,
        **_catalogue_facts(shipped),
        # A gentler day reduces seconds, where the task has them.
        "in_seconds": kind.can_be_shorter,
        "short": alone or item.short,
        "name": title_of(first) if shipped is None or not kind.can_be_steady else shipped.name,
        "lines": _lines(first),
        "picture": _picture(first),
        "depth_cm": first.params.get("depth_cm"),
        "cue": item.cue,
        "breath_words": BREATHS.get(first.params.get("breath_in_by", ""), BREATHS[""]),
        "pause_s": float(first.params.get("pause_s", 0)),
        "say_before": item.say_before,
        "cues": item.cues,
        "feedback": item.feedback,
        "sip": item.sip,
        "rest_s": rest_s(cautions),
        "ends_after_s": end_silence_s(first.prescribed_item),
        "ends_at_s": first.seconds if first.seconds > LONG_TRY_S else None,
        "level": item.floor is not None or item.ceiling is not None,
        "contrast": item.contrast,
        "model": model_of(first.prescribed_item),
        "beat": asdict(beat) if (beat := beat_of(first.prescribed_item)) else None,
        "phases": list(PHASES) if is_led_in_phases(first.prescribed_item) else [],
        "turns": [_turn(each) for each in tasks],
    }
    block["told"] = _counting_names(counted_task(first.prescribed_item)) if not is_heard else None
    if kind.is_by_line and shipped:
        block["say"] = [_pieces(line) for line in lines_of(item, shipped)]
    elif shipped and shipped.material and not alone:
        texts = material_of(item, shipped)
        block["read"] = [_pieces(marked_text(item, shipped, text)) for text in texts]
    return block


def _catalogue_facts(task: Task | None) -> dict:
    """Return the catalogue's facts about a task; empty for a single held sound."""
    if task is None:
        nothing = {"drawing": "", "props": [], "washed": False, "mirror": False, "caution": ""}
        alone = {"family": "block", "loud": False, "voiced": True, "felt": None, "faults": []}
        return nothing | alone
    return {
        "family": task.family,
        "loud": task.is_loud,
        "voiced": task.voiced,
        "drawing": static(task.drawing_path) if task.drawing else "",
        "props": [PROPS.get(prop, prop) for prop in task.props],
        "washed": bool(set(task.props) & IN_THE_MOUTH),
        "mirror": "mirror" in task.props,
        "caution": task.cautions,
        "felt": {"ask": task.felt[0], "if_not": task.felt[1]} if task.felt else None,
        "faults": [{"noticed": noticed, "try": remedy} for noticed, remedy in task.faults],
    }


def _pieces(line: tuple[Any, ...]) -> list[dict[str, Any]]:
    return [{"words": piece.words, "strong": piece.is_strong} for piece in line]


def _picture(prescribed: PrescribedRow) -> dict | None:
    """Return the picture to describe for the page; None if there is none."""
    pk = prescribed.item.picture if prescribed.item else None
    clinic = prescribed.task.programme.client.clinic
    found = clinic.pictures.filter(pk=pk).only("pk", "alt").first() if pk else None
    if found is None:
        return None
    return {"url": reverse("record:picture", args=[found.pk]), "alt": found.alt}


def _turn(prescribed: PrescribedRow) -> dict:
    """Return one row of results: a task on its note, with its number of trials."""
    led = led_task(prescribed.prescribed_item, reference_s=settings.REFERENCE_TONE_S)
    name = note_name(prescribed.task) or ""
    is_child = wording_of(prescribed.task.programme) == CHILD
    return {
        "task": prescribed.task.pk,
        # The name of a note says nothing to a child.
        "title": title_of(prescribed, note=None if is_child else name or None),
        "note": name,
        "tone": led.tone,
        "rounds": [_round(prescribed, each) for each in led.rounds],
        "seconds": led.seconds,
        "row": led.row,
        "gentler": asdict(led.gentler) if led.gentler else None,
        "tries": led.tries,
    }


def _round(prescribed: PrescribedRow, each: LedRound) -> dict:
    """Return one round of a pattern as it is announced, played and followed."""
    spelling = Spelling(prescribed.task.programme.client.spelling)
    return {
        **asdict(each),
        "starts_on": each.starts_on.name(spelling),
        "cue": prescribed.item.pattern.cue if prescribed.item else "",
    }


def _counting_names(counted: CountedTask) -> dict:
    """Return the unit to count or ask for, in the device's names."""
    found: dict[str, Any] = {"leads": counted.counts.value, "seconds": counted.seconds}
    if counted.breaths:
        found |= {
            "beat_s": counted.beat_s,
            "breaths": [
                [[phase.way, phase.counts] for phase in breath] for breath in counted.breaths
            ],
        }
    for name, value in (
        ("reps", counted.reps),
        ("items", counted.items),
        ("lower", counted.lower_is_better),
    ):
        if value is not None:
            found[name] = value
    return found
