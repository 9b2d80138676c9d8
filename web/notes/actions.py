"""Writing, signing and adding: a signed note stays as it is, in the database too."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING, Any

from django.db import transaction
from django.utils import timezone

from web.ui.saving import lock_row

from .drafts import draft_note
from .facts import Facts, facts_of
from .models import Addendum, ClinicalNote
from .report import figures_under
from .wording import PARTS

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.clients.models import Client


class NoteIsSigned(Exception):
    """It was signed, and cannot be changed."""


class ChangedMeanwhile(Exception):
    """Another user has saved the note since it was opened."""


def facts_for(note: ClinicalNote) -> Facts:
    """Return the facts of the note's period."""
    return facts_of(note.client, first=note.first, last=note.last, session=note.session)


def figures_for(note: ClinicalNote, facts: Facts | None = None) -> dict:
    """Return the figures of the note: those stored at signing, otherwise the current ones."""
    if note.signed_at:
        return note.figures
    return figures_under(
        facts or facts_for(note), has_charts=note.kind != ClinicalNote.Kind.SESSION
    )


#: A note of the same kind and period begun within this time is the same note.
_BEGUN_ONCE = timedelta(minutes=1)


@transaction.atomic
def begin_note(
    client: Client, *, kind: Any, by: User, first: Any, last: Any, session: Any = None
) -> ClinicalNote:
    """Return a new draft, with first words in each part. One that the same person has just begun,
    and has not saved, is the same one."""
    lock_row(client)
    same = {"kind": kind, "made_by": by, "first": first, "last": last, "session": session}
    since = timezone.now() - _BEGUN_ONCE
    begun = client.notes.filter(**same, edition=1, signed_at=None, made_at__gt=since).first()
    if begun is not None:
        return begun
    facts = facts_of(client, first=first, last=last, session=session)
    return ClinicalNote.objects.create(
        client=client, kind=kind, session=session, first=first, last=last,
        words=draft_note(kind, facts), made_by=by,
    )  # fmt: skip


@transaction.atomic
def save_note(note: ClinicalNote, *, words: dict[str, str], edition: int) -> ClinicalNote:
    """Save the note's text.

    Raises:
        Signed: it is fixed.
        ChangedMeanwhile: ``edition`` is not the newest.
    """
    locked = ClinicalNote.objects.select_for_update().get(pk=note.pk)
    if locked.signed_at:
        raise NoteIsSigned
    if locked.edition != edition:
        raise ChangedMeanwhile
    locked.words = _known_parts(locked, words)
    locked.edition += 1
    locked.save(update_fields=["words", "edition"])
    return locked


@transaction.atomic
def sign_note(note: ClinicalNote, *, by: User, words: dict[str, str], edition: int) -> ClinicalNote:
    """Sign the note: its text as shown, with its current figures.

    Raises:
        Signed: it was signed before.
        ChangedMeanwhile: ``edition`` is not the newest.
    """
    locked = (
        ClinicalNote.objects.select_for_update(of=("self",))
        .select_related("client__clinic", "session")
        .get(pk=note.pk)
    )
    if locked.signed_at:
        raise NoteIsSigned
    if locked.edition != edition:
        raise ChangedMeanwhile
    locked.words = _known_parts(locked, words)
    locked.figures = figures_for(locked)
    locked.signed_at, locked.signed_by = timezone.now(), by
    locked.save(update_fields=["words", "figures", "signed_at", "signed_by"])
    return locked


def _known_parts(note: ClinicalNote, words: dict[str, str]) -> dict[str, str]:
    return {code: words.get(code, "") for code, _ in PARTS[ClinicalNote.Kind(note.kind)]}


@transaction.atomic
def discard_note(note: ClinicalNote) -> None:
    """Delete a draft; deleting it twice has no effect.

    Raises:
        Signed: it is fixed.
    """
    locked = ClinicalNote.objects.select_for_update().filter(pk=note.pk).first()
    if locked is None:
        return
    if locked.signed_at:
        raise NoteIsSigned
    locked.delete()


def add_to_note(note: ClinicalNote, *, words: str, by: User) -> Addendum:
    """Add to a signed note."""
    return Addendum.objects.create(note=note, words=words, added_by=by)
