"""Reminders to clients after a day without practice."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from django.db.models import Q
from django.utils import timezone

from reedcore.history.dues import has_practised_on, missed_days
from web.accounts.models import Clinic
from web.clients.models import Client
from web.messages.actions import address_of, queue_reminder
from web.messages.models import Message, PushDevice
from web.record.history import load_snapshots
from web.screening.queries import is_paused
from web.ui.isolation import process_each

if TYPE_CHECKING:
    from reedcore.history.history import History

#: Hour in which reminders are sent, in the client's time zone.
MORNING = 9
#: After this many reminders without a session the clinician takes over.
MOST_IN_A_ROW = 3


def remind() -> None:
    """Remind clients with consent who missed a session yesterday."""
    process_each(Clinic.objects.all(), _remind, what="reminding")


def _remind(clinic: Clinic) -> None:
    now = timezone.now()
    by_mail = Q(reminders=True, contact=Client.Contact.MAIL)
    on_a_device = Q(pk__in=PushDevice.objects.reachable().values("client"))
    wished = clinic.clients.filter(by_mail | on_a_device, archived_at=None)
    wished = wished.select_related("clinic")
    awake = [
        client
        for client in wished
        if now.astimezone(client.zone).hour == MORNING
        and (address_of(client) or client.push_devices.reachable().exists())
    ]
    read = load_snapshots(awake, now=now)
    process_each(
        awake, lambda client: _remind_one(client, read[client.pk].history, now), what="reminding"
    )


def _remind_one(client: Client, history: History, now: datetime) -> None:
    today = history.day(now)
    yesterday = today - timedelta(days=1)
    missed = missed_days(history, yesterday, today)
    resting = has_practised_on(history, today) or is_paused(client)
    if missed and not resting and not _enough(client, history):
        queue_reminder(client)


def _enough(client: Client, history: History) -> bool:
    """Return whether the last reminders had no effect, so that more would be nagging."""
    last = list(client.messages.filter(kind=Message.Kind.MISSED)[:MOST_IN_A_ROW])
    if len(last) < MOST_IN_A_ROW:
        return False
    since = last[-1].written_at
    return not any(session.at >= since for session in history.sessions)
