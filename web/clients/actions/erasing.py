"""Erase a client's data: planned by the lead, cancellable for some days, then complete.

What belongs to a client is found by following the foreign keys of every table, so that a table
that is added is not forgotten. What is left is one line: that a record was erased, when, by whom
and why.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from typing import Any

from axes.models import AccessAttempt
from dateutil.relativedelta import relativedelta
from django.db import connection, models, transaction
from django.db.models import Exists, OuterRef, Q, QuerySet
from django.utils import timezone
from django.utils.translation import gettext

from web.accounts.models import Clinic, UnsavedForm, User
from web.accounts.sessions import end_sessions
from web.keeping import journal
from web.ui.saving import lock_row

from ..models import Client, Erasure, Helper

Rows = dict[type[models.Model], set]


class NotErasable(Exception):
    """The erasure cannot be planned; the message is for the lead."""


@transaction.atomic
def plan_erasure(client: Client, *, by: User, why: str, name: str) -> Erasure:
    """Plan the erasure for the end of the clinic's delay.

    Raises:
        NotErasable: the client is not archived, the name typed is another, or no reason is given.
    """
    client = lock_row(client)
    if client.archived_at is None:
        raise NotErasable(
            gettext("Only an archived client can be erased. Archive the record first.")
        )
    if name.strip() != client.name:
        raise NotErasable(gettext("Type the name exactly: {name}.").format(name=client.name))
    if not why.strip():
        raise NotErasable(gettext("Enter a reason. It is kept in the erasure log."))
    due = timezone.now() + timedelta(days=client.clinic.erased_after_days)
    waiting = Erasure.objects.filter(record=client.pk, cancelled_at=None, done_at=None)
    return waiting.first() or Erasure.objects.create(
        clinic=client.clinic, record=client.pk, reason=why.strip()[:500], asked_by=by, due_at=due
    )


def clients_past_retention(clinic: Clinic, *, now: Any) -> QuerySet[Client]:
    """Return clients archived for longer than the clinic keeps records, without an erasure planned
    or cancelled since they were archived."""
    if clinic.archived_kept_years is None:
        return clinic.clients.none()
    since = now - relativedelta(years=clinic.archived_kept_years)
    planned = Erasure.objects.filter(record=OuterRef("pk")).filter(
        Q(cancelled_at=None) | Q(cancelled_at__gte=OuterRef("archived_at"))
    )
    return clinic.clients.filter(archived_at__lt=since).exclude(Exists(planned))


@transaction.atomic
def plan_erasures(clinic: Clinic, *, now: Any) -> list[Erasure]:
    """Plan the erasure of each of them for the end of the clinic's delay."""
    due = now + timedelta(days=clinic.erased_after_days)
    why = gettext("archived for {archived_kept_years} years, as the clinic keeps records").format(
        archived_kept_years=clinic.archived_kept_years
    )
    found = clients_past_retention(clinic, now=now)
    return [
        Erasure.objects.create(clinic=clinic, record=client.pk, reason=why, due_at=due)
        for client in found
    ]


@transaction.atomic
def take_back(erasure: Erasure, *, by: User) -> None:
    """Cancel the erasure; the first request for it stays on record."""
    locked = lock_row(erasure)
    if locked.cancelled_at is None and locked.done_at is None:
        locked.cancelled_at, locked.cancelled_by = timezone.now(), by
        locked.save(update_fields=["cancelled_at", "cancelled_by"])


def erase_due(*, now: Any) -> list[int]:
    """Erase all records that are due, and return their numbers."""
    return [each.record for each in due_erasures(now=now) if _erase(each.pk, now=now)]


def due_erasures(*, now: Any) -> QuerySet[Any]:
    """Return the erasures that are due, oldest first."""
    waiting = Erasure.objects.filter(due_at__lte=now, cancelled_at=None, done_at=None)
    return waiting.order_by("due_at")


@transaction.atomic
def _erase(pk: int, *, now: Any) -> bool:
    erasure = Erasure.objects.select_for_update().get(pk=pk)
    if erasure.cancelled_at or erasure.done_at:
        return False
    client = Client.objects.select_for_update(of=("self",)).filter(pk=erasure.record).first()
    if client is not None and client.archived_at is None:
        return False  # Restored after the erasure was scheduled: skip it.
    if client is not None:
        _take_away(client)
    erasure.done_at = now
    erasure.save(update_fields=["done_at"])
    return True


def _take_away(client: Client) -> None:
    journal.note(journal.ERASED, record=client.pk, created=client.created_at.isoformat())
    rows = rows_of_client(client)
    _forget_accounts(client)
    # Foreign keys are checked at the end, so the order does not matter.
    _forget_jobs(rows)
    for model, keys in rows.items():
        _delete(model._base_manager.filter(pk__in=keys))


@transaction.atomic
def erase_again(record: int, *, created: datetime, at: datetime) -> bool:
    """Erase a record that a restore has brought back, as of when it was erased.

    Args:
        created: when that record was begun: numbers are reassigned after a restore.

    Returns:
        Whether it was there.
    """
    client = Client.objects.select_for_update(of=("self",)).filter(pk=record).first()
    if client is None or client.created_at != created:
        return False
    clinic = client.clinic
    _take_away(client)
    waiting = Erasure.objects.filter(record=record, done_at=None).order_by("-pk").first()
    if waiting is None:
        waiting = Erasure.objects.create(
            clinic=clinic,
            record=record,
            reason=gettext("erased before the records were restored"),
            due_at=at,
        )
    Erasure.objects.filter(pk=waiting.pk).update(done_at=at, cancelled_at=None)
    return True


def rows_of_client(client: Client) -> Rows:
    """Return every row of every table that is the client's, their versions in the
    history included."""
    found: Rows = {Client: {client.pk}, User: _accounts_of(client)}
    new = {model: set(keys) for model, keys in found.items()}
    while new:
        nearby: Rows = {}
        for model, keys in new.items():
            for other, hits in _dependent_rows(model, keys):
                fresh = hits - found.get(other, set())
                if fresh:
                    found.setdefault(other, set()).update(fresh)
                    nearby.setdefault(other, set()).update(fresh)
        new = nearby
    for model, hits in _rows_without_key(client):
        found.setdefault(model, set()).update(hits)
    return found


def _relations(model: type[models.Model]) -> Iterator[tuple[Any, ...]]:
    """Yield (the other model, its field) of every relation to a model, including hidden ones."""
    for relation in model._meta.get_fields(include_hidden=True):
        if relation.auto_created and not relation.concrete and not relation.many_to_many:
            yield relation.related_model, relation.field  # type: ignore[union-attr]


def _dependent_rows(
    model: type[models.Model], keys: set[Any]
) -> Iterable[tuple[type[models.Model], set]]:
    """Yield rows of other tables that depend on these, and the history of these rows."""
    for other, field in _relations(model):
        if not (model is User and field.null):
            rows = other._base_manager.filter(**{f"{field.name}__in": keys})
            yield other, set(rows.values_list("pk", flat=True))
    if hasattr(model, "history"):
        versions = model.history.model
        of_these = versions.objects.filter(**{f"{model._meta.pk.attname}__in": keys})
        yield versions, set(of_these.values_list("pk", flat=True))


def _rows_without_key(client: Client) -> Iterable[tuple[type[models.Model], set]]:
    """Yield rows that mention a client without a foreign key: form drafts, jobs, PIN attempts."""
    path = f"/clients/{client.pk}/"
    drafts = UnsavedForm.objects.filter(form__contains=path)
    yield UnsavedForm, set(drafts.values_list("pk", flat=True))
    names = User.objects.filter(pk__in=_accounts_of(client)).values("username")
    attempts = AccessAttempt.objects.filter(username__in=names)
    yield AccessAttempt, set(attempts.values_list("pk", flat=True))


def _accounts_of(client: Client) -> set[int]:
    """Return the accounts of the client and of current and former helpers."""
    accounts = {client.account_id, *client.helpers.values_list("account", flat=True)}
    return {each for each in accounts if each is not None}


def _forget_accounts(client: Client) -> Any:
    """End their sessions and remove their names from rows about others."""
    accounts = _accounts_of(client)
    for other, field in _relations(User):
        if field.null and other not in (Client, Helper):
            rows = other._base_manager.filter(**{f"{field.name}__in": accounts})
            rows.update(**{field.name: None})
    for each in User.objects.filter(pk__in=accounts):
        end_sessions(each)


def _forget_jobs(rows: Rows) -> None:
    """Remove queued jobs about erased rows, by the arguments of each job."""
    with connection.cursor() as cursor:
        for model, keys in rows.items():
            cursor.execute(
                "DELETE FROM procrastinate_jobs WHERE args->>%s = ANY(%s)",
                [model._meta.model_name, [str(each) for each in keys]],
            )


def _delete(rows: QuerySet[Any]) -> None:
    rows._raw_delete(rows.db)
