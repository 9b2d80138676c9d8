"""A client says stop: it is kept, the programme is paused where it must be, and people are told."""

from django.conf import settings
from django.core.mail import send_mail
from django.db import IntegrityError, transaction
from django.utils import timezone

from reedcore.safety import Flag, consequence

from ..jobs import tell_of_stop
from ..models import Client, Stop
from ..wording import FLAG_NAMES, TIER_ADVICE, listed


def record_stop(
    client: Client, *, key, flags: list[Flag], said_at, clinicians, session_key=None, comment=""
) -> Stop | None:
    """Keeps what was said once, however often it is sent, and tells whom it must.

    Args:
        clinicians: whom to tell of one that pauses, besides the clinic's deputy.

    Returns:
        The stop; None where nothing was said.
    """
    said = client.stops.exclude(pk=key).values_list("flags", flat=True)
    dizzy_before = sum(Flag.LIGHT_HEADED in flags_then for flags_then in said)
    found = consequence(flags, light_headed_before=dizzy_before)
    if found is None:
        return None
    stop = Stop(
        key=key,
        client=client,
        session_key=session_key,
        flags=sorted(flags),
        tier=found.tier.value,
        pauses=found.pauses,
        comment=comment,
        said_at=said_at,
    )
    if found.tells_now:
        people = [*clinicians, client.clinician, client.clinic.deputy]
        stop.told = sorted({person.email for person in people if person and person.email})
    try:
        with transaction.atomic():
            stop.save(force_insert=True)
            if stop.told:
                # in the same transaction: what is kept is told, though the mail server be away
                tell_of_stop.defer(stop=str(stop.pk))
    except IntegrityError:
        return client.stops.get(pk=key)
    return stop


def mail_stop(stop: Stop) -> None:
    """Sends what was said to those who are to know."""
    client = stop.client
    send_mail(f"Stop: {client}", stop_words(stop), None, stop.told)


def stop_words(stop: Stop) -> str:
    """A stop as a letter tells of it."""
    client = stop.client
    said = listed(FLAG_NAMES[Flag(code)] for code in stop.flags)
    when = timezone.localtime(stop.said_at, client.zone)
    lines = [
        f"{client} stopped a practice session on {when:%-d %B at %H:%M}: {said}.",
        f"“{stop.comment}”" if stop.comment else "",
        f"They were shown: {advice(stop)}",
        "Their programme is paused until it is cleared with a note on their screen page:",
        f"{settings.SITE_URL}/clients/{client.pk}/screen/",
    ]
    return "\n\n".join(line for line in lines if line)


def mark_read(client: Client, *, by) -> None:
    """Somebody of the clinic has a page open that shows what the client said."""
    unread = client.stops.filter(read_at=None)
    unread.update(read_at=timezone.now(), read_by=by)


def advice(stop: Stop) -> str:
    """What the client's screen told them to do."""
    return TIER_ADVICE[stop.tier].format(emergency_number=stop.client.clinic.emergency_number)


def clear_stop(stop: Stop, *, by, because: str) -> None:
    """The clinician writes why practising may go on."""
    stop.cleared_at, stop.cleared_by, stop.cleared_because = timezone.now(), by, because
    stop.save(update_fields=["cleared_at", "cleared_by", "cleared_because"])
