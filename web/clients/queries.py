"""Looking clients up."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404

from web.accounts.access_log import note_record
from web.accounts.models import User

from .models import Client, Helper
from .practice_link import PracticeLink


def client_seen_by(user: Any, pk: int) -> Client:
    """Return that client if this user may see them; otherwise answer 404."""
    client = get_object_or_404(user.visible_clients(), pk=pk)
    client.clinic = user.clinic  # Clients of other clinics are never visible.
    note_record(client.pk)
    return client


def found_clients(user: Any, words: str, *, is_archived: bool = False) -> QuerySet[Client]:
    """Return the user's clients with every word in their name or occupation."""
    clients = user.visible_clients().filter(archived_at__isnull=not is_archived)
    if user.sees_no_names:
        # Neither the order nor the matches reveal a name.
        numbers = [int(word) for word in words.split() if word.isdecimal() and len(word) < 10]
        return clients.filter(pk__in=numbers).order_by("pk") if words else clients.order_by("pk")
    for word in words.split()[:8]:
        clients = clients.filter(Q(name__icontains=word) | Q(occupation__icontains=word))
    return clients


#: A link without a PIN expires, because it may lie on a printer.
LINK_OPENS_FOR = timedelta(days=14)


def link_is_stale(link: PracticeLink, *, now: Any) -> bool:
    """Return whether a link without a PIN was made too long ago to be opened."""
    issued = link.practice_issued_at
    return not link.pin_chosen and (issued is None or now - issued > LINK_OPENS_FOR)


def link_by_practice_code(code: str) -> Client | Helper:
    """Return the client or helper of a link, however it was typed."""
    # PostgreSQL texts and codes cannot contain NUL.
    tidy = code.strip().lower().replace(" ", "").replace("\x00", "")
    own = Client.objects.filter(archived_at=None, account__isnull=False)
    found = own.select_related("account", "clinic").filter(practice_code=tidy).first()
    if found is not None:
        return found
    helping = Helper.objects.filter(client__archived_at=None, ended_at=None, account__isnull=False)
    return get_object_or_404(
        helping.select_related("account", "client__clinic"), practice_code=tidy
    )


def link_of(client: Client, by: User) -> Client | Helper | None:
    """Return the practice link that this user signed in with: the client's own or a helper's."""
    if client.account_id == by.pk:
        return client
    return client.helpers.filter(account=by, ended_at=None).first()
