"""Taking a proposal, leaving it, taking that back; and the thresholds of the rules."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from reedcore.decisions import Step
from reedcore.pitch import Spelling
from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by
from web.messages.actions import address_of
from web.programmes.actions import EmptyProgramme, NotCleared, OpenStops
from web.programmes.wording import finding_words
from web.record.models import Decision, RuleSettings
from web.screening.wording import BLOCKS
from web.ui.navigation import return_address

from .. import actions
from ..forms import RulesForm
from ..wording import STEPS

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client
    from web.decisions.actions import MessageDraft

#: Steps that lead to the letter to the laryngologist.
_REFERS = (Step.STOP_AND_REFER, Step.LOOK_AGAIN)


@clinician_only
@require_POST
def decide(request: SignedInRequest, pk: int) -> HttpResponse:
    """Accept or decline the proposal for a task, as it was shown."""
    seen = client_seen_by(request.user, pk)
    task, step, refused = _parse_decision(request.POST)
    back = return_address(request, "results:client", pk=pk)
    if refused in Decision.RefusalReason.values:
        _refuse(request, seen, task, step, refused)
        return redirect(back)
    answer = request.POST.get("message", "")
    text = request.POST.get("text", "").replace("\r\n", "\n").strip()
    problem = _message_problem(request.POST, text) if answer and answer != WITHOUT else ""
    draft = _message(seen, task, step) if problem or not answer else None
    if draft is not None:
        context = {"client": seen, "draft": draft, "task": task, "step": step, "back": back}
        context |= {"words": STEPS[Step(step)], "text": text or draft.words, "problem": problem}
        return render(request, "decisions/message.html", context)
    is_accepted = _accept(request, seen, task, step, sends_message=answer != WITHOUT, text=text)
    if is_accepted and step in _REFERS:
        return redirect("notes:letter", pk=pk)
    return redirect(back)


#: Longest message to a client, characters.
LONGEST_MESSAGE = 4000
#: Form value: decide without sending the message.
WITHOUT = "without"


def _message_problem(sent: QueryDict, text: str) -> str:
    """Return why an edited message cannot be sent; "" if it can."""
    if len(text) > LONGEST_MESSAGE:
        return gettext(
            "The message is too long and was not sent. Use at most {count} characters."
        ).format(count=LONGEST_MESSAGE)
    if "text" in sent and not text:
        return gettext(
            "The message was empty and was not sent. The usual words are shown again. "
            "To send none, save the decision without email."
        )
    return ""


def _message(client: Client, task: str, step: str) -> MessageDraft | None:
    """Return the message to show before it is sent; None if there is none, or no step is
    possible."""
    try:
        return actions.message_for(client, task=task, step=step)
    except actions.NothingToSwapFor:
        return None


CHANGED = gettext_lazy("the proposal has changed or was already decided. Check it again.")


def _refuse(request: SignedInRequest, client: Client, task: str, step: str, refused: str) -> None:
    """Refuse a proposal for now, and show the result."""
    try:
        actions.refuse_proposed(client, task=task, step=step, by=request.user, reason=refused)
    except actions.NotProposed:
        messages.error(request, f"{client}: {CHANGED}")
    except actions.RedFlagOpen:
        messages.error(
            request,
            gettext(
                "{client}: a red flag stays open until a clinician resolves it. Enter "
                "the action taken on the screening page."
            ).format(client=client),
        )
    else:
        messages.success(
            request,
            gettext(
                "{client}: proposal rejected. It is not repeated until there is new practice."
            ).format(client=client),
        )


def _parse_decision(sent: QueryDict) -> tuple[str, ...]:
    """Return the task, the step, and the reason for a refusal (empty to accept). On the board the
    keys of a line share one form, so each sends all three."""
    if "take" in sent or "leave" in sent:
        step, *more = sent.get("take", sent.get("leave", "")).split(" ")
        why = more.pop() if "leave" in sent and more else ""
        return " ".join(more), step, why
    return tuple(sent.get(name, "") for name in ("task", "step", "refusal_reason"))


def _accept(
    request: Any, client: Client, task: str, step: str, *, sends_message: bool, text: str
) -> bool:
    """Accept a proposal and show the result; return whether it was accepted."""
    try:
        decision = actions.accept_current_proposal(
            client, task=task, step=step, by=request.user, sends_message=sends_message, text=text
        )
    except actions.NotProposed:
        messages.error(request, f"{client}: {CHANGED}")
    except OpenStops as refused:
        words = finding_words(refused.findings[0], spelling=Spelling(client.spelling))
        messages.error(
            request,
            gettext(
                "{client}: nothing was changed, because the programme check found a stop. {words}"
            ).format(client=client, words=words),
        )
    except NotCleared as refused:
        messages.error(
            request,
            gettext("{client}: nothing was changed. {value}").format(
                client=client, value=BLOCKS[refused.blocks[0]]
            ),
        )
    except actions.NothingToSwapFor:
        words = gettext("the catalogue has no substitute. Choose one in the composer.")
        messages.error(
            request,
            gettext("{client}: nothing was changed; {words}").format(client=client, words=words),
        )
    except EmptyProgramme:
        words = gettext(
            "the programme contains a task that is no longer in the catalogue. Open the composer."
        )
        messages.error(
            request,
            gettext("{client}: nothing was changed; {words}").format(client=client, words=words),
        )
    else:
        messages.success(request, _outcome_words(client, Step(step), decision, wrote=sends_message))
        return True
    return False


def _outcome_words(client: Client, step: Step, decision: Decision, *, wrote: Any) -> str:
    sentences = [f"{client}: {STEPS[step]}."]
    if decision.created_version:
        sentences.append(
            gettext("Programme {version} is in force.").format(
                version=decision.created_version.version
            )
        )
    if step in actions.WRITES:
        if address_of(client):
            sentences.append(
                gettext("An email is sent to {contact_detail}.").format(
                    contact_detail=client.contact_detail
                )
                if wrote
                else gettext("No email was sent.")
            )
        elif client.contact_detail:
            sentences.append(
                gettext("Contact: {contact}, {contact_detail}.").format(
                    contact=client.get_contact_display(), contact_detail=client.contact_detail
                )
            )
        else:
            sentences.append(
                gettext("The record has no contact details. Contact the client yourself.")
            )
    return " ".join(sentences)


@clinician_only
@require_POST
def undo(request: SignedInRequest, pk: int, decision: int) -> HttpResponse:
    """Take a decision back."""
    seen = client_seen_by(request.user, pk)
    undone(request, get_object_or_404(seen.decisions, pk=decision))
    return redirect(return_address(request, "results:client", pk=pk))


def undone(request: SignedInRequest, decision: Decision) -> None:
    """Take a decision back, and say so or why not."""
    client = decision.client
    try:
        actions.undo(decision, by=request.user)
    except actions.AlreadyUndone:
        messages.info(
            request,
            gettext("{client}: this decision was already undone. Nothing else was changed.").format(
                client=client
            ),
        )
    except actions.CannotUndo:
        messages.error(
            request,
            gettext(
                "{client}: the client has practised since, or there is a newer version. "
                "Change it in the composer."
            ).format(client=client),
        )
    else:
        messages.success(request, gettext("{client}: decision undone.").format(client=client))


@clinician_only
def rules(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the thresholds of this client's programme, and who changed them."""
    seen = client_seen_by(request.user, pk)
    kept = RuleSettings.objects.filter(client=seen).first()
    form = RulesForm(request.POST or None, changed=kept.changed if kept else {})
    if request.method == "POST" and form.is_valid():
        actions.change_rules(seen, form.changed_settings())
        messages.success(request, gettext("Rules saved. They apply to proposals from now on."))
        return redirect("decisions:rules", pk=pk)
    changes = kept.history.select_related("history_user")[:8] if kept else []
    return render(
        request, "decisions/rules.html", {"client": seen, "form": form, "changes": changes}
    )
