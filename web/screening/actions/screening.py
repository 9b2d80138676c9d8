"""Screening for red flags, and decisions about reported ones."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from django.db import transaction
from django.utils import timezone

from reedcore.safety import ASKED
from web.clients.models import SAY_SO, Client
from web.clients.signals import record_changed
from web.ui.saving import lock_row, save_fields

from ..models import Screen

if TYPE_CHECKING:
    from web.accounts.models import User


@transaction.atomic
def record_screen(
    client: Client,
    *,
    by: User,
    flags: list[str],
    cautions: list[str],
    note: str,
    said_so: dict | None = None,
    complaint: str = "",
    examined_on: Any = None,
    at: Any = None,
) -> Screen:
    """Store the answers, and update cautions and laryngeal findings on the record.

    Args:
        said_so: by caution, who allowed what and when.
        complaint: yes, no, or empty where it was not asked.
        examined_on: when the larynx was last looked at; None leaves what stands.
    """
    at = at or timezone.now()
    client = Client.objects.select_for_update().get(pk=client.pk)
    client.caution_entries = _entries(client, cautions, said_so or {}, at)
    client.cautions = sorted(cautions)
    client.complaint = complaint or client.complaint
    client.examined_on = examined_on or client.examined_on
    client.edition += 1
    client.save(
        update_fields=["cautions", "caution_entries", "complaint", "examined_on", "edition"]
    )
    screen = Screen.objects.create(
        client=client,
        asked_at=at,
        asked_by=by,
        flags=sorted(flags),
        asked=[each.value for each in ASKED],
        note=note,
    )
    record_changed.send(sender=Client, client=client)
    return screen


def _entries(
    client: Client, cautions: list[Any], said_so: dict[str, Any], at: datetime
) -> dict[str, Any]:
    """Return the entry; an unchanged one keeps its time, and with it the reasons given."""
    found = {}
    for caution in cautions:
        before = client.caution_entries.get(caution) if caution in client.cautions else None
        allowed = {part: said_so.get(caution, {}).get(part, "") for part in SAY_SO}
        same = before is not None and all(before.get(part, "") == allowed[part] for part in SAY_SO)
        found[caution] = before if same else {"since": at.isoformat(), **allowed}
    return found


@transaction.atomic
def declare_safe(screen: Screen, *, by: User, because: str) -> None:
    """Record the clinician's reason why practice is safe despite the flags; the first one stays."""
    stored = lock_row(screen)
    if stored.safe_at is None:
        stored.safe_because, stored.safe_by, stored.safe_at = because, by, timezone.now()
        stored.save(update_fields=["safe_because", "safe_by", "safe_at"])


@transaction.atomic
def refer(screen: Screen, *, to: str) -> None:
    """Record a referral; the flags stay open until a clinician writes that practice is safe."""
    screen.referred_at, screen.referred_to = timezone.now(), to
    save_fields(screen, "referred_at", "referred_to")
