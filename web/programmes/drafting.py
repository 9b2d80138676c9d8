"""A draft and the edits from several pages: each is applied once, to the current state.

What others changed in between is merged where the edits do not touch. Where they do, the edit is
not made, and its page is told what stands and asked.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.catalogue.tasks import Task
from reedcore.errors import NoSuchItem, Refusal
from reedcore.pitch import Spelling
from reedcore.programme.changes import (
    Change,
    PutItem,
    TakeItem,
    apply_changes,
    changes_between,
    changes_of,
    clashes,
    item_of,
    raw_changes,
)
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import item_from, programme_from
from reedcore.programme.edits import BringBack, Replace, apply_edits, edit_of
from reedcore.programme.programme import Item, Programme
from web.clients.models import Client
from web.record.programmes import empty_document
from web.ui.wording import sentence

from .edit_conflict import clash_words
from .field_parsing import FieldNotParsed, edit_typed
from .models import Draft, DraftChange
from .problems import problem_words
from .queries import draft_document, edition_of

if TYPE_CHECKING:
    from web.accounts.models import User

Action = DraftChange.Action
#: Edits that a page may send directly; all others have a name of their own below.
BY_HAND = (
    "repeat_item", "remove_item", "move_item", "place_item", "toggle", "climb_rung",
    "overrule",
)  # fmt: skip
#: Field prefix that names a clinic's own set of lines.
OWN = "own:"
#: Fields that change the shape or the sound of a task.
PAIRED = {"shape_of": "shape", "sound_of": "sound"}
#: Keep changes this long after publishing, for pages that are still open.
KEPT_DAYS = 7
#: Maximum number of edits waiting on a page.
MOST_EDITS = 400


@dataclass(frozen=True)
class SentEdit:
    """An edit as a page sent it.

    Attributes:
        number: which of the page's edits.
        seen: the edition that the page showed when it was made.
        raw: what it is.
        is_confirmed: the user has seen the others' changes and confirms the edit.
    """

    number: int
    seen: int
    raw: Mapping[str, Any]
    is_confirmed: bool = False


@dataclass(frozen=True)
class EditNotApplied:
    """An edit that was not made, and why.

    Attributes:
        clash: it conflicts with another user's edit; the user may confirm it.
        gone: the item that they took out, which would have to be brought back for it.
    """

    number: int
    sentence: str
    clash: bool = False
    gone: str = ""


@dataclass
class OpenDraft:
    """A draft while edits are applied to it; the client's row is locked.

    Attributes:
        special: by name, what makes the edits of an edit that only the page's own side can.
    """

    client: Client
    by: Any
    page: str
    tasks: Mapping[str, Task]
    document: dict[str, Any]
    edition: int
    special: Mapping[str, Callable] = field(default_factory=dict)

    @property
    def programme(self) -> Programme:
        """Return the draft as a value."""
        return programme_from(self.document)

    def item(self, id: str) -> Item:
        """Return the item with that id.

        Raises:
            NoSuchItem: there is none.
        """
        return item_from(item_of(self.document, id))

    def apply(self, sent: SentEdit) -> EditNotApplied | None:
        """Make one edit, or says why it is not made."""
        if self.client.draft_changes.filter(page=self.page, number=sent.number).exists():
            return None
        try:
            if sent.raw.get("do") in (Action.UNDO, Action.REDO):
                return self._undo_or_redo(sent)
            return self._apply(sent)
        except NoSuchItem as refusal:
            return self._removed_item(sent, refusal.facts["item"])
        except FieldNotParsed as misread:
            return EditNotApplied(sent.number, str(misread))
        except Refusal as refusal:
            return EditNotApplied(sent.number, sentence(refusal))

    def _apply(self, sent: SentEdit) -> EditNotApplied | None:
        after = apply_edits(self.document, self._edits(sent.raw), self.tasks)
        return self._apply_changes(sent, changes_between(self.document, after), since=sent.seen)

    def _edits(self, raw: Mapping[str, Any]) -> tuple[Any, ...]:
        do = str(raw.get("do"))
        if do == "type":
            item, name = (str(raw.get(each, ""))[:60] for each in ("item", "name"))
            if name in PAIRED and self.special:
                pair = {"item": item, PAIRED[name]: raw.get("said", "")}
                return self.special["pair"](self, pair)
            reason = str(raw.get("said", ""))
            if name == "fill" and reason.startswith(OWN) and self.special:
                lines = {"item": item, "pk": reason.removeprefix(OWN)}
                return self.special["own_lines"](self, lines)
            edit = edit_typed(item, name, raw.get("said", ""))
            return () if edit is None else (edit,)
        if do == "bring_back":
            return (self._bring_back(str(raw.get("item", ""))),)
        if do in self.special:
            return self.special[do](self, raw)
        return (edit_of(raw if do in BY_HAND else {}),)

    def _undo_or_redo(self, sent: SentEdit) -> EditNotApplied | None:
        """Undo this page's last edit, or redo the last undone one."""
        past, future = self._stacks()
        undoes = sent.raw["do"] == Action.UNDO
        stack = past if undoes else future
        if not stack:
            undo_words = gettext("There is nothing on this page to undo.")
            redo_words = gettext("There is nothing on this page to redo.")
            return EditNotApplied(sent.number, undo_words if undoes else redo_words)
        entry = stack[-1]
        last = max(entry.edition, sent.seen) if sent.is_confirmed else entry.edition
        changes = changes_of(entry.inverse_changes if undoes else entry.changes)
        return self._apply_changes(
            sent, changes, since=last, target=entry, action=Action(sent.raw["do"])
        )

    def _stacks(self) -> tuple[Any, ...]:
        past: list[DraftChange] = []
        future: list[DraftChange] = []
        mine = self.client.draft_changes.filter(page=self.page, made_by=self.by)
        for each in mine.exclude(action=Action.HANDED_OVER).select_related("target"):
            if each.action == Action.DO:
                past.append(each)
                future.clear()
            elif each.target is not None:
                back = each.action == Action.UNDO
                leaves, takes = (past, future) if back else (future, past)
                leaves.remove(each.target)
                takes.append(each.target)
        return past, future

    def _apply_changes(
        self,
        sent: SentEdit,
        changes: tuple[Any, ...],
        *,
        since: Any,
        target: Any = None,
        action: Any = Action.DO,
    ) -> EditNotApplied | None:
        if not changes:
            return None
        for other in self._changes_of_others(since):
            if clash := clashes(changes, changes_of(other.changes)):
                return EditNotApplied(sent.number, self._words(other, clash[0]), clash=True)
        after = apply_changes(self.document, changes)
        after, problems = clean_document(after, tasks=self.tasks)
        if problems:
            return EditNotApplied(sent.number, problem_words(problems[0]))
        self.keep(changes, after, number=sent.number, target=target, action=action)
        return None

    def _changes_of_others(self, since: int) -> Iterable[DraftChange]:
        later = self.client.draft_changes.filter(edition__gt=since)
        return later.exclude(page=self.page).select_related("made_by").order_by("-edition")

    def _words(self, other: DraftChange, change: Any) -> str:
        who, spelling = other.made_by.get_full_name(), Spelling(self.client.spelling)
        return clash_words(change, self.document, tasks=self.tasks, who=who, spelling=spelling)

    def _removed_item(self, sent: SentEdit, item: str) -> EditNotApplied | None:
        """Return who removed an item, and that it can be restored."""
        taken = TakeItem(item)
        for entry in self.client.draft_changes.select_related("made_by").order_by("-edition"):
            if taken in changes_of(entry.changes):
                if entry.page == self.page or sent.raw.get("do") == "remove_item":
                    return None  # Already removed, as the page wanted.
                words = self._words(entry, self._put_back(entry, item) or taken)
                return EditNotApplied(sent.number, words, clash=True, gone=item)
        return EditNotApplied(sent.number, sentence(NoSuchItem(item=item)))

    def _put_back(self, entry: DraftChange, item: str) -> PutItem | None:
        puts = (each for each in changes_of(entry.inverse_changes) if isinstance(each, PutItem))
        return next((each for each in puts if each.item["id"] == item), None)

    def _bring_back(self, item: str) -> BringBack:
        for entry in self.client.draft_changes.order_by("-edition"):
            if put := self._put_back(entry, item):
                return BringBack(put.item, put.after)
        raise NoSuchItem(item=item)

    def keep(
        self,
        changes: Iterable[Change],
        after: dict[str, Any],
        *,
        number: int = 0,
        target: Any = None,
        action: Any = Action.DO,
    ) -> None:
        """Save the draft, with the edit that changed it."""
        self.edition += 1
        self.client.draft_changes.create(
            edition=self.edition,
            page=self.page,
            number=number,
            action=action,
            target=target,
            changes=raw_changes(changes),
            inverse_changes=raw_changes(changes_between(after, self.document)),
            made_by=self.by,
        )
        self.document = after
        Draft.objects.update_or_create(
            client=self.client,
            defaults={"document": after, "edition": self.edition, "changed_by": self.by},
        )


def lock_client(client: Client) -> Client:
    """Lock the record: the checked state is the published one, two clinicians never create the same
    version number, and edits of a draft are applied in sequence."""
    return Client.objects.select_for_update(of=("self",)).select_related("clinic").get(pk=client.pk)


def _open_draft(
    client: Client, *, by: User, tasks: Any, page: str = "", special: Any = None
) -> OpenDraft:
    document, _ = clean_document(draft_document(client), tasks=tasks)
    document = document or empty_document(client)
    return OpenDraft(client, by, page, tasks, document, edition_of(client), special or {})


@transaction.atomic
def take_edits(
    client: Client,
    sent: Iterable[SentEdit],
    *,
    by: User,
    page: Any,
    tasks: Any,
    special: Any = None,
) -> tuple[Any, ...]:
    """Apply a page's edits in order; edits that cannot be applied do not stop the others.

    Returns:
        the draft as it then stands, and what was not made.
    """
    client = lock_client(client)
    draft = _open_draft(client, by=by, tasks=tasks, page=page, special=special)
    not_made = [found for each in sent if (found := draft.apply(each))]
    return draft, not_made


@transaction.atomic
def save_draft(client: Client, document: dict, *, by: User, tasks: Any = None) -> Draft:
    """Replace the draft's document."""
    client = lock_client(client)
    draft = OpenDraft(client, by, "", tasks or {}, draft_document(client), edition_of(client))
    after = apply_edits(draft.document, [Replace(document)], draft.tasks)
    draft.keep(changes_between(draft.document, after), after)
    return Draft.objects.get(client=client)


def carry(client: Client, before: dict, after: dict, *, by: User) -> None:
    """Apply a change made outside the draft to it; where the draft has changed the same value, the
    draft's value is newer and stays."""
    held = Draft.objects.filter(client=client).first()
    if held is None:
        return
    draft = OpenDraft(client, by, "", {}, held.document, edition_of(client))
    own = changes_between(before, held.document)
    taken = held.document
    for each in changes_between(before, after):
        if not clashes([each], own):
            try:
                taken = apply_changes(taken, [each])
            except NoSuchItem:  # No longer in the draft.
                continue
    if taken != held.document:
        draft.keep(changes_between(held.document, taken), taken)


def end_published_draft(client: Client, *, by: User) -> None:
    """End a draft that was published; pages that show it learn so at their next request."""
    edition = edition_of(client) + 1
    Draft.objects.filter(client=client).delete()
    client.draft_changes.create(edition=edition, action=Action.HANDED_OVER, made_by=by)
    long_ago = timezone.now() - timedelta(days=KEPT_DAYS)
    client.draft_changes.filter(made_at__lt=long_ago).delete()
