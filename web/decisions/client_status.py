"""The status of each client: computed after a change or on a new day, then stored."""

from __future__ import annotations

import logging
from collections import defaultdict
from dataclasses import asdict
from datetime import date, datetime
from typing import Any

from django.db import transaction
from django.utils import timezone
from pydantic import TypeAdapter

from reedcore.decisions import Need, Proposal, Reason, Step, most_pressing_need, waiting_for
from reedcore.decisions.of_history import HistoryProposals, ProposalSubject
from reedcore.history.dose import week_dose
from reedcore.history.fortnight import Fortnight, fortnight
from web.clients.models import Client
from web.record.history import ClientSnapshot, load_snapshots
from web.screening.models import Stop
from web.ui.faults import new_fault

from .models import ClientStatus
from .proposing_steps import add_title, reason_to_stay, reasoned_proposals

logger = logging.getLogger(__name__)
_FORTNIGHT = TypeAdapter(Fortnight)


def statuses(clients: list[Client], *, now: datetime) -> dict[int, ClientStatus]:
    """Return the status of each of these clients of one clinic, updated if necessary."""
    return _up_to_date(clients, kept_statuses(clients), now)


def brief_statuses(clients: list[Client], *, now: datetime) -> dict[int, ClientStatus]:
    """Return a copy without the proposals, which may be out of date."""
    briefly = kept_statuses(clients, without=("proposed", "fortnight"))
    return _up_to_date(clients, briefly, now)


def kept_statuses(clients: list[Client], *, without: Any = ()) -> dict[int, ClientStatus]:
    """Return the statuses as last computed."""
    rows = ClientStatus.objects.filter(client__in=[each.pk for each in clients])
    return {each.client_id: each for each in rows.defer(*without)}


def _up_to_date(
    clients: list[Client], kept: dict[int, ClientStatus], now: datetime
) -> dict[int, ClientStatus]:
    outdated = [
        client
        for client in clients
        if client.pk not in kept
        or kept[client.pk].stale
        or kept[client.pk].day != _today(client, now)
    ]
    if outdated:
        whole = Client.objects.filter(pk__in=[each.pk for each in outdated])
        kept |= refresh(list(whole.select_related("clinic")), now=now)
    return kept


@transaction.atomic
def refresh(clients: list[Client], *, now: datetime) -> dict[int, ClientStatus]:
    """Compute and store the status of these clients; the number of queries does not depend on
    theirs.

    The rows are locked before anything is read: a concurrent write waits, and then
    marks the row stale again.
    """
    ClientStatus.objects.bulk_create(
        [ClientStatus(client=client) for client in clients], ignore_conflicts=True
    )
    locked = (
        ClientStatus.objects.select_for_update()
        .filter(client__in=[client.pk for client in clients])
        .order_by("client_id")
    )
    kept = {each.client_id: each for each in locked}
    read, stops = load_snapshots(clients, now=now), _unresolved_stops(clients)
    moment = timezone.now()
    for client in clients:
        kept[client.pk].computed_at = moment
        try:
            _compute_status(kept[client.pk], read[client.pk], _today(client, now))
        except Exception:  # One client's error must not hide the others.
            _mark_unknown(kept[client.pk])
        kept[client.pk].stops = stops[client.pk]
        if stops[client.pk]:
            kept[client.pk].need = Need.STOP
    # One statement: updating each field with a case per client takes four times as long.
    ClientStatus.objects.bulk_create(
        kept.values(),
        update_conflicts=True,
        unique_fields=["client"],
        update_fields=[
            "stale",
            "computed_at",
            "day",
            "need",
            "waiting_since",
            "school",
            "proposed",
            "stops",
            "fortnight",
            "fault",
        ],
    )
    return kept


def _unresolved_stops(clients: list[Client]) -> dict[int, list[dict]]:
    """Return the stops that no clinician has dealt with, by client, the newest first."""
    rows = Stop.objects.filter(client__in=clients, cleared_by=None).order_by("-said_at", "key")
    found = defaultdict(list)
    for stop in rows:
        found[stop.client_id].append(
            {
                "flags": stop.flags,
                "at": stop.said_at.isoformat(),
                "taken_back": stop.cancelled_at is not None,
            }
        )
    return found


def _today(client: Client, now: datetime) -> date:
    return now.astimezone(client.zone).date()


def _compute_status(status: ClientStatus, known: ClientSnapshot, today: date) -> None:
    every = reasoned_proposals(known, today=today)
    proposals = every.proposed
    status.stale, status.fault = False, ""
    status.day = today
    status.need = most_pressing_need(
        (each.proposal for each in proposals), has_programme=known.history.programme is not None
    )
    contact = waiting_for(known.history, today)
    status.waiting_since = known.history.day(contact.at) if contact else None
    status.proposed = [_as_json(each, known) for each in proposals]
    programme = known.programme
    prescribed = programme.prescribed if programme else None
    status.school = prescribed.school if prescribed else ""
    pressing = (
        proposals[0].prescribed_item
        if proposals and proposals[0].about is not ProposalSubject.WHOLE
        else None
    )
    drawn = fortnight(known.history, pressing, today=today)
    dose = asdict(week_dose(known.history, today))
    status.fortnight = {
        **_FORTNIGHT.dump_python(drawn, mode="json"),
        "dose": dose,
        "stays": [reason_to_stay(known, each) for each in every.stays],
    }


def _mark_unknown(status: ClientStatus) -> None:
    """Mark the status as unknown after an error; the next visit computes it again."""
    status.fault = new_fault()
    logger.exception(
        "client_status_failed", extra={"fault": status.fault, "client_id": status.client_id}
    )
    status.stale, status.need, status.proposed = True, Need.CHECK_IN, []


def _as_json(each: HistoryProposals, known: ClientSnapshot) -> dict:
    values = asdict(each.proposal)
    of_flag = each.proposal.reason is Reason.RED_FLAG_OPEN
    title, to = add_title(known, each), each.next_rung
    return {
        **values,
        "flags": known.history.open_flags if of_flag else [],
        "to": [to.before, to.label] if to else None,
        "rests_on": list(values["evidence"]),
        "title": title.title,
        "task": title.task.pk if title.task else None,
        "seconds": title.task.target_s if title.task else None,
        "task_code": title.task.task_code if title.task else "",
    }


def proposal_from(kept: dict) -> Proposal:
    """Return a proposal as it was kept."""
    return Proposal(
        Step(kept["step"]),
        Reason(kept["reason"]),
        evidence=tuple(kept["rests_on"]),
        facts=kept["facts"],
        to_seconds=kept["to_seconds"],
        otherwise=Step(kept["otherwise"]),
    )
