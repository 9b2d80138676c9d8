"""Store a client's stop, pause the programme where required, and alert the clinicians.

The state of the alert is stored in the row itself: its recipients, since when it waits, when it
reached them and what stood in the way. The jobs only hurry it along, so that nothing that happens
to a job, a worker or a mail server can lose it.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any
from uuid import UUID, uuid5

from django.db import IntegrityError, transaction
from django.db.models import Q
from django.utils import timezone

from reedcore.safety import TAKEN_BACK_WITHIN, Flag, Tier, consequence
from web.clients.models import Client

from ..jobs import alert_of_stops
from ..models import Stop
from ..wording import TIER_ADVICE
from .stop_alerts import next_alert_at

if TYPE_CHECKING:
    from web.accounts.models import User

#: If the key belongs to someone else, derive another: no stop is refused because of its key.
_KEYS = UUID("5f5d3d3c-8c1a-4f5e-9f8e-2f1f3f0a7c11")


def record_stop(
    client: Client,
    *,
    key: UUID,
    flags: list[Flag],
    said_at: Any,
    clinicians: Any,
    device_time: str = "",
    session_key: UUID | None = None,
    comment: str = "",
) -> Stop | None:
    """Store a stop once, however often it is sent, and have the alert sent.

    Args:
        clinicians: whom to tell of one that pauses, besides the clinic's deputy and who stands in
            for any of them today.
        device_time: what the device's own clock said, where that was another time.

    Returns:
        The stop; None if nothing was reported, or if the client's record is gone.
    """
    if Stop.objects.filter(pk=key).exclude(client=client).exists():
        key = uuid5(_KEYS, f"{client.pk}/{key}")
    reported = (
        client.stops.exclude(pk=key).filter(cancelled_at=None).values_list("flags", flat=True)
    )
    dizzy_before = sum(Flag.LIGHT_HEADED in flags_then for flags_then in reported)
    found = consequence(flags, light_headed_before=dizzy_before)
    if found is None:
        return None
    people = _recipients(client, clinicians) if found.alerts_now else []
    stop = Stop(
        key=key,
        client=client,
        session_key=session_key,
        flags=sorted(flags),
        tier=found.tier.value,
        pauses=found.pauses_practice,
        comment=comment,
        said_at=said_at,
        device_time=device_time,
        needs_alert=found.alerts_now,
        recipients=sorted(
            {each.email for each in people if each and each.email and each.is_active}
        ),
    )
    try:
        with transaction.atomic():
            stop.save(force_insert=True)
            if stop.needs_alert:
                # In the same transaction, so that a stored stop is always reported even if the
                # queue is away.
                alert_of_stops.configure(schedule_at=next_alert_at(client)).defer(client=client.pk)
    except IntegrityError:
        # Sent twice at once, or the record was erased in the meantime.
        return client.stops.filter(pk=key).first()
    return stop


@transaction.atomic
def take_back(client: Client, key: UUID) -> bool:
    """Record that the client pressed it by mistake. Both stay on record.

    Returns:
        Whether practice may continue: no alert had gone out, and it was no emergency. Otherwise
        it is noted beside the stop, and the clinician clears it.
    """
    stop = client.stops.select_for_update().filter(pk=key).first()
    if stop is None:
        return False
    now = timezone.now()
    if stop.cancelled_at is None:
        stop.cancelled_at = now
        early = now - stop.received_at <= 2 * TAKEN_BACK_WITHIN and stop.delivered_at is None
        if early and stop.tier != Tier.EMERGENCY:
            stop.cleared_at, stop.cleared_because = now, TAKEN_BACK
        stop.save(update_fields=["cancelled_at", "cleared_at", "cleared_because"])
    return stop.cleared_at is not None


#: A comment this soon after a stop belongs to it.
WORDS_FOLLOW_WITHIN = timedelta(hours=1)


@transaction.atomic
def add_words(client: Client, words: str, *, session_key: UUID, said_at: datetime) -> bool:
    """Add the client's comment to a stop that was just reported, for emails and pages.

    Args:
        session_key: of the session that the words belong to; a stop before any session has none.

    Returns:
        Whether there was such a stop.
    """
    since = said_at - WORDS_FOLLOW_WITHIN
    stops = client.stops.select_for_update().filter(said_at__gte=since, cancelled_at=None)
    stop = stops.filter(Q(session_key=session_key) | Q(session_key=None)).first()
    if stop is None or words in stop.comment:
        return False
    stop.comment = f"{stop.comment} {words}".strip()[:500]
    stop.save(update_fields=["comment"])
    return True


#: Reason stored when the client withdrew a stop before anyone was alerted.
TAKEN_BACK = "Withdrawn by the client at once: pressed by mistake."


def mark_read(stops: list[Stop], *, by: User) -> None:
    """Record that a clinician has a page before them that shows these stops."""
    unread = Stop.objects.filter(pk__in=[each.pk for each in stops], read_at=None)
    unread.update(read_at=timezone.now(), read_by=by)


def advice(stop: Stop) -> str:
    """Return the advice on the client's screen."""
    return TIER_ADVICE[Tier(stop.tier)].format(emergency_number=stop.client.clinic.emergency_number)


@transaction.atomic
def clear_stop(stop: Stop, *, by: User, because: str) -> bool:
    """Record that a clinician has dealt with a stop, and why practising may go on.

    Returns:
        True if this call did it; False if another user had already, whose words then stay.
    """
    locked = Stop.objects.select_for_update().get(pk=stop.pk)
    if locked.cleared_by_id is not None:
        return False
    # A stop withdrawn at once does not pause practice.
    locked.cleared_at = locked.cleared_at or timezone.now()
    locked.cleared_because = f"{locked.cleared_because} {because}".strip()
    locked.cleared_by = by
    locked.save(update_fields=["cleared_at", "cleared_by", "cleared_because"])
    return True


def _recipients(client: Client, clinicians: list[Any]) -> list[Any]:
    own = [*clinicians, client.clinician, client.clinic.deputy]
    return [*own, *(each for user in own if user for each in user.substitutes())]
