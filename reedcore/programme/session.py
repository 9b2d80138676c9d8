"""How a device leads through a session: the order of each day, and of each task its tries, its
rounds, its beat and when a try is over."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from reedcore.catalogue.tasks import Task
from reedcore.checks import Person, hazards_of
from reedcore.dose import Dose, DoseKind
from reedcore.dose.today import Day, PlannedItem, SessionType, Turn, gentler_s, turns_today
from reedcore.measures import CountedThing, kind_of
from reedcore.pitch import Note
from reedcore.safety import Caution, Hazard

from .led import Phase, breaths_of, rising_s
from .plan import plans_of
from .prescribed_item import PrescribedItem
from .programme import Programme
from .sounds import beat_s, drill_of, line_of
from .strands import Strand
from .times import LONG_TRY_S
from .words import NONE

#: In a long trial, breaths between takes are shorter than this, and so are breaths inside a task,
#: seconds.
LONG_BREAK_S, BREATH_INSIDE_S = 6.0, 2.5
#: Beats of the bar before a start on the beat, the beat for the breath, and the count-in elsewhere;
#: the recording starts this long before the first beat.
BAR, BREATHE_ON, COUNT_IN, BEAT_LEAD_S = 8, 7, 4, 0.5
#: Model rungs, as the device names them.
MODELS = {"together": "together", "after it": "after", "alone": "alone"}
#: Session types on a trigger.
ON_TRIGGER = (SessionType.RESET, SessionType.EVENT)

#: A tone: (hertz, or None for a rest; seconds), in order.
Tone = tuple[tuple[float | None, float], ...]


@dataclass(frozen=True, slots=True)
class Beat:
    """The beat that a heard task keeps.

    Attributes:
        beat_s: seconds of one beat.
        before: beats counted before the try.
        breathe_on, at_s: of a start on its beat, the beat on which the breath is taken and the
            second at which the voice comes in; None elsewhere.
        lead_s: the recording begins this long before the first beat.
        sounds: whether the beat sounds during the try; notes that are followed keep time by
            themselves.
    """

    beat_s: float
    before: int
    breathe_on: int | None
    at_s: float | None
    lead_s: float
    sounds: bool


@dataclass(frozen=True, slots=True)
class LedRound:
    """A round of a pattern.

    Attributes:
        number, left: which one it is, and how many follow.
        starts_on: its first note.
        crosses: it crosses the bridge between registers.
        seconds: how long it lasts.
        tone: what is played of it.
    """

    number: int
    left: int
    starts_on: Note
    crosses: bool
    seconds: float
    tone: Tone


@dataclass(frozen=True, slots=True)
class GentlerTry:
    """Return the target of a trial, or its row, on a gentler day, seconds."""

    seconds: float
    row: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class LedTask:
    """A prescribed task as a device leads it.

    Attributes:
        seconds: how long a try lasts, or is to last.
        row: the rising seconds of its tries; empty where nothing rises.
        tries: how many there are, a contrast pair counted twice.
        rounds: of a pattern; empty elsewhere.
        tone: played before a try; empty where nothing is, or where the rounds have their own.
        gentler: on a gentler day; None where no seconds are asked for.
    """

    seconds: float
    row: tuple[float, ...]
    tries: int
    rounds: tuple[LedRound, ...]
    tone: Tone
    gentler: GentlerTry | None


@dataclass(frozen=True, slots=True)
class CountedTask:
    """The unit that a device counts or asks for in a task without measured sound.

    Attributes:
        counts: what it counts; nothing where the time is all there is.
        beat_s, breaths: of counted breathing.
        reps: of repetitions.
        items: of a checklist.
        lower_is_better: of a typed number.
    """

    counts: CountedThing
    seconds: float
    beat_s: float | None = None
    breaths: tuple[tuple[Phase, ...], ...] = ()
    reps: int | None = None
    items: tuple[str, ...] | None = None
    lower_is_better: bool | None = None


@dataclass(frozen=True, slots=True)
class LedSession:
    """A session of today: its type, how often a day, and its order by day and type.

    Attributes:
        a_day: None where it is done on a trigger.
    """

    sort: SessionType
    a_day: int | None
    orders: Mapping[tuple[Day, SessionType], tuple[Turn, ...]]


def model_of(prescribed: PrescribedItem) -> str:
    """Return when a model is played: "together", "after", "alone"; empty for none."""
    kind, chosen = kind_of(prescribed.measure), prescribed.params.get("model", "")
    if kind.is_followed:
        return MODELS.get(chosen, MODELS["after it"])
    return MODELS.get(chosen, MODELS["alone"]) if kind.is_by_line else ""


def beat_of(prescribed: PrescribedItem) -> Beat | None:
    """Return the beat of a measured task; None without one."""
    tempo = prescribed.params.get("tempo")
    if not tempo or prescribed.shipped is None or not kind_of(prescribed.measure).is_heard:
        return None
    starts = prescribed.kind == "on_the_beat"
    seconds = 60.0 / float(tempo)
    return Beat(
        beat_s=seconds,
        before=BAR if starts else COUNT_IN,
        breathe_on=BREATHE_ON if starts else None,
        at_s=BEAT_LEAD_S + BAR * seconds if starts else None,
        lead_s=BEAT_LEAD_S,
        sounds=kind_of(prescribed.measure).is_by_line,
    )


def is_led_in_phases(prescribed: PrescribedItem) -> bool:
    """Return whether a glide is led up, through a breath, and down."""
    shape = prescribed.shipped.shape if prescribed.shipped else ""
    return shape == "up_and_down" and prescribed.breath_inside == "required"


def end_silence_s(prescribed: PrescribedItem) -> float:
    """Return the silence that ends a try, s; a breath inside a task is shorter."""
    usual = kind_of(prescribed.measure).end_silence_s
    if prescribed.seconds > LONG_TRY_S:
        return max(usual, LONG_BREAK_S)
    if prescribed.breath_inside != NONE:
        return max(usual, BREATH_INSIDE_S)
    return usual


def led_task(prescribed: PrescribedItem, *, reference_s: float) -> LedTask:
    """Return a prescribed task as it is led.

    Args:
        reference_s: how long a reference tone lasts.
    """
    item, kind = prescribed.item, kind_of(prescribed.measure)
    row = rising_s(item) if item else ()
    rounds: tuple[LedRound, ...] = ()
    tries = prescribed.tries_per_session
    if not kind.is_heard:  # Repetitions and breaths are counted within one set.
        tries = len(row) or (item.sets if item else 1)
    elif kind.is_followed:
        rounds = _rounds(prescribed, reference_s)
        # In earlier versions all rounds were one trial.
        tries = max(tries, len(rounds))
    gentler = None
    if prescribed.seconds and kind.can_be_shorter:
        gentler = GentlerTry(gentler_s(prescribed.seconds), tuple(map(gentler_s, row)))
    twice = bool(item and item.contrast) and not kind.is_by_line
    return LedTask(
        seconds=prescribed.seconds,
        row=row,
        tries=2 * tries if twice else tries,
        rounds=rounds,
        tone=() if rounds else _tone(prescribed, reference_s),
        gentler=gentler,
    )


def _rounds(prescribed: PrescribedItem, reference_s: float) -> tuple[LedRound, ...]:
    item, task = prescribed.item, prescribed.shipped
    drill = drill_of(item, task) if item and task else None
    if drill is None:
        return ()
    return tuple(
        LedRound(
            number=each.number,
            left=each.remaining,
            starts_on=each.groups[0][0],
            crosses=each.crosses_bridge,
            seconds=round(each.seconds, 2),
            tone=_tone(prescribed, reference_s, each.number),
        )
        for each in drill.rounds()
    )


def _tone(prescribed: PrescribedItem, reference_s: float, number: int | None = None) -> Tone:
    if prescribed.note is not None:
        return ((round(prescribed.note.hz(a4_hz=prescribed.a4_hz), 3), reference_s),)
    if prescribed.item is None or prescribed.shipped is None:
        return ()
    line = line_of(prescribed.item, prescribed.shipped, number=number)
    return tuple(
        (round(note.hz(a4_hz=prescribed.a4_hz), 3) if note else None, seconds)
        for note, seconds in line
    )


def counted_task(prescribed: PrescribedItem) -> CountedTask:
    """Return the unit that a device counts or asks for in an unmeasured task."""
    params, task, seconds = prescribed.params, prescribed.shipped, prescribed.seconds
    breaths = breaths_of(prescribed.item, task) if prescribed.item and task else ()
    match counts := kind_of(prescribed.measure).counts:
        case CountedThing.BREATHS if breaths:
            return CountedTask(counts, seconds, beat_s=beat_s(params), breaths=breaths)
        case CountedThing.REPETITIONS:
            return CountedTask(counts, seconds, reps=int(params.get("reps", 1)))
        case CountedThing.ITEMS if task is not None:
            return CountedTask(counts, seconds, items=task.items)
        case CountedThing.NUMBER if task is not None:
            return CountedTask(counts, seconds, lower_is_better=task.lower_is_better)
    return CountedTask(CountedThing.NOTHING, seconds)


def planned_items(
    programme: Programme,
    tasks: Mapping[str, Task],
    person: Person,
    *,
    cautions: frozenset[Caution],
) -> dict[str, PlannedItem]:
    """Return by item the traits that the plan of a day needs: family, voice, strong or high."""
    return {
        item.id: PlannedItem(
            item.id,
            item.family,
            is_loud=item.is_loud,
            is_short=item.is_in_short_day,
            is_high=Hazard.HIGH in hazards_of(item, person),
            voiced_s=item.part.voiced_s,
        )
        for _, plan in plans_of(programme, tasks, cautions=cautions)
        for item in plan.items
    }


def led_session(strand: Strand | None, planned: Iterable[PlannedItem]) -> LedSession:
    """Return one of today's sessions; without a strand it is one task prescribed alone."""
    items = tuple(planned)
    dose = strand.programme.dose if strand else None
    on_trigger = bool(strand and strand.id and dose is not None and dose.kind is DoseKind.ON_DEMAND)
    # Sessions on a trigger fill no slot; the others are sessions of the programme.
    sort = SessionType.FULL
    if strand and on_trigger:
        named = [each for each in ON_TRIGGER if each.value == strand.sort]
        sort = named[0] if named else SessionType.EVENT
    return LedSession(
        sort=sort,
        a_day=dose.a_day if dose and not on_trigger else None,
        orders={
            (day, each): turns_today(items, day=day, sort=each)
            for day in Day
            for each in SessionType
        },
    )


def is_rest_day(dose: Dose, today: date) -> bool:
    """Return whether the dose leaves a day free; one without dated sessions has no such day."""
    if dose.kind is DoseKind.ON_DEMAND or today < dose.start:
        return False
    return today.weekday() not in dose.weekdays or today in dose.off
