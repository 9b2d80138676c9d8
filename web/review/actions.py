"""Deciding: a proposal is taken or refused, and the taking may be undone."""

from django.db import transaction
from django.utils import timezone

from reedcore.decisions import Step
from reedcore.ladders import HISS_RUNGS_S, HOLD_RUNGS_S, rung_above_s, rung_below_s
from web.clients.models import Client
from web.programmes.actions import publish_document, publish_programme
from web.programmes.models import PrescribedTask

from .deciding import Decided
from .models import Decision
from .wording import proposal_words

#: Steps that move a task one rung; the others are the clinician's own next action.
_RUNGS = {Step.ADVANCE: rung_above_s, Step.EASE: rung_below_s, Step.EASE_AND_CALL: rung_below_s}


class CannotUndo(Exception):
    """Something was practised under the version since, or it is no longer the newest."""


@transaction.atomic
def accept_proposal(client: Client, decided: Decided, *, by) -> Decision:
    """Takes a proposal; where it moves a rung, the next version holds the new target.

    Raises:
        web.programmes.actions.OpenStops, NotCleared: as publishing says; nothing is decided then.
    """
    return _keep(client, decided, by=by, accepted=True, made=_moved(client, decided, by=by))


def refuse_proposal(client: Client, decided: Decided, *, by, why: str) -> Decision:
    """Leaves things as they are; it is not proposed again until there is new evidence."""
    return _keep(client, decided, by=by, accepted=False, why=why)


@transaction.atomic
def undo(decision: Decision) -> None:
    """Takes back what was accepted, as long as nobody has practised under it.

    Raises:
        CannotUndo: somebody has, or a newer version is in force.
    """
    made = decision.made
    if made is not None:
        newest = decision.client.programmes.order_by("-version").first()
        used = made.sessions.exists() or made.tasks.filter(trials__isnull=False).exists()
        if made != newest or used:
            raise CannotUndo
    decision.delete()
    if made is not None:
        made.tasks.all().delete()
        made.delete()


def _keep(client, decided, *, by, accepted, why="", made=None):
    proposal = decided.proposal
    return Decision.objects.create(
        client=client,
        task=decided.task,
        step=proposal.step.value,
        because=proposal.because.value,
        facts=proposal.facts,
        rests_on=list(proposal.rests_on),
        accepted=accepted,
        why=why,
        decided_at=timezone.now(),
        decided_by=by,
        made=made,
    )


def _moved(client, decided, *, by):
    task, step = decided.task, decided.proposal.step
    if step not in _RUNGS or task.target_s is None:
        return None
    rungs = HISS_RUNGS_S if task.measure == "hiss" else HOLD_RUNGS_S
    seconds = decided.proposal.to_seconds or _RUNGS[step](task.target_s, rungs)
    if seconds is None:
        return None
    reason = f"{decided.title}: {proposal_words(decided.proposal)}"[:500]
    document = task.programme.document
    if not document:
        again = PrescribedTask(
            sound=task.sound, note_midi=task.note_midi, target_s=seconds, counts=task.counts,
            tries=task.tries,
        )  # fmt: skip
        return publish_programme(client, by=by, task=again)
    items = [
        {**item, "params": {**item["params"], "seconds": seconds}, "row": []}
        if item["id"] == task.item_id
        else item
        for item in document["items"]
    ]
    return publish_document(client, {**document, "items": items}, by=by, reason=reason)
