"""The current proposals for a client."""

from django.utils import timezone

from web.clients.models import Client
from web.record.models import PrescribedTask

from .client_status import proposal_from, statuses
from .models import ClientStatus
from .proposing_steps import ProposedStep


def status_of(client: Client) -> ClientStatus:
    """Return a client's current status, as on the board."""
    return statuses([client], now=timezone.now())[client.pk]


def proposed_for(client: Client) -> list[ProposedStep]:
    """Return the current proposals for a client, the most urgent first."""
    status = status_of(client)
    keys = [kept["task"] for kept in status.proposed if kept["task"]]
    tasks = (
        PrescribedTask.objects.select_related("programme")
        .defer("programme__document")
        .in_bulk(keys)
    )
    for task in tasks.values():
        task.programme.client = client
    return [
        ProposedStep(kept["title"], proposal_from(kept), tasks.get(kept["task"]))
        for kept in status.proposed
    ]


def proposal_named(client: Client, *, task: str, step: str) -> ProposedStep | None:
    """Return the proposal of this step for this task; None if it is not proposed now.

    Args:
        task: the key of the prescribed task; empty where the proposal is about the whole programme.
    """
    return next(
        (
            each
            for each in proposed_for(client)
            if (str(each.task.pk) if each.task else "", each.proposal.step.value) == (task, step)
        ),
        None,
    )
