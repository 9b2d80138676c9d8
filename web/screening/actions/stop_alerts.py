"""Stop alerts: at most one email per client and minute to each recipient, retried until delivered.

A letter says neither who it is nor what is wrong, for plain mail is read on its way: initials or
the number of the record, and the address of the page that says the rest.
"""

from __future__ import annotations

import logging
from datetime import datetime
from smtplib import SMTPException
from typing import Any
from uuid import UUID, uuid5

from django.conf import settings
from django.core.mail import EmailMessage
from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone
from django.utils.translation import gettext, ngettext

from reedcore.safety import UNDELIVERED_FOR, Tier, escalated_at, mail_due_at
from web.clients.models import Client
from web.ui.isolation import process_each

from ..models import Stop
from ..queries import is_paused

logger = logging.getLogger(__name__)
_LETTERS = UUID("2c7f1d52-8a9b-4a57-a6c5-3f6a3d1f7a10")

#: Why a stop alert was not delivered.
NOBODY, MAIL_AWAY = "nobody", "mail_away"


def waiting(client: Client) -> QuerySet[Any]:
    """Return the stops of this client with an alert still to be sent."""
    return client.stops.filter(needs_alert=True, delivered_at=None, cleared_at=None)


def next_alert_at(client: Client) -> datetime:
    """Return when the next letter about this client goes out."""
    rows = list(waiting(client).order_by("received_at"))
    if not rows:
        return timezone.now()
    return mail_due_at(
        is_emergency=any(row.tier == Tier.EMERGENCY for row in rows),
        first_at=rows[0].received_at,
        waiting=len(rows),
        last_mail_at=client.stops.aggregate(last=Max("delivered_at"))["last"],
    )


@transaction.atomic
def send_alert_if_due(client: Client) -> datetime | None:
    """Send the alert about a client if it is due; the rows are locked while it is sent.

    Returns:
        When to come back; None where nothing waits any more.
    """
    rows = list(waiting(client).select_for_update().order_by("received_at"))
    if not rows:
        return None
    now, due = timezone.now(), next_alert_at(client)
    if now < due:
        return due
    to = sorted({address for row in rows for address in row.recipients})
    key = uuid5(_LETTERS, str(rows[0].pk))
    trouble = deliver(alert_text(client, len(rows)), to, key=key)
    for row in rows:
        row.delivery_problem, row.delivered_at = trouble, None if trouble else timezone.now()
        row.save(update_fields=["delivery_problem", "delivered_at"])
    return timezone.now() if trouble else None


def send_due_alerts() -> None:
    """Send every alert that is due, in case its own job was lost."""
    late = Stop.objects.filter(needs_alert=True, delivered_at=None, cleared_at=None)
    clients = Client.objects.filter(pk__in=late.values("client")).select_related("clinic")
    process_each(clients, send_alert_if_due, what="telling of stops")


def alert_text(client: Client, count: int) -> tuple[str, str]:
    """Return the subject and text of the alert."""
    words = [
        ngettext(
            "{client} stopped a practice session.",
            "{client} stopped a practice session {count} times.",
            count,
        ).format(client=client.mail_label, count=count),
        gettext("Please check at once. Email is not private, so the details are only here:"),
        f"{settings.SITE_URL}/clients/{client.pk}/screen/",
    ]
    if is_paused(client):
        words.append(
            gettext("The programme is paused until a clinician resolves the stop on that page.")
        )
    whom = f"{client.mail_label} ({count})" if count > 1 else client.mail_label
    heading = gettext("Still Reed needs your attention: {whom}").format(whom=whom)
    return heading, "\n\n".join(words)


def deliver(letter: tuple[str, str], to: list[str], *, key: UUID) -> str:
    """Hand a letter over to the mail server.

    Args:
        key: tells it from all others: if it has to be sent again, it is known as the same one.

    Returns:
        What stood in the way, as a code; empty where nothing did.
    """
    if not to:
        return NOBODY
    heading, words = letter
    host = settings.SITE_URL.rpartition("/")[2].partition(":")[0]
    message = EmailMessage(
        heading, words, None, to, headers={"Message-ID": f"<{key}@{host or 'still-reed'}>"}
    )
    try:
        message.send()
    except (OSError, SMTPException):
        logger.exception("stop_alert_email_failed")
        return MAIL_AWAY
    return ""


def pass_on_stops() -> None:
    """Alert the clinic's lead about stops unread for one working day, and about alerts not
    delivered for five minutes."""
    unread = Stop.objects.filter(read_at=None, escalated_at=None, cleared_at=None)
    unread = unread.exclude(client__clinic__lead=None).select_related("client__clinic__lead")
    process_each(unread, _hand_to_lead, what="passing stops on")


def _hand_to_lead(stop: Stop) -> None:
    clinic, now = stop.client.clinic, timezone.now()
    lead = clinic.lead
    waits = stop.needs_alert and stop.delivered_at is None
    undelivered = waits and now >= stop.received_at + UNDELIVERED_FOR
    unread = now >= escalated_at(stop.received_at.astimezone(clinic.zone))
    if not (undelivered or unread) or lead is None or not lead.email:
        return
    with transaction.atomic():
        row = Stop.objects.select_for_update().get(pk=stop.pk)
        if row.escalated_at is not None:
            return
        why = (
            gettext("This alert has not been opened for one working day.")
            if unread
            else gettext("This alert could not be delivered to the first recipients.")
        )
        heading, words = alert_text(stop.client, 1)
        letter = gettext("{heading}: forwarded to you").format(heading=heading), f"{why}\n\n{words}"
        if not deliver(letter, [lead.email], key=uuid5(_LETTERS, f"lead/{stop.pk}")):
            row.escalated_at = now
            row.save(update_fields=["escalated_at"])
