"""What follows when a client says that something is wrong: while practising, or asked about it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from .flags import TIERS, Flag, Tier

_SATURDAY = 5
#: Light-headed so often, and the programme is paused (DOMAIN §7).
LIGHT_HEADED_PAUSES = 2

#: Asked in one quick question before the first sound of a session.
ASKED_BEFORE: tuple[Flag, ...] = (
    Flag.BREATHING,
    Flag.SWALLOWING,
    Flag.BLOOD_STREAKS,
    Flag.NEW_PAIN,
)
#: Asked in plain words at its end: what the clinician is told, flagged.
ASKED_AFTER: tuple[Flag, ...] = tuple(
    flag for flag, tier in TIERS.items() if tier is Tier.TELL_CLINICIAN
)

_MOST_URGENT_FIRST = tuple(Tier)


@dataclass(frozen=True, slots=True)
class Consequence:
    """What is done.

    Attributes:
        tier: the most urgent one that was said.
        ends_session: no more voicing now.
        pauses: nothing may be practised until a clinician has cleared it, resets and short days
            included.
        tells_now: clinician and deputy are told at once; otherwise it is flagged for the clinician.
    """

    tier: Tier
    ends_session: bool
    pauses: bool
    tells_now: bool


def consequence(said: Iterable[Flag], *, light_headed_before: int = 0) -> Consequence | None:
    """What follows from what was said; None when nothing was.

    Args:
        light_headed_before: how often that was said in this programme already.
    """
    flags = frozenset(said)
    if not flags:
        return None
    tier = min((TIERS[flag] for flag in flags), key=_MOST_URGENT_FIRST.index)
    again = Flag.LIGHT_HEADED in flags and light_headed_before + 1 >= LIGHT_HEADED_PAUSES
    serious = tier in (Tier.EMERGENCY, Tier.NO_MORE_VOICING)
    return Consequence(
        tier=tier,
        ends_session=tier is not Tier.TELL_CLINICIAN,
        pauses=serious or again,
        tells_now=serious or again,
    )


def passed_on_at(said_at: datetime) -> datetime:
    """When a stop that nobody has read goes to the clinic's lead: a working day after it was said.

    The clock runs from Monday to Friday and stands at the weekend; holidays it does not know, so
    that it errs towards telling too early. In the zone of ``said_at``, which is the clinic's.
    """
    day = timedelta(days=1)
    start = said_at
    while start.weekday() >= _SATURDAY:
        start = (start + day).replace(hour=0, minute=0, second=0, microsecond=0)
    end = start + day
    while end.weekday() >= _SATURDAY:
        end += day
    return end
