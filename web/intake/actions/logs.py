"""Logs from elsewhere: typed off paper, out of a table, or recordings in a folder."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.db import transaction

from reedcore.dose.today import Day, SessionType
from reedcore.formats.wav import Recording
from web.accounts.models import User
from web.clients.models import Client
from web.record.models import PrescribedTask, SelfReport, Session, Trial

from ..clock import Moment
from .takes import record_by_hand, record_sound

_LOGS = uuid5(NAMESPACE_URL, "still-reed:logs")
#: A log has a day but no hour: noon is on that day in every time zone.
NOON = time(12)


@transaction.atomic
def record_log(
    client: Client,
    *,
    key: UUID,
    rows: list[tuple],
    by: User,
    source: str = Trial.Source.PAPER,
) -> int:
    """Keep tries that were logged by hand, each once under the key of the form they came by.

    Args:
        rows: (day, prescribed task, seconds, effort or None), in the order of the log.

    Returns:
        How many are kept.

    Raises:
        ValueError: seconds that no hand could have timed; nothing is kept then.
    """
    for place, (day, task, seconds, effort) in enumerate(rows):
        session = log_session(client, task, key=key, day=day, by=by)
        record_by_hand(
            task,
            key=uuid5(key, f"try {place}"),
            seconds=seconds,
            at=Moment(_noon(client, day)),
            source=source,
            session=session,
        )
        if effort is not None:
            SelfReport.objects.get_or_create(
                key=uuid5(key, f"effort {place}"),
                defaults={
                    "client": client,
                    "session": session,
                    "task": task,
                    "kind": SelfReport.Kind.EFFORT,
                    "value": effort,
                    "said_at": _noon(client, day),
                },
            )
    return len(rows)


def record_file(
    client: Client, task: PrescribedTask, *, key: UUID, day: Any, by: User, wav: Recording
) -> Trial:
    """Measure a recording that was made elsewhere on a day, and keep it once.

    Raises:
        reedcore.errors.Refusal, KeyTaken: as for any recording.
    """
    session = log_session(client, task, key=uuid5(_LOGS, f"{client.pk}/{day}"), day=day, by=by)
    return record_sound(
        task,
        key=key,
        source=Trial.Source.FILE,
        samples=wav.samples,
        rate_hz=wav.rate_hz,
        at=Moment(_noon(client, day)),
        session=session,
    )


def log_session(client: Client, task: PrescribedTask, *, key: Any, day: Any, by: User) -> Session:
    """Return the session for a day of a log."""
    session, _ = Session.objects.get_or_create(
        key=uuid5(key, f"session {day}"),
        defaults={
            "client": client,
            "programme": task.programme,
            "sort": SessionType.FULL,
            "day": Day.USUAL,
            "place": Session.Place.PAPER,
            "begun_at": _noon(client, day),
            "ended_at": _noon(client, day),
            "ending": Session.Ending.DONE,
            "led_by": by,
        },
    )
    return session


def _noon(client: Client, day: date) -> datetime:
    return datetime.combine(day, NOON, client.zone)
