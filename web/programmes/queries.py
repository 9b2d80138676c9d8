"""What is prescribed."""

from django.db.models import QuerySet

from reedcore.pitch import Note, Spelling
from reedcore.targets import HoldTarget, SecondsKind
from web.clients.models import Client

from .models import PrescribedTask, Programme


def current_programme(client: Client) -> Programme | None:
    """The newest version, with its tasks."""
    return client.programmes.prefetch_related("tasks").order_by("-version").first()


def current_task(client: Client) -> PrescribedTask | None:
    """The one task of the newest version."""
    programme = current_programme(client)
    return programme.tasks.all()[0] if programme else None


def tasks_of(user) -> QuerySet[PrescribedTask]:
    """Every task ever prescribed to the clients this person may see."""
    return PrescribedTask.objects.filter(
        programme__client__in=user.visible_clients()
    ).select_related("programme__client__clinic")


def note_of(task: PrescribedTask) -> Note | None:
    """The note asked for, None where any will do."""
    return None if task.note_midi is None else Note(task.note_midi)


def note_name(task: PrescribedTask) -> str | None:
    """Its name as this client's clinician spells it."""
    note = note_of(task)
    return note.name(Spelling(task.programme.client.spelling)) if note else None


def note_hz(task: PrescribedTask) -> float | None:
    """Its frequency at the clinic's pitch."""
    note = note_of(task)
    return note.hz(a4_hz=task.programme.client.clinic.a4_hz) if note else None


def target_of(task: PrescribedTask) -> HoldTarget:
    """The task as the core judges it."""
    return HoldTarget(seconds=task.target_s, counts=SecondsKind(task.counts), note=note_of(task))
