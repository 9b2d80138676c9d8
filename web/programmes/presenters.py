"""The composer's picture, table, totals and second look."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import reduce
from itertools import chain
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.catalogue.settings import extras_of, ladders_of
from reedcore.checks import RULES
from reedcore.dose import session_time
from reedcore.dose.session_time import SIP_S
from reedcore.measures import kind_of
from reedcore.pitch import Note, Spelling, note_nearest
from reedcore.programme.led import Phase, breaths_of
from reedcore.programme.lines import numbers_in_force
from reedcore.programme.plan import count_trials
from reedcore.programme.prescribed_item import floor_in_force
from reedcore.programme.rungs import current_rung_value, ladder_of
from reedcore.programme.sounds import is_glide, line_of_round, notes_of, rounds_of
from reedcore.programme.words import NONE
from web.catalogue.wording import number_name, number_with_unit
from web.programmes.wording import SORTS
from web.ui.marked import Words, gettext_noop

from .composer_view import reason_before, second_look
from .wording import LEVELS, finding_words, fix_words

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from reedcore.checks.plan import Finding, Person, Plan
    from reedcore.dose.session_time import SessionPart, SessionTime
    from reedcore.programme.programme import Item, Programme
    from reedcore.programme.strands import Strand
    from web.clients.models import Client

WIDTH, LEFT, TOP, LANE = 1000, 66, 24, 18
#: Height of the notes in pixels; a wide range is compressed.
NOTES_H, MOST_PX_PER_ST = 110.0, 7.0
#: Lanes below the notes for tasks without pitch, by family.
LANES = {
    "release": ("release",),
    "breath": ("breath",),
    "voice": ("occluded", "onset", "block", "range", "loud", "cooldown"),
    "spoken": ("articulation",),
    "water": (),
}
LANE_NAMES = Words(
    {
        "release": gettext_noop("release"),
        "breath": gettext_noop("breath"),
        "voice": gettext_noop("voice"),
        "spoken": gettext_noop("spoken"),
        "water": gettext_noop("water"),
    }
)


@dataclass(frozen=True)
class Score:
    """The session in time: pitch upwards, minutes to the right."""

    width: int
    height: int
    left: int
    range: dict | None
    lines: list
    minutes: list
    lanes: list
    bars: list
    sips: list
    chosen: dict | None
    bottom: float
    spoken: str


def composer(
    programme: Programme, *, client: Client, tasks: Any, chosen: str = ""
) -> dict[str, Any]:
    """Return everything the composer's changing part shows."""
    look = second_look(client, programme, tasks)
    spelling = Spelling(client.spelling)
    overrules = programme.overrules
    numbers = {}
    for strand, _ in look.plans:
        words = gettext("{name}, task {number}") if strand.id else gettext("Task {number}")
        for number, item in enumerate(strand.programme.items, 1):
            numbers[item.id] = words.format(name=strand_name(strand), number=number)
    shown = [
        _finding(each, key, of, numbers, programme, tasks, spelling, overrules)
        for each, key, of in zip(look.findings, look.keys, look.of, strict=True)
    ]
    parts = [
        _strand(strand, plan, look.person, client, tasks, spelling, chosen)
        for strand, plan in look.plans
    ]
    return {
        "client": client,
        "prescribed": programme,
        "strands": parts,
        "chosen": chosen,
        "whole_day": sum(plan.day_voiced_s for _, plan in look.plans) / 60,
        "findings": shown,
        "open_stops": [each for each in shown if each["level"] == "stop" and not each["overruled"]],
        "quiet": len(RULES) - len({each.code for each in look.findings}),
    }


def strand_name(strand: Strand) -> str:
    """Return a programme's own name, or its type."""
    return strand.name or SORTS[strand.sort]


def _strand(
    strand: Strand,
    plan: Plan,
    person: Person,
    client: Client,
    tasks: dict[str, Task],
    spelling: Spelling,
    chosen: str,
) -> dict[str, Any]:
    """Return one of the programmes in force together: its picture, its table, its sums."""
    own = strand.programme
    time = session_time(item.part for item in plan.items)
    day, week = plan.dose.a_day, plan.dose.a_day * len(plan.dose.weekdays)
    short = session_time(item.part for item in plan.items if item.is_in_short_day)
    return {
        "id": strand.id,
        "name": strand_name(strand),
        "own": own,
        "own_name": strand.name,
        "score": score(own, plan, time, tasks, person, spelling, chosen),
        "rows": [_row(item, number, tasks, spelling) for number, item in enumerate(own.items, 1)],
        "minutes": time.seconds / 60,
        "seconds": time.seconds,
        "voiced_s": time.voiced_s,
        "tries": time.tries,
        "day": {"minutes": day * time.seconds / 60, "voiced_min": day * time.voiced_s / 60},
        "week": {"minutes": week * time.seconds / 60, "tries": week * time.tries},
        "short_min": short.seconds / 60
        if any(item.is_in_short_day for item in plan.items)
        else None,
    }


def _finding(
    finding: Finding,
    key: str,
    of: str,
    numbers: Any,
    programme: Programme,
    tasks: Any,
    spelling: Spelling,
    overrules: Any,
) -> dict[str, Any]:
    beside = programme.beside.get(of)
    return {
        "strand": beside.name or SORTS[beside.sort] if beside else "",
        "level": finding.level.value,
        "title": LEVELS[finding.level.value],
        "key": key,
        "item": finding.item,
        "number": numbers.get(finding.item),
        "words": finding_words(finding, spelling=spelling),
        "fix": fix_words(finding.fix, tasks=tasks, spelling=spelling) if finding.fix else "",
        "overruled": overrules.get(key, ""),
        "before": reason_before(overrules, key),
    }


def _row(item: Item, number: int, tasks: dict[str, Task], spelling: Spelling) -> dict[str, Any]:
    task = tasks[item.task]
    # A row sets its own steps, so no step of a ladder is in force.
    ladder = None if item.row else ladder_of(item, task)
    rung = gettext("rises within the session") if item.row else None
    nxt = None
    if ladder:
        value = current_rung_value(item, task, ladder)
        place = ladder.place_of(value)
        rung = (
            gettext("step {place} of {rungs}").format(place=place + 1, rungs=len(ladder.rungs))
            if place is not None
            else gettext("below step 1")
        )
        above = 0 if place is None else place + 1
        nxt = ladder.labels[above] if above < len(ladder.labels) else None
    level, floor = "", floor_in_force(item, task)
    if floor is not None:
        level = (
            gettext("{floor:+.0f} to {ceiling:+.0f} dB").format(floor=floor, ceiling=item.ceiling)
            if item.ceiling is not None
            else gettext("from {floor:+.0f} dB").format(floor=floor)
        )
    elif item.ceiling is not None:
        level = gettext("up to {ceiling:+.0f} dB").format(ceiling=item.ceiling)
    return {
        "item": item,
        "number": number,
        "task": task,
        "notes": " ".join(Note(midi).name(spelling) for midi in notes_of(item, task)),
        "target": target_words(item, task),
        "tries": f"{item.sets} × {count_trials(item, task) // item.sets}"
        if item.sets > 1
        else str(count_trials(item, task)),
        "level": level.replace("-", "−"),
        "rung": rung,
        "next": nxt,
        "or": tasks[item.alternative].name if item.alternative in tasks else "",
    }


#: Default pattern settings that need no mention.
USUAL = {"rounds_down": 0, "rounds_up": 0, "step_st": 1}


def target_words(item: Item, task: Task) -> str:
    """Return the target in a few words."""
    params = numbers_in_force(item)
    if breaths := breaths_of(item, task):
        return _breath_words(breaths, params["tempo"])
    if item.row:
        return ", ".join(f"{seconds:g}" for seconds in item.row) + " s"
    shown = [
        number_with_unit(params[name], parameter.unit)
        for name, parameter in task.parameters.items()
        if name in params and not isinstance(params[name], str)
        if name != "reps" and (name not in USUAL or params[name] != USUAL[name])
    ]
    shown += [
        f"{number_name(name)} {number_with_unit(params[name], parameter.unit)}"
        for name, parameter in extras_of(task).items()
        if params.get(name)
    ]
    return ", ".join([*shown, *_chosen_rungs(params, task)])


def _chosen_rungs(params: Mapping[str, Any], task: Task) -> Iterator[str]:
    """Yield the labels of the rungs in force, without rungs that mean "none"."""
    for ladder in ladders_of(task).values():
        value = params.get(ladder.changes)
        if isinstance(value, str) and value != NONE and value in ladder.rungs:
            yield ladder.labels[ladder.rungs.index(value)]


def _join_steps(words: Iterable[str]) -> str:
    return reduce(
        lambda so_far, each: gettext("{counts}, then {next}").format(counts=so_far, next=each),
        words,
    )


def _breath_words(breaths: tuple[tuple[Phase, ...], ...], tempo: float) -> str:
    """Return the counts of a set of breaths; they may grow from breath to breath."""
    ways: dict[str, dict[int, None]] = {}
    for phase in chain.from_iterable(breaths):
        ways.setdefault(phase.way, {})[phase.counts] = None
    values = {way: _join_steps(map(str, counts)) for way, counts in ways.items()}
    if len(ways["in"]) > 1 and "hold" in ways:
        words = gettext("in and out {out} counts, hold {hold} between, at {tempo:g} a minute")
    elif len(ways["in"]) > 1:
        words = gettext("in and out {out} counts at {tempo:g} a minute")
    elif "hold" in ways:
        words = gettext("in {in}, hold {hold}, out {out} counts at {tempo:g} a minute")
    else:
        words = gettext("in {in}, out {out} counts at {tempo:g} a minute")
    return words.format(tempo=tempo, **values)


def score(
    programme: Programme,
    plan: Plan,
    time: SessionTime,
    tasks: dict[str, Task],
    person: Person,
    spelling: Spelling,
    chosen: str = "",
) -> Score:
    """Return the drawing of the session."""
    pitched = [midi for item in programme.items for midi in _bar_notes(item, tasks[item.task])]
    low, high = (min(pitched), max(pitched)) if pitched else (48, 60)
    ends = _range_ends(person)
    if ends:
        low, high = min(low, ends[0]), max(high, ends[1])
    low, high = low - 2, high + 2
    px_per_st = min(MOST_PX_PER_ST, NOTES_H / (high - low))
    notes_h = (high - low) * px_per_st
    lane_y = {name: TOP + notes_h + 16 + LANE * at for at, name in enumerate(LANES)}
    px_per_s = (WIDTH - LEFT) / max(time.seconds, 300.0)
    bars, sips, box = [], [], None
    minutes = gettext("{at} min")

    def x(seconds: Any) -> Any:
        return round(LEFT + seconds * px_per_s, 1)

    def y(midi: Any) -> Any:
        return round(TOP + (high - midi) * px_per_st, 1)

    for item, core, start in zip(programme.items, plan.items, time.starts_s, strict=True):
        task, part = tasks[item.task], core.part
        name = f"{task.name}, {target_words(item, task)}"
        if item.notes:
            path = _pitched_path(item, task, part, start, x, y)
        else:
            spoken = kind_of(task.measure).is_by_line
            lane = "spoken" if spoken else next(k for k, v in LANES.items() if task.family in v)
            path = f"M{x(start)} {lane_y[lane]}H{x(start + part.seconds)}"
        kind = "bar" if item.notes else "lane"
        bars.append(
            {
                "path": path,
                "kind": gettext("{kind} loud").format(kind=kind) if core.is_loud else kind,
                "name": name,
            }
        )
        end = start + part.seconds
        if item.sip:
            sips.append(
                {"x": x(end), "width": round(SIP_S * px_per_s, 1), "y": lane_y["water"] - 6}
            )
        if item.id == chosen:
            box = {"x": x(start), "width": round(part.seconds * px_per_s, 1)}
    step = 60 * (1 if time.seconds < 600 else 2 if time.seconds < 1200 else 4)
    bottom = TOP + notes_h + 16 + LANE * len(LANES)
    return Score(
        width=WIDTH,
        height=round(bottom),
        left=LEFT,
        range={"y": y(ends[1]), "height": round(y(ends[0]) - y(ends[1]), 1)} if ends else None,
        lines=[
            {"y": y(midi), "name": Note(midi).name(spelling)}
            for midi in range(low + 1, high, 1)
            if midi % 12 in (0, 5) or (ends and midi in ends)
        ],
        minutes=[
            {"x": x(at), "words": minutes.format(at=at // 60)}
            for at in range(0, int(max(time.seconds, 300.0)) + 1, step)
        ],
        lanes=[{"y": value, "name": LANE_NAMES[name]} for name, value in lane_y.items()],
        bars=bars,
        sips=sips,
        chosen=box,
        bottom=round(bottom),
        spoken=(
            gettext(
                "{items} items in {seconds:.0f} minutes, {voiced_s:.0f} seconds of voice."
            ).format(items=len(programme.items), seconds=time.seconds / 60, voiced_s=time.voiced_s)
        ),
    )


def _bar_notes(item: Item, task: Any) -> list[int] | tuple[Any, ...]:
    """Return every note that its bars come to."""
    rounds = rounds_of(item, task)
    sung = [note.midi for each in rounds for group in each.groups for note in group]
    return sung or notes_of(item, task)


def _rounds_path(
    item: Item,
    task: Task,
    part: SessionPart,
    start: float,
    x: Callable[..., Any],
    y: Callable[..., Any],
) -> str:
    """Return a pattern, round by round, note by note."""
    at, bars = start + part.setup_s, []
    rounds = rounds_of(item, task)
    for turn in range(part.tries):
        each = rounds[turn % len(rounds)]
        at += part.tone_s + part.breath_s
        beat = each.seconds / max(1, len(line_of_round(each, 1.0)) - 1)
        now = at
        for note, _ in line_of_round(each, beat):
            if note:
                bars.append(f"M{x(now)} {y(note.midi)}H{x(now + 0.9 * beat)}")
            now += beat
        at += part.target_s + part.rest_s
    return "".join(bars)


def _pitched_path(
    item: Item,
    task: Task,
    part: SessionPart,
    start: float,
    x: Callable[..., Any],
    y: Callable[..., Any],
) -> str:
    """Return bars at their note as long as their hold; glides lean from end to end."""
    if rounds_of(item, task):
        return _rounds_path(item, task, part, start, x, y)
    each = part.tone_s + part.breath_s + part.target_s + part.rest_s
    at, bars = start + part.setup_s, []
    pitches = notes_of(item, task)
    glides = is_glide(item, task) and len(pitches) == 2
    notes = [pitches] if glides else [[midi, midi] for midi in pitches]
    for first, last in notes:
        for _ in range(max(1, part.tries // len(notes))):
            begin = at + part.tone_s + part.breath_s
            bars.append(f"M{x(begin)} {y(first)}L{x(begin + part.target_s)} {y(last)}")
            at += each
    return "".join(bars)


def _range_ends(person: Person) -> tuple[int, int] | None:
    comfort = person.comfortable or person.held
    if comfort is None:
        return None
    low, _ = note_nearest(comfort.low_hz, a4_hz=person.a4_hz)
    high, _ = note_nearest(comfort.high_hz, a4_hz=person.a4_hz)
    return low.midi, high.midi
