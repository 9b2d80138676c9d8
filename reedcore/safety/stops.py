"""Consequences of a stop that a client reports."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from .flags import TIERS, Flag, Tier

_SATURDAY = 5
#: Number of light-headed reports that pause the programme (DOMAIN §7).
LIGHT_HEADED_PAUSES = 2

#: Delay of a stop letter, except for an emergency.
TAKEN_BACK_WITHIN = timedelta(seconds=30)
#: At most one letter about a client in this time.
ONE_LETTER_IN = timedelta(seconds=60)
#: After this time without delivery the clinic lead is alerted, as for an unread stop.
UNDELIVERED_FOR = timedelta(minutes=5)

#: Asked in one quick question before the first sound.
ASKED_BEFORE: tuple[Flag, ...] = (
    Flag.BREATHING,
    Flag.SWALLOWING,
    Flag.BLOOD_STREAKS,
    Flag.NEW_PAIN,
)
#: Asked at the end of a session; yes is flagged to the clinician.
ASKED_AFTER: tuple[Flag, ...] = tuple(
    flag for flag, tier in TIERS.items() if tier is Tier.TELL_CLINICIAN
)

_MOST_URGENT_FIRST = tuple(Tier)


@dataclass(frozen=True, slots=True)
class Consequence:
    """The consequences of a stop.

    Attributes:
        tier: the most urgent tier reported.
        ends_session: no more voicing now.
        pauses_practice: nothing may be practised until a clinician has cleared it, resets and
            short days included.
        alerts_now: alert clinician and deputy at once; otherwise only flag it for the clinician.
    """

    tier: Tier
    ends_session: bool
    pauses_practice: bool
    alerts_now: bool


def consequence(reported: Iterable[Flag], *, light_headed_before: int = 0) -> Consequence | None:
    """Return the consequences of a stop; None if nothing was reported.

    Args:
        light_headed_before: earlier reports of light-headedness in this programme.
    """
    flags = frozenset(reported)
    if not flags:
        return None
    tier = min((TIERS[flag] for flag in flags), key=_MOST_URGENT_FIRST.index)
    again = Flag.LIGHT_HEADED in flags and light_headed_before + 1 >= LIGHT_HEADED_PAUSES
    serious = tier in (Tier.EMERGENCY, Tier.NO_MORE_VOICING)
    return Consequence(
        tier=tier,
        ends_session=tier is not Tier.TELL_CLINICIAN,
        pauses_practice=serious or again,
        alerts_now=serious or again,
    )


def mail_due_at(
    *,
    is_emergency: bool,
    first_at: datetime,
    waiting: int,
    last_mail_at: datetime | None = None,
) -> datetime:
    """Return when the email about a client's reports is due; it contains all that wait.

    An emergency goes at once. Anything else waits so long that a slip of the finger can be taken
    back; where more follows, the letter waits for the rest of the minute, and never is there more
    than one a minute, so that repeated presses do not bury the report.

    Args:
        emergency: one of those waiting is.
        first_at: when the oldest of those waiting was received.
        waiting: how many wait.
        last_mail_at: when the last letter about this client went out.
    """
    wait = timedelta() if is_emergency else TAKEN_BACK_WITHIN
    if waiting > 1 and not is_emergency:
        wait = ONE_LETTER_IN
    due = first_at + wait
    return due if last_mail_at is None else max(due, last_mail_at + ONE_LETTER_IN)


def escalated_at(received_at: datetime) -> datetime:
    """Return when an unread stop goes to the clinic's lead: a working day after it
    came.

    The clock runs from Monday to Friday and stands at the weekend; holidays it does not know, so
    that it errs towards telling too early.

    Args:
        received_at: when the clinic's own clock received it, in the clinic's zone; what the
            device's clock said may be anything.
    """
    day = timedelta(days=1)
    start = received_at
    while start.weekday() >= _SATURDAY:
        start = (start + day).replace(hour=0, minute=0, second=0, microsecond=0)
    end = start + day
    while end.weekday() >= _SATURDAY:
        end += day
    return end
