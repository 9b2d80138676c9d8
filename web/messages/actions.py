"""Writing to a client: in plain words, only where they agreed to it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import IntegrityError, transaction
from django.utils import timezone
from procrastinate.contrib.django import app

from web.clients.models import Client

from .models import Message
from .push import queue_pushes
from .unsubscribing import off_link
from .wording import MESSAGES

if TYPE_CHECKING:
    from web.accounts.models import User


#: Text of a reminder that went to devices alone.
ON_DEVICES = "push"


def address_of(client: Client) -> str | None:
    """Return the client's email address; None without consent."""
    if client.contact != Client.Contact.MAIL:
        return None
    try:
        validate_email(client.contact_detail.strip())
    except ValidationError:
        return None
    return client.contact_detail.strip()


def message_text(client: Client, kind: Message.Kind, *, changes: Any = ()) -> str:
    """Return the text of a message as it would be sent.

    Args:
        changes: of one that says the programme has changed, what has.
    """
    listed = "\n".join(f"– {each}" for each in changes)
    return MESSAGES[kind].format(clinic=client.clinic.name, off=off_link(client), changes=listed)


def queue_message(
    client: Client,
    kind: Message.Kind,
    *,
    by: User | None = None,
    changes: Any = (),
    text: str = "",
) -> Message | None:
    """Write a message and queue it in the same transaction.

    Args:
        changes: of one that says the programme has changed, what has.
        text: what a clinician made of it; empty for the usual words.

    Returns:
        The message; None where there is nowhere to send it, or today's reminder went already.
    """
    to = address_of(client)
    if to is None:
        return None
    words = text or message_text(client, kind, changes=changes)
    message = _keep(client, kind, recipient=to, text=words, by=by)
    if message is not None:
        # By name: scheduled jobs are in a higher layer.
        app.configure_task("send_message").defer(message=message.pk)
    return message


def queue_reminder(client: Client) -> Message | None:
    """Queue a reminder of a missed session: by email with consent, and to devices with reminders.
    None if one was sent today already."""
    is_mailed = client.reminders and address_of(client)
    message = (
        queue_message(client, Message.Kind.MISSED)
        if is_mailed
        else _keep(client, Message.Kind.MISSED, recipient="", text=ON_DEVICES)
    )
    if message is not None:
        queue_pushes(client)
    return message


def _keep(
    client: Client, kind: Message.Kind, *, recipient: str, text: str, by: User | None = None
) -> Message | None:
    """Store a message; return None for a second reminder on one day."""
    today = timezone.localdate(timezone=client.zone)
    try:
        with transaction.atomic():
            return Message.objects.create(
                client=client, kind=kind, recipient=recipient, text=text, day=today, written_by=by
            )
    except IntegrityError:
        return None
