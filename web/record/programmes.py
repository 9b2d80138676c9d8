"""Queries for programmes, current and past."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from django.core.cache import cache
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone

from reedcore.catalogue.ages import ADULT
from reedcore.catalogue.tasks import Task
from reedcore.history import Version, seconds_before, version_week_ago
from reedcore.measures import kind_of
from reedcore.pitch import A4_HZ, Note, Spelling
from reedcore.programme.document import empty_programme
from reedcore.programme.document_values import programme_document, programme_from
from reedcore.programme.loads import Loads, loads_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.programme import Item
from reedcore.targets import HoldTarget
from web.clients.models import Client

from .models import PrescribedTask, ProgrammeVersion

if TYPE_CHECKING:
    from web.accounts.models import User


def current_programme(client: Client, *, with_tasks: bool = True) -> ProgrammeVersion | None:
    """Return the newest version that was not withdrawn; its tasks are loaded with it, or on
    access."""
    in_force = client.programmes.filter(withdrawn_at=None).order_by("-version")
    return (in_force.prefetch_related("tasks") if with_tasks else in_force).first()


def current_task(client: Client) -> PrescribedTask | None:
    """Return the first held sound of the newest version, or None without one."""
    programme = current_programme(client)
    return held_task(programme) if programme else None


def document_in_force(client: Client) -> dict:
    """Return the document of the version in force; an empty one without a version."""
    programme = current_programme(client)
    if programme and programme.document:
        return programme.document
    return empty_document(client)


def empty_document(client: Client) -> dict:
    """Return an empty document worded for the client's age."""
    today = timezone.localdate()
    return programme_document(empty_programme(today, client.wording(on=today)))


def wording_of(version: ProgrammeVersion) -> str:
    """Return the reader of a version's instructions; adults without a document."""
    prescribed = version.prescribed
    return prescribed.wording if prescribed else ADULT


def held_task(programme: ProgrammeVersion) -> PrescribedTask | None:
    """Return the first held sound of a version."""
    held = (task for task in programme.tasks.all() if kind_of(task.measure).can_be_steady)
    return next(held, None)


def tasks_of(user: User) -> QuerySet[PrescribedTask]:
    """Return every task ever prescribed to the clients this person may see."""
    return PrescribedTask.objects.filter(
        programme__client__in=user.visible_clients()
    ).select_related("programme__client__clinic")


def note_of(task: PrescribedTask) -> Note | None:
    """Return the prescribed note; None for any note."""
    return None if task.note_midi is None else Note(task.note_midi)


def note_name(task: PrescribedTask) -> str | None:
    """Return its name as this client's clinician spells it."""
    note = note_of(task)
    return note.name(Spelling(task.programme.client.spelling)) if note else None


def note_hz(task: PrescribedTask) -> float | None:
    """Return its frequency at the clinic's pitch."""
    note = note_of(task)
    return note.hz(a4_hz=task.programme.client.clinic.a4_hz) if note else None


def item_of(task: PrescribedTask) -> Item | None:
    """Return its item in its version; None for a single held sound."""
    prescribed = task.programme.prescribed
    return prescribed.item(task.item_id) if prescribed else None


def load_prescribed_item(
    task: PrescribedTask, catalogue: Mapping[str, Task], *, version: int | None = None
) -> PrescribedItem:
    """Return the prescribed item as a core value, also of an unpublished version.

    Args:
        version: its number, where the version's document is not to be read for it.
    """
    programme = task.programme if version is None and task.programme_id else None
    return PrescribedItem(
        key=task.pk or 0,
        version=programme.version if programme else version or 0,
        code=task.task_code,
        measure=task.measure,
        sound=task.sound,
        note_midi=task.note_midi,
        target_s=task.target_s,
        counts=task.counts,
        tries=task.tries,
        item_id=task.item_id,
        item=item_of(task) if programme else None,
        shipped=catalogue.get(task.task_code) if task.task_code else None,
        a4_hz=programme.client.clinic.a4_hz if programme else A4_HZ,
    )


def target_of(task: PrescribedTask, *, seconds: float | None = None) -> HoldTarget:
    """Return the task as the core judges it; ``seconds`` where another target was set for the
    session."""
    return load_prescribed_item(task, {}).target(seconds=seconds)


def version_of(client: Client, version: int) -> ProgrammeVersion:
    """Return this version, or 404."""
    versions = client.programmes.select_related("published_by", "client__clinic")
    return get_object_or_404(versions, version=version)


@dataclass(frozen=True)
class WeekAgo:
    """Values in force seven days ago: held seconds by item and by task code, and the loads."""

    seconds: dict[str, float]
    loads: Loads


def in_force_week_ago(client: Client, tasks: dict[str, Any], *, at: Any = None) -> WeekAgo:
    """Return the values that the weekly step is compared with; in the first week the initial
    ones."""
    in_force = client.programmes.filter(withdrawn_at=None).order_by("version")
    versions = [
        Version(
            each.version,
            each.published_at,
            each.published_at.astimezone(client.zone).date(),
            tasks=tuple(
                load_prescribed_item(task, {}, version=each.version) for task in each.tasks.all()
            ),
        )
        for each in in_force.defer("document").prefetch_related("tasks")
    ]
    today = (at or timezone.now()).astimezone(client.zone).date()
    then = version_week_ago(versions, today)
    loads = Loads()
    if then is not None and tasks:
        loads = _loads_of_version(client, then.number, tasks)
    return WeekAgo(seconds_before(versions, today), loads)


#: Cache time for the loads of a version, seconds: a version never changes, and a clinic's tasks
#: rarely do.
LOADS_KEPT_S = 3600


def _loads_of_version(client: Client, number: int, tasks: dict[str, Task]) -> Loads:
    """Return the loads of a version, worked out once an hour and not at each edit of
    the composer."""
    name = f"loads-{client.pk}-{number}"
    loads = cache.get(name)
    if loads is None:
        document = client.programmes.values_list("document", flat=True).get(version=number)
        loads = loads_of(programme_from(document), tasks) if document else Loads()
        cache.set(name, loads, timeout=LOADS_KEPT_S)
    return loads
