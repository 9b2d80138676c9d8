"""Looking clients up."""

from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404

from .models import Client


def client_seen_by(user, pk: int) -> Client:
    """That client, if this person may see them; otherwise they do not exist."""
    return get_object_or_404(user.visible_clients().select_related("clinic"), pk=pk)


def found_clients(user, words: str) -> QuerySet[Client]:
    """The person's clients whose name or occupation holds every word."""
    clients = user.visible_clients().filter(archived_at=None)
    for word in words.split()[:8]:
        clients = clients.filter(Q(name__icontains=word) | Q(occupation__icontains=word))
    return clients


def client_by_practice_code(code: str) -> Client:
    """The client whose link this is, however it was typed."""
    # the database has no NUL in its texts, and no code has one either
    tidy = code.strip().lower().replace(" ", "").replace("\x00", "")
    active = Client.objects.filter(archived_at=None, account__isnull=False)
    return get_object_or_404(active.select_related("account", "clinic"), practice_code=tidy)
