"""Handing mail over, once."""

from django.core.mail import send_mail
from django.db import transaction
from django.utils import timezone

from .models import Message
from .wording import SUBJECTS


@transaction.atomic
def send(pk: int) -> None:
    """Send a message unless it was sent already; the row is locked while it is sent."""
    message = Message.objects.select_for_update().get(pk=pk)
    if message.sent_at is not None:
        return
    send_mail(SUBJECTS[message.Kind(message.kind)], message.text, None, [message.recipient])
    message.sent_at = timezone.now()
    message.save(update_fields=["sent_at"])
