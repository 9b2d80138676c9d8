"""Queries for prescriptions."""

from django.db.models import Max

from web.clients.models import Client
from web.record.programmes import document_in_force

from .models import Draft


def draft_document(client: Client) -> dict:
    """Return the draft, otherwise the document in force, otherwise an empty one."""
    draft = Draft.objects.filter(client=client).first()
    return draft.document if draft else document_in_force(client)


def edition_of(client: Client) -> int:
    """Return how often the client's drafts were changed; it never goes back."""
    newest = client.draft_changes.aggregate(newest=Max("edition"))["newest"] or 0
    draft = Draft.objects.filter(client=client).only("edition").first()
    return max(newest, draft.edition if draft else 0)
