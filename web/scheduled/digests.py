"""The weekly digest for each clinician: how many of their clients need attention."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID, uuid5

from django.conf import settings
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.decisions import Need
from web.accounts.models import Clinic, User
from web.decisions.client_status import brief_statuses
from web.decisions.wording import NEEDS
from web.screening.actions import deliver
from web.ui.isolation import process_each

from .models import Digest

_DIGESTS = UUID("8b6c5f0e-52a9-4d7f-9c43-7a51b0b6a0d2")
#: Hour on Monday in which the digest is sent, in the clinic's time zone.
DIGEST_WEEKDAY, DIGEST_HOUR = 0, 7


def digests() -> None:
    """Email each clinician with clients in need, once a week."""
    process_each(Clinic.objects.all(), _digests, what="the week's digests")


def _digests(clinic: Clinic) -> None:
    local = timezone.now().astimezone(clinic.zone)
    if (local.weekday(), local.hour) != (DIGEST_WEEKDAY, DIGEST_HOUR):
        return
    people = clinic.users.filter(role=User.Role.CLINICIAN, is_active=True).exclude(email="")
    process_each(people, lambda user: _digest(user, local.date()), what="the week's digest")


def _digest(user: User, week: date) -> None:
    digest, fresh = Digest.objects.get_or_create(user=user, week=week)
    if not fresh:
        return
    letter = gettext("Your week"), digest_words(user, now=timezone.now())
    if deliver(letter, [user.email], key=uuid5(_DIGESTS, f"{user.pk}/{week}")):
        digest.delete()  # Retried in the next hour.


def digest_words(user: User, *, now: Any) -> str:
    """Return the number of clients in need and the reasons' groups, most urgent first, by initials
    or number; the reasons are only on the board, because email is not private."""
    own = user.visible_clients().filter(archived_at=None, clinician=user).order_by("name")
    clients = list(own.select_related("clinic"))
    kept = brief_statuses(clients, now=now)
    of_need = [(Need(kept[client.pk].need), client) for client in clients]
    needing = [(need, client) for need, client in of_need if need < Need.NO_PROGRAMME]
    needing.sort(key=lambda each: each[0])
    lines = [f"{NEEDS[need]}: {client.mail_label}" for need, client in needing]
    head = gettext("{needing} of your {clients} clients need your attention.").format(
        needing=len(needing), clients=len(clients)
    )
    return "\n\n".join([head, *lines, f"{settings.SITE_URL}/board/"])
