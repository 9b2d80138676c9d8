"""What of a programme is done today: the voice is asked first, and the answer chooses."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

#: The family whose tasks warm and unload, and what precedes it in a session.
WARMING = "occluded"
_BEFORE_WARMING = ("release", "breath")


class Voice(StrEnum):
    """How the voice is today, by the client's own word."""

    AS_USUAL = "as_usual"
    TIRED = "tired"
    HOARSE = "hoarse"
    ILL = "ill"


class Day(StrEnum):
    """What is done for it."""

    USUAL = "usual"
    GENTLER = "gentler"
    REST = "rest"


class SessionType(StrEnum):
    """Which session was asked for."""

    FULL = "full"
    SHORT = "short"
    EXTRA = "extra"
    #: On a trigger, and before an event: beside the programme of the day.
    RESET = "reset"
    EVENT = "event"


#: What each answer leads to unless the clinician allowed something else (DOMAIN §7).
USUAL_ANSWERS: Mapping[Voice, Day] = MappingProxyType(
    {
        Voice.AS_USUAL: Day.USUAL,
        Voice.TIRED: Day.GENTLER,
        Voice.HOARSE: Day.GENTLER,
        Voice.ILL: Day.REST,
    }
)


@dataclass(frozen=True, slots=True)
class Planned:
    """An item of the programme as far as today's choice needs it."""

    id: str
    family: str
    loud: bool
    short: bool = False


@dataclass(frozen=True, slots=True)
class Turn:
    """An item to be done today.

    Attributes:
        again: done a second time, for more warming on a gentler day.
    """

    id: str
    again: bool = False


def day_for(voice: Voice, allowed: Mapping[Voice, Day] = USUAL_ANSWERS) -> Day:
    """What the answer leads to; never more than the usual one for somebody hoarse or ill."""
    chosen = allowed.get(voice, USUAL_ANSWERS[voice])
    if voice in (Voice.HOARSE, Voice.ILL) and chosen is Day.USUAL:
        return Day.GENTLER
    return chosen


def turns_today(
    items: Iterable[Planned], *, day: Day, sort: SessionType = SessionType.FULL
) -> tuple[Turn, ...]:
    """The items in the order in which they are done.

    A gentler day leaves out every loud item, warms first, and warms twice. A short day keeps the
    items marked for it, all of them where none is marked. Extra practice is half a minute of the
    first warming item, else of the first that is not loud. A rest day holds nothing.
    """
    planned = tuple(items)
    if day is Day.REST:
        return ()
    if sort is SessionType.EXTRA:
        easy = [item for item in planned if not item.loud]
        first = next((item for item in easy if item.family == WARMING), next(iter(easy), None))
        return (Turn(first.id),) if first else ()
    if sort in (SessionType.RESET, SessionType.EVENT) and day is not Day.USUAL:
        return tuple(Turn(item.id) for item in planned if not item.loud)  # too short to warm twice
    if sort is SessionType.SHORT and any(item.short for item in planned):
        planned = tuple(item for item in planned if item.short)
    if day is Day.USUAL:
        return tuple(Turn(item.id) for item in planned)
    quiet = [item for item in planned if not item.loud]
    before = [item for item in quiet if item.family in _BEFORE_WARMING]
    warming = [item for item in quiet if item.family == WARMING]
    rest = [item for item in quiet if item not in before and item not in warming]
    return (
        *(Turn(item.id) for item in (*before, *warming)),
        *(Turn(item.id, again=True) for item in warming),
        *(Turn(item.id) for item in rest),
    )
