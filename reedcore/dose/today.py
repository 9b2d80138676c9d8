"""Today's version of a programme, chosen by how the voice is today."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

#: The families that warm up and unload, and what precedes them.
WARMING = "occluded"
_BEFORE_WARMING = ("release", "breath")
#: A gentler day uses this share of the seconds and of the voice, in half seconds.
GENTLER_SHARE, HALF_S = 0.8, 0.5
_SLACK_S = 1e-6


class Voice(StrEnum):
    """The voice today as the client reports it."""

    AS_USUAL = "as_usual"
    TIRED = "tired"
    HOARSE = "hoarse"
    ILL = "ill"


class Day(StrEnum):
    """The version of the programme for today."""

    USUAL = "usual"
    GENTLER = "gentler"
    REST = "rest"


class SessionType(StrEnum):
    """The type of a session."""

    FULL = "full"
    SHORT = "short"
    EXTRA = "extra"
    #: On a trigger or before an event: in addition to the day's programme.
    RESET = "reset"
    EVENT = "event"


#: Default consequence of each answer (DOMAIN §7).
USUAL_ANSWERS: Mapping[Voice, Day] = MappingProxyType(
    {
        Voice.AS_USUAL: Day.USUAL,
        Voice.TIRED: Day.GENTLER,
        Voice.HOARSE: Day.GENTLER,
        Voice.ILL: Day.REST,
    }
)


@dataclass(frozen=True, slots=True)
class PlannedItem:
    """An item of the programme as far as today's choice needs it.

    Attributes:
        is_high: it asks for notes above the comfortable range, or may.
        voiced_s: seconds of voice, all of its tries together.
        is_in_seconds: each trial has a target in seconds, which can be reduced.
    """

    id: str
    family: str
    is_loud: bool
    is_short: bool = False
    is_high: bool = False
    voiced_s: float = 0.0
    is_in_seconds: bool = False


@dataclass(frozen=True, slots=True)
class Turn:
    """An item to be done today.

    Attributes:
        is_repeat: done a second time, for more warming on a gentler day.
    """

    id: str
    is_repeat: bool = False


def day_for(voice: Voice, allowed: Mapping[Voice, Day] = USUAL_ANSWERS) -> Day:
    """Return the dose that the answer leads to; at most the usual one when hoarse or ill."""
    chosen = allowed.get(voice, USUAL_ANSWERS[voice])
    if voice in (Voice.HOARSE, Voice.ILL) and chosen is Day.USUAL:
        return Day.GENTLER
    return chosen


def gentler_s(seconds: float) -> float:
    """Return the target of a try on a gentler day: four fifths in half seconds, at least half a
    second."""
    halves = int(GENTLER_SHARE * seconds / HALF_S + 1e-9)
    return max(HALF_S, HALF_S * halves)


def turns_today(
    items: Iterable[PlannedItem], *, day: Day, sort: SessionType = SessionType.FULL
) -> tuple[Turn, ...]:
    """Return the items in the order in which they are done.

    A gentler day is never more voice than the usual one (DOMAIN §7): nothing loud, nothing high,
    four fifths of the seconds asked, warming first and one warming item once more where all of it
    stays under four fifths of the usual voice. A short day keeps the items marked for it, all of
    them where none is marked; where a gentler one would be empty, it is a warming item of the
    whole session. Extra practice is half a minute of the first warming item, else of the first
    that is not loud. A rest day holds nothing.
    """
    planned = tuple(items)
    if day is Day.REST:
        return ()
    if sort is SessionType.EXTRA:
        easy = [item for item in planned if not item.is_loud]
        first = next((item for item in easy if item.family == WARMING), next(iter(easy), None))
        return (Turn(first.id),) if first else ()
    every = planned
    if sort is SessionType.SHORT and any(item.is_short for item in planned):
        planned = tuple(item for item in planned if item.is_short)
    if day is Day.USUAL:
        return tuple(Turn(item.id) for item in planned)
    most_s = GENTLER_SHARE * sum(item.voiced_s for item in planned)
    kept = _gentlest_items(planned, most_s) or _ensure_warm_up(every, most_s)
    if sort in (SessionType.RESET, SessionType.EVENT):
        return tuple(Turn(item.id) for item in kept)  # Too short to warm up twice.
    before = [item for item in kept if item.family in _BEFORE_WARMING]
    warming = [item for item in kept if item.family == WARMING]
    rest = [item for item in kept if item not in before and item not in warming]
    spare = most_s - sum(map(gentler_voiced_s, kept))
    again = [item for item in warming[:1] if gentler_voiced_s(item) <= spare + _SLACK_S]
    return (
        *(Turn(item.id) for item in (*before, *warming)),
        *(Turn(item.id, is_repeat=True) for item in again),
        *(Turn(item.id) for item in rest),
    )


def _ensure_warm_up(planned: tuple[PlannedItem, ...], most_s: float) -> list[PlannedItem]:
    """Return where a short day is all loud, the first warming item of the whole session instead."""
    fits = [
        item
        for item in planned
        if item.family == WARMING
        and not item.is_loud
        and not item.is_high
        and gentler_voiced_s(item) <= most_s + _SLACK_S
    ]
    return fits[:1]


def gentler_voiced_s(item: PlannedItem) -> float:
    """Return seconds of voice of an item on a gentler day."""
    return GENTLER_SHARE * item.voiced_s if item.is_in_seconds else item.voiced_s


def _gentlest_items(planned: tuple[PlannedItem, ...], most_s: float) -> list[PlannedItem]:
    """Return the items that are neither loud nor high, in order; if that is still too much voice,
    the last ones outside the warm-up are left out."""
    kept = [item for item in planned if not item.is_loud and not item.is_high]
    while sum(map(gentler_voiced_s, kept)) > most_s + _SLACK_S:
        voiced = [item for item in kept if item.voiced_s > 0]
        goes = [item for item in voiced if item.family != WARMING] or voiced
        kept.remove(goes[-1])
    return kept
