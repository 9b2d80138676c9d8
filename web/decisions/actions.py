"""Decisions: accept or refuse a proposal, and undo an acceptance."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.decisions import Step
from reedcore.decisions.of_history import rung_of
from reedcore.pitch import Spelling
from reedcore.programme.document_values import programme_from
from reedcore.programme.edits import (
    BeginTaper,
    Maintain,
    SetRung,
    StepTaper,
    Swap,
    apply_edits,
)
from reedcore.programme.swap import substitute_for
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.messages.actions import address_of, message_text, queue_message
from web.messages.models import Message
from web.messages.wording import SUBJECTS
from web.programmes.actions import (
    latest_single_sound,
    publish_document,
    publish_programme,
    withdraw,
)
from web.programmes.drafting import lock_client
from web.programmes.version_diff import differences
from web.record.models import Decision, RuleSettings
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import current_programme
from web.ui.saving import lock_row

from .proposals import proposal_named
from .proposing_steps import ProposedStep
from .wording import proposal_words

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.record.models import PrescribedTask, ProgrammeVersion

#: Steps after which the client is emailed (if they agreed), with the text.
WRITES = {
    Step.EASE_AND_CALL: Message.Kind.CHANGED,
    Step.CALL: Message.Kind.CHECK_IN,
    Step.CHECK_IN: Message.Kind.CHECK_IN,
}


@transaction.atomic
def change_rules(client: Client, changed: dict[str, float]) -> None:
    """Store a client's rule settings that differ from the defaults; unchanged settings are not
    stored again."""
    lock_row(client)
    kept, _ = RuleSettings.objects.get_or_create(client=client, defaults={"changed": changed})
    if kept.changed != changed:
        kept.changed = changed
        kept.save(update_fields=["changed"])


class CannotUndo(Exception):
    """Something was practised under the version since, or it is no longer the newest."""


class AlreadyUndone(Exception):
    """The decision has already been undone."""


class NotProposed(Exception):
    """It is no longer proposed: it was decided already, or there is new practice."""


class RedFlagOpen(Exception):
    """A red flag cannot be left for later: a clinician deals with it."""


class NothingToSwapFor(Exception):
    """The catalogue names no substitute for the task."""


@transaction.atomic
def accept_current_proposal(
    client: Client, *, task: str, step: str, by: User, sends_message: bool = True, text: str = ""
) -> Decision:
    """Accept the current proposal for this task and step, once even for simultaneous requests.

    Args:
        writes: whether the message that goes with the step is sent to the client.
        text: the message as the clinician edited it; empty for the usual words.

    Raises:
        NotProposed: it is not proposed any more.
        As `accept_proposal`.
    """
    # Lock first, so that the second of two simultaneous decisions sees the first.
    client = lock_client(client)
    decided = proposal_named(client, task=task, step=step)
    if decided is None:
        raise NotProposed
    return accept_proposal(client, decided, by=by, sends_message=sends_message, text=text)


@dataclass(frozen=True)
class MessageDraft:
    """A message to the client before it is sent: address and text."""

    to: str
    subject: str
    words: str


def message_for(client: Client, *, task: str, step: str) -> MessageDraft | None:
    """Return the message that accepting this proposal would send; None if there is none.

    Raises:
        NothingToSwapFor: as taking it would.
    """
    to = address_of(client)
    decided = proposal_named(client, task=task, step=step) if to and step in WRITES else None
    if to is None or decided is None:
        return None
    kind, changes = _message(client, decided)
    return MessageDraft(to, SUBJECTS[kind], message_text(client, kind, changes=changes))


@transaction.atomic
def refuse_proposed(client: Client, *, task: str, step: str, by: User, reason: str) -> Decision:
    """Refuse the current proposal for this task and step.

    Raises:
        NotProposed: it is not proposed any more.
        RedFlagOpen: it is a red flag.
    """
    client = lock_client(client)
    decided = proposal_named(client, task=task, step=step)
    if decided is None:
        raise NotProposed
    if decided.proposal.step is Step.STOP_AND_REFER:
        raise RedFlagOpen
    return refuse_proposal(client, decided, by=by, refusal_reason=reason)


@transaction.atomic
def accept_proposal(
    client: Client, decided: ProposedStep, *, by: User, sends_message: bool = True, text: str = ""
) -> Decision:
    """Accept a proposal: publish the changed programme as the next version, and email the client if
    the step has a text; ``text`` is the clinician's edited message.

    Raises:
        web.programmes.actions.OpenStops, NotCleared: as publishing says; nothing is decided then.
        NothingToSwapFor: no substitute is left.
    """
    made = _publish_change(client, decided, by=by)
    decision = _keep(client, decided, by=by, accepted=True, created=made)
    if sends_message and decided.proposal.step in WRITES:
        kind, changes = _message(client, decided)
        queue_message(client, kind, by=by, changes=changes, text=text)
    return decision


def refuse_proposal(
    client: Client, decided: ProposedStep, *, by: User, refusal_reason: str
) -> Decision:
    """Leave things as they are; it is not proposed again until there is new evidence."""
    return _keep(client, decided, by=by, accepted=False, refusal_reason=refusal_reason)


@transaction.atomic
def undo(decision: Decision, *, by: User) -> None:
    """Undo a decision, unless a session has been practised under its version. The version
    is withdrawn, never deleted: a device may have begun on it without the clinic knowing yet.

    Raises:
        AlreadyUndone: it has been undone before.
        CannotUndo: a session was practised under it, or a newer version is in force.
    """
    lock_client(decision.client)
    decision = lock_row(decision)
    if decision.undone_at is not None:
        raise AlreadyUndone
    made = decision.created_version
    if made is not None:
        used = made.sessions.exists() or made.tasks.filter(trials__isnull=False).exists()
        if made != current_programme(decision.client) or used:
            raise CannotUndo
        withdraw(made, by=by)
    decision.undone_at, decision.undone_by = timezone.now(), by
    decision.save(update_fields=["undone_at", "undone_by"])


def _message(client: Client, decided: ProposedStep) -> tuple[Any, ...]:
    """Return the kind of message and the changes it names; without changes it is a check-in."""
    kind = WRITES[decided.proposal.step]
    changes = _changes(client, decided) if kind is Message.Kind.CHANGED else []
    return (kind if changes or kind is not Message.Kind.CHANGED else Message.Kind.CHECK_IN), changes


def _changes(client: Client, decided: ProposedStep) -> list[Any]:
    """Return the changes of accepting it in the client's words."""
    if decided.task is None:
        return []
    after = _document(client, decided)
    if after is None:
        to = rung_of(decided.proposal, PrescribedRow(decided.task).prescribed_item)
        if to is None or to.seconds is None:
            return []
        return [
            gettext("hold: {target_s:g} s → {seconds:g} s").format(
                target_s=decided.task.target_s, seconds=to.seconds
            )
        ]
    before = decided.task.programme.prescribed
    spelling = Spelling(client.spelling)
    return differences(
        before, programme_from(after), tasks=all_tasks(client.clinic), spelling=spelling
    )


def _keep(
    client: Client,
    decided: ProposedStep,
    *,
    by: User,
    accepted: Any,
    refusal_reason: str = "",
    created: Any = None,
) -> Decision:
    proposal = decided.proposal
    return Decision.objects.create(
        client=client,
        task=decided.task,
        step=proposal.step.value,
        reason=proposal.reason.value,
        facts=proposal.facts,
        evidence=list(proposal.evidence),
        accepted=accepted,
        refusal_reason=refusal_reason,
        decided_at=timezone.now(),
        decided_by=by,
        created_version=created,
    )


def _publish_change(client: Client, decided: ProposedStep, *, by: User) -> ProgrammeVersion | None:
    """Return the version that accepting it creates; None if the programme does not change."""
    task, proposal = decided.task, decided.proposal
    if task is None:
        return None
    document = _document(client, decided)
    if document is None:
        to = rung_of(proposal, PrescribedRow(task).prescribed_item)
        return _next_single_sound(client, task, to.seconds if to else None, by=by)
    if document == task.programme.document:
        return None
    reason = f"{decided.title}: {proposal_words(proposal)}"[:500]
    before = task.programme.document
    return publish_document(client, document, by=by, reason=reason, before=before)


def _next_single_sound(client: Client, task: PrescribedTask, seconds: Any, *, by: User) -> Any:
    """Return the next version of a single held sound."""
    if seconds is None:
        return None
    again = latest_single_sound(task, target_s=seconds)
    kept = task.programme.overrules  # Do not ask again for a reason that still applies.
    return publish_programme(client, by=by, task=again, overrules=kept)


def _document(client: Client, decided: ProposedStep) -> dict[str, Any] | None:
    """Return the version's document with the proposal's changes; None if it has no document."""
    document = decided.task.programme.document if decided.task else None
    if not document:
        return None
    catalogue = all_tasks(client.clinic)
    return apply_edits(document, _edits(client, decided, catalogue), catalogue)


def _edits(client: Client, decided: ProposedStep, catalogue: Any) -> Any:
    """Return the programme edits of accepting the proposal, the same as a user would make."""
    proposal = decided.proposal
    today = timezone.localdate(timezone=client.zone)
    match proposal.step:
        case Step.START_TAPER:
            return (BeginTaper(proposal.facts["peak_s"], today),)
        case Step.TAPER_ON | Step.TAPER_BACK:
            return (StepTaper(1 if proposal.step is Step.TAPER_ON else -1, today),)
        case Step.MAINTAIN:
            return (Maintain(today),)
    task = decided.task
    if task is None:
        raise ValueError(f"the step {proposal.step} speaks of no task")
    if proposal.step is Step.SWAP:
        other = substitute_for(task.task_code, catalogue)
        if other is None:
            raise NothingToSwapFor
        return (Swap(task.item_id, other.code),)
    to = rung_of(proposal, PrescribedRow(task, catalogue).prescribed_item)
    return () if to is None else (SetRung(task.item_id, to.changes, to.value),)
