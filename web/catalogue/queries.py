"""Queries for the tasks that a clinic can prescribe."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.db.models import Q, QuerySet

from reedcore.catalogue.tasks import Task, shipped_tasks, task_from

from .models import LibraryEntry, OwnTask

if TYPE_CHECKING:
    from web.accounts.models import Clinic, User


def own_task(row: OwnTask) -> Task:
    """Return a clinic's own task as a task."""
    return task_from(row.data, family=row.family, own=True)


def tasks_for(clinic: Clinic, *, include_hidden: bool = False) -> dict[str, Task]:
    """Return the shipped tasks without hidden ones (unless included), and the clinic's own."""
    out = set() if include_hidden else set(clinic.hidden_tasks.values_list("code", flat=True))
    tasks = {code: task for code, task in shipped_tasks().items() if code not in out}
    return tasks | {row.code: own_task(row) for row in clinic.own_tasks.all()}


def all_tasks(clinic: Clinic) -> dict[str, Task]:
    """Return all of them, hidden ones too: an old programme may hold one."""
    return tasks_for(clinic, include_hidden=True)


def entries_of(account: User) -> QuerySet[Any]:
    """Return every entry visible to this user: own ones, and those that others share."""
    return account.clinic.library.filter(Q(shared=True) | Q(author=account))


def library_of(account: User, kind: str) -> list[LibraryEntry]:
    """Return the newest version of each that this account may use."""
    entries = entries_of(account).filter(kind=kind, archived_at=None).select_related("author")
    newest = entries.order_by("name", "author_id", "-version")
    return list(newest.distinct("name", "author_id"))


def library_entry(account: User, kind: str, pk: int) -> LibraryEntry | None:
    """Return one of those entries; None if this user cannot use it."""
    return entries_of(account).filter(kind=kind, pk=pk, archived_at=None).first()
