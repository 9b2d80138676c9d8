"""Prescribing: drafts, and versions that stay as they are once published."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.measures import kind_of
from reedcore.pitch import Spelling
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import programme_from
from reedcore.programme.plan import count_trials
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.record.models import PrescribedTask, ProgrammeVersion
from web.record.programmes import current_programme
from web.screening.queries import blocks
from web.ui.saving import lock_row

from . import drafting
from .composer_view import ComposerView, recheck, second_look, second_look_at_one
from .drafting import lock_client
from .queries import draft_document, edition_of
from .wording import finding_words

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from reedcore.checks.plan import Finding
    from reedcore.programme.programme import Item, Programme
    from reedcore.safety.clearance import Block
    from web.accounts.models import User


class NotCleared(Exception):
    """A fact on record blocks prescribing; ``blocks`` names it."""

    def __init__(self, found: tuple[Block, ...]) -> None:
        super().__init__(", ".join(found))
        self.blocks = found


class OpenStops(Exception):
    """The check found stops without a written reason; ``findings`` are they, ``look`` is all."""

    def __init__(self, findings: list[Finding], look: ComposerView) -> None:
        super().__init__(", ".join(each.code for each in findings))
        self.findings = findings
        self.look = look

    @property
    def keys(self) -> list[str]:
        """Return the key of each finding, under which its reason is stored."""
        pairs = zip(self.look.findings, self.look.keys, strict=True)
        return [key for each, key in pairs if each in self.findings]


class ChangedSince(Exception):
    """The draft has changed since the page was shown."""


class EmptyProgramme(Exception):
    """There is not one item to prescribe."""


@transaction.atomic
def publish_programme(
    client: Client, *, by: User, task: PrescribedTask, at: Any = None, overrules: dict | None = None
) -> ProgrammeVersion:
    """Make the next version, holding this one task; earlier versions stay as they are.

    Raises:
        NotCleared: a red flag is open, or the record forbids any voicing; nothing is published.
        OpenStops: the check found a stop without a written reason.
    """
    client = lock_client(client)
    same = _in_force_already(client, task, by=by)
    if same is not None:
        return same
    look = second_look_at_one(client, task, at=at)
    overrules = {key: why for key, why in (overrules or {}).items() if key in look.keys}
    _refuse_open_stops(look, overrules)
    programme = _next_version(client, by=by, at=at, overrules=overrules)
    task.programme = programme
    task.full_clean(exclude=["programme"])
    task.save(force_insert=True)
    return programme


@transaction.atomic
def publish_document(
    client: Client,
    document: dict,
    *,
    by: User,
    reason: str = "",
    at: Any = None,
    before: dict | None = None,
    keeps_draft: bool = False,
) -> ProgrammeVersion:
    """Make the next version of a whole document, and end its draft.

    Args:
        before: the document that was changed beside the draft; the draft stays then, and takes the
            same changes in.
        keeps_draft: the draft stays as it is.

    Raises:
        NotCleared: as above.
        OpenStops: the check found a stop without a written reason.
        Nothing: there is no item in it.
    """
    client = lock_client(client)
    tasks = all_tasks(client.clinic)
    document, problems = clean_document(document, tasks=tasks)
    if problems or not document["items"]:
        raise EmptyProgramme
    prescribed = programme_from(document)
    _refuse_open_stops(second_look(client, prescribed, tasks, at=at), prescribed.overrules)
    programme = _next_version(client, by=by, at=at, document=document, reason=reason)
    PrescribedTask.objects.bulk_create(_rows(programme, prescribed, tasks))
    if before is not None:
        drafting.carry(client, before, document, by=by)
    elif not keeps_draft:
        drafting.end_published_draft(client, by=by)
    return programme


@transaction.atomic
def publish_draft(client: Client, *, by: User, seen: int, reason: str = "") -> ProgrammeVersion:
    """Make the next version of the draft as its page shows it.

    Raises:
        ChangedSince: another user has changed it since that edition.
        NotCleared, OpenStops, Nothing: as above.
    """
    client = lock_client(client)
    if edition_of(client) != seen:
        raise ChangedSince
    return publish_document(client, draft_document(client), by=by, reason=reason)


def _refuse_open_stops(look: ComposerView, overrules: Mapping[str, Any]) -> None:
    if stops := look.open_stops(overrules):
        raise OpenStops(stops, look)


@transaction.atomic
def publish_again(programme: ProgrammeVersion, *, by: User) -> ProgrammeVersion:
    """Publish an older version's content as the next version; a draft stays unchanged.

    Raises:
        NotCleared, OpenStops: as above, for the record as it stands now.
    """
    client, reason = (
        lock_client(programme.client),
        gettext("as programme {version} was").format(version=programme.version),
    )
    stands = current_programme(client)
    if stands is not None and stands.document and stands.document == programme.document:
        return stands
    if programme.document:
        document = programme.document
        return publish_document(client, document, by=by, reason=reason, keeps_draft=True)
    same = latest_single_sound(programme.tasks.get())
    return publish_programme(client, by=by, task=same, overrules=programme.overrules)


#: The same sound prescribed again within this time is one prescription.
_PRESCRIBED_ONCE = timedelta(minutes=1)


def _in_force_already(client: Client, task: PrescribedTask, *, by: User) -> ProgrammeVersion | None:
    """Return the programme in force where the same person has just prescribed the same sound."""
    stands = current_programme(client)
    if stands is None or stands.document or stands.published_by_id != by.pk:
        return None
    old = stands.tasks.first()
    is_same = old is not None and all(
        getattr(old, name) == getattr(task, name)
        for name in ("sound", "note_midi", "target_s", "counts", "tries")
    )
    is_new = timezone.now() - stands.published_at < _PRESCRIBED_ONCE
    return stands if is_same and is_new else None


def latest_single_sound(task: PrescribedTask, **changed: Any) -> PrescribedTask:
    """Return the latest single held sound, to prescribe again."""
    values = {
        name: getattr(task, name) for name in ("sound", "note_midi", "target_s", "counts", "tries")
    }
    return PrescribedTask(**values | changed)


@transaction.atomic
def withdraw(programme: ProgrammeVersion, *, by: User) -> None:
    """Withdraw a version: the one before it is in force again. It is not deleted, and its practice
    is kept, even if it arrives later."""
    lock_client(programme.client)
    stored = lock_row(programme)
    if stored.withdrawn_at is None:
        stored.withdrawn_at, stored.withdrawn_by = timezone.now(), by
        stored.save(update_fields=["withdrawn_at", "withdrawn_by"])


def check_again(client: Client) -> None:
    """Check the programme in force again: the record, the day or the rules have changed."""
    programme = current_programme(client)
    if programme is None:
        return
    programme.client = client
    look = recheck(programme, all_tasks(client.clinic))
    spelling = Spelling(client.spelling)
    concerns = [
        finding_words(each, spelling=spelling)
        for each in look.open_stops(programme.overruled_stops)
    ]
    if concerns != programme.concerns:
        programme.concerns = concerns
        programme.save(update_fields=["concerns"])


def _next_version(client: Client, *, by: User, at: Any, **more: Any) -> ProgrammeVersion:
    stands = blocks(client, on=timezone.localdate())
    if stands:
        raise NotCleared(stands)
    newest = client.programmes.order_by("-version").first()
    return ProgrammeVersion.objects.create(
        client=client,
        version=newest.version + 1 if newest else 1,
        published_at=at or timezone.now(),
        published_by=by,
        **more,
    )


def _rows(
    programme: ProgrammeVersion, prescribed: Programme, tasks: dict[str, Task]
) -> Iterator[PrescribedTask]:
    """Return a row for each item, substitute task, and note: results are never joined."""
    position = 0
    either = [
        (item, tasks[code])
        for item in prescribed.items
        for code in dict.fromkeys((item.task, item.alternative))
        if code in tasks
    ]
    for item, task in either:
        kind = kind_of(task.measure)
        notes = item.notes if kind.is_by_note and item.notes else (None,)
        for midi in notes:
            position += 1
            yield PrescribedTask(
                programme=programme,
                position=position,
                task_code=task.code,
                item_id=item.id,
                measure=task.measure,
                sound=item.sound or task.sound,
                note_midi=midi,
                target_s=_seconds(item) if kind.is_in_seconds else None,
                counts=item.counts,
                tries=max(1, count_trials(item, task) // len(notes)),
            )


def _seconds(item: Item) -> float:
    return float(max(item.row, default=0) or item.params.get("seconds", 5.0))
