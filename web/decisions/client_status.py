"""Where clients stand: worked out when something has changed or a new day has begun, then kept."""

import logging
from collections import defaultdict
from dataclasses import asdict
from datetime import date, datetime, timedelta

from django.db import transaction

from reedcore.decisions import Need, Proposal, Reason, Step, most_pressing
from reedcore.dose.adherence import adherence
from web.clients.models import Client
from web.practice.asked import Asked
from web.practice.models import Trial
from web.programmes.models import PrescribedTask
from web.ui.faults import new_fault

from . import deciding
from .actions import moved_rung
from .cases import FORTNIGHT, slots_of_day
from .deciding import WHOLE, Decided, History
from .history import open_flags, red_flags
from .models import ClientStatus

logger = logging.getLogger(__name__)

#: So many reeds of a day can still be told apart in a row.
MOST_A_DAY = 3
_DRAWN_MEASURES = (PrescribedTask.HOLD, "hiss")


def statuses(clients: list[Client], *, now: datetime) -> dict[int, ClientStatus]:
    """The status of each of these clients of one clinic, brought up to date where it must be."""
    kept = {each.client_id: each for each in ClientStatus.objects.filter(client__in=clients)}
    outdated = [
        client
        for client in clients
        if client.pk not in kept
        or kept[client.pk].stale
        or kept[client.pk].day != _today(client, now)
    ]
    if outdated:
        kept |= refresh(outdated, now=now)
    return kept


@transaction.atomic
def refresh(clients: list[Client], *, now: datetime) -> dict[int, ClientStatus]:
    """Works out where these clients stand and keeps it; the queries do not grow with their number.

    The rows are locked before anything is read, so that what is written meanwhile waits, and then
    marks the row stale again.
    """
    ClientStatus.objects.bulk_create(
        [ClientStatus(client=client) for client in clients], ignore_conflicts=True
    )
    locked = (
        ClientStatus.objects.select_for_update().filter(client__in=clients).order_by("client_id")
    )
    kept = {each.client_id: each for each in locked}
    read = deciding.histories(clients, now=now)
    for client in clients:
        try:
            _work_out(kept[client.pk], read[client.pk], _today(client, now))
        except Exception:  # one client's fault takes nobody else off the board
            _could_not(kept[client.pk])
    ClientStatus.objects.bulk_update(
        kept.values(),
        ["stale", "day", "need", "school", "proposed", "fortnight", "fault"],
    )
    return kept


def _today(client, now):
    return now.astimezone(client.zone).date()


def _work_out(status: ClientStatus, history: History, today: date) -> None:
    decided = deciding.decided_for(history, today=today)
    said = deciding.spoken(decided)
    flags = red_flags(history)
    if flags and not said:
        # a flag speaks without a programme too
        stop = Proposal(Step.STOP_AND_REFER, Reason.RED_FLAG_OPEN, rests_on=flags)
        said = [Decided(WHOLE, stop, None)]
    status.stale, status.fault = False, ""
    status.day = today
    status.need = most_pressing(each.proposal for each in said)
    status.proposed = [_as_json(each, history) for each in said]
    programme = history.programme
    status.school = programme.document.get("school", "") if programme else ""
    status.fortnight = _fortnight(history, said, today)


def _could_not(status: ClientStatus) -> None:
    """Where a client stands is not known; that is said, and tried again at the next look."""
    status.fault = new_fault()
    logger.exception("fault %s: status of client %s", status.fault, status.client_id)
    status.stale, status.need, status.proposed = True, Need.CHECK_IN, []


def _as_json(each: Decided, history: History) -> dict:
    values = asdict(each.proposal)
    of_flag = each.proposal.reason is Reason.RED_FLAG_OPEN
    return {
        **values,
        "flags": open_flags(history) if of_flag else [],
        "to": _to(each, history),
        "rests_on": list(values["rests_on"]),
        "title": each.title,
        "task": each.task.pk if each.task else None,
        "seconds": each.task.target_s if each.task else None,
        "task_code": each.task.task_code if each.task else "",
    }


def _to(each, history):
    """Where taking it moves the task, and where it stands, in words; None where it does not."""
    found = moved_rung(Asked(each.task, history.catalogue), each.proposal) if each.task else None
    return [found.before, found.label] if found else None


def proposal_from(kept: dict) -> Proposal:
    """A proposal as it was kept."""
    return Proposal(
        Step(kept["step"]),
        Reason(kept["reason"]),
        rests_on=tuple(kept["rests_on"]),
        facts=kept["facts"],
        to_seconds=kept["to_seconds"],
        otherwise=Step(kept["otherwise"]),
    )


def _fortnight(history, said, today):
    """The last 14 days of the series that matters most: what was held, asked, missed."""
    first = today - timedelta(days=FORTNIGHT - 1)
    task = _drawn_task(history, said)
    due = deciding.due_days(history, today)
    sat = deciding.sessions_by_day(history)
    tried = _tried(history, task, first)
    by_day = defaultdict(lambda: defaultdict(list))
    for each in tried:
        day = each.on
        if day >= first and each.total_s is not None:
            by_day[day][each.session].append(each)
    days = []
    for back in range(FORTNIGHT):
        day = first + timedelta(days=back)
        longest = [max(of, key=lambda each: _drawn_s(history, each)) for of in by_day[day].values()]
        days.append(
            {
                "reeds": [_reed(history, each) for each in longest[:MOST_A_DAY]],
                "missed": bool(due.get(day)) and not sat[day],
            }
        )
    slots = [
        kept
        for day, count in due.items()
        if (today - day).days <= FORTNIGHT
        for kept in slots_of_day(sat[day], count)
    ]
    judged = [
        each.outcome
        for of in history.trials.values()
        for each in of
        if each.on > today - timedelta(days=7) and each.outcome != Trial.Outcome.NOT_JUDGED
    ]
    sessions = [each.on for each in history.sessions]
    tries = [of[-1].on for of in history.trials.values() if of]
    last = max([*sessions, *tries], default=None)
    return {
        "first": first.isoformat(),
        "target_s": task.target_s if task else None,
        "days": days,
        "adherence": adherence(slots),
        "judged": len(judged),
        "met": judged.count(Trial.Outcome.MET),
        "last": last.isoformat() if last else None,
        "programme": history.programme is not None,
    }


def _drawn_task(history, said):
    """The series to draw: of the most pressing proposal, else the most practised one."""
    if history.programme is None:
        return None
    held = [each for each in history.programme.tasks.all() if each.measure in _DRAWN_MEASURES]
    pressing = said[0].task if said and said[0].title != WHOLE else None
    if pressing in held:
        return pressing
    return max(
        held, key=lambda task: len(history.trials.get(deciding.series(task), [])), default=None
    )


def _tried(history, task, first):
    """Its trials; where there were none lately, those of what was practised before this version."""
    tried = history.trials.get(deciding.series(task), []) if task else []
    if any(each.on >= first for each in tried):
        return tried
    status = [of for (*_, kind), of in history.trials.items() if kind in _DRAWN_MEASURES]
    return max(status, key=lambda of: sum(each.on >= first for each in of), default=tried)


def _drawn_s(history, each):
    """How tall its reed stands, as in :attr:`web.practice.models.Trial.drawn_s`."""
    steady = history.tasks[each.task].counts == PrescribedTask.Counts.STEADY
    return each.steady_s if steady and each.steady_s is not None else each.total_s


def _reed(history, each):
    return {
        "s": _drawn_s(history, each),
        "asked": each.set_s or history.tasks[each.task].target_s,
        "outcome": each.outcome,
        "lean": each.lean_cents,
        "spread": each.spread_cents,
        "breaks": [[gap["start_s"], gap["end_s"]] for gap in each.breaks],
    }
