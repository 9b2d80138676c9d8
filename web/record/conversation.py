"""Messages between the clinician and the client about practice."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any

from django.db import transaction

from web.ui.saving import lock_row

from .models import PracticeMessage, SelfReport

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.clients.models import Client

#: A message is shown to the client for this long, and the client's words to the clinician.
SHOWN_FOR = timedelta(days=28)
#: On the board only words that are newer than this, and newer than the clinician's last message.
WAITS_FOR = timedelta(days=14)
#: The newest entries of a page.
MOST_SHOWN = 20


@dataclass(frozen=True)
class Entry:
    """One entry of the conversation.

    Attributes:
        at: when it was written.
        text: what was written.
        by: the clinician who wrote it; None if the client did.
        task: the prescribed task that the client's comment is about; None for none.
    """

    at: datetime
    text: str
    by: User | None = None
    task: Any = None


def write_message(client: Client, text: str, *, by: User) -> PracticeMessage:
    """Write a message that the client sees after practice; it takes the place of the one before.

    The same words again are the same message: a form that was sent twice.
    """
    with transaction.atomic():
        lock_row(client)
        newest = client.practice_messages.first()
        if newest and (newest.text, newest.written_by_id) == (text, by.pk):
            return newest
        return PracticeMessage.objects.create(client=client, text=text, written_by=by)


def message_for_client(client: Client, *, now: datetime) -> PracticeMessage | None:
    """Return the newest message that is still shown; None if there is none."""
    recent = client.practice_messages.filter(written_at__gt=now - SHOWN_FOR)
    return recent.select_related("written_by").first()


def is_answered(message: PracticeMessage) -> bool:
    """Return whether the client has answered a message."""
    answers = SelfReport.objects.filter(client=message.client_id, kind=SelfReport.Kind.ANSWER)
    return answers.filter(value__message=message.pk).exists()


def conversation(client: Client) -> list[Entry]:
    """Return the newest messages, answers and comments, newest first."""
    messages = client.practice_messages.select_related("written_by")[:MOST_SHOWN]
    found = [Entry(each.written_at, each.text, by=each.written_by) for each in messages]
    written = (
        _written_reports([client]).select_related("task__programme").order_by("-said_at", "key")
    )
    found += [Entry(each.said_at, _words(each), task=each.task) for each in written[:MOST_SHOWN]]
    return sorted(found, key=lambda entry: entry.at, reverse=True)[:MOST_SHOWN]


def waiting_words(clients: Iterable[Client], *, now: datetime) -> dict[int, Entry]:
    """Return, by client, the newest words that no clinician's message has followed yet."""
    found: dict[int, Entry] = {}
    written = _written_reports(clients).filter(said_at__gt=now - WAITS_FOR)
    for each in written.order_by("said_at", "key"):
        found[each.client_id] = Entry(each.said_at, _words(each))
    if not found:
        return found
    messages = PracticeMessage.objects.filter(client__in=found, written_at__gt=now - WAITS_FOR)
    for client, at in messages.values_list("client", "written_at"):
        if client in found and found[client].at < at:
            del found[client]
    return found


def _written_reports(clients: Iterable[Client]) -> Any:
    kinds = [SelfReport.Kind.COMMENT, SelfReport.Kind.ANSWER]
    return SelfReport.objects.filter(client__in=list(clients), kind__in=kinds)


def _words(report: SelfReport) -> str:
    value = report.value
    return str(value["words"] if report.kind == SelfReport.Kind.ANSWER else value)
