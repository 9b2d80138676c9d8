"""Proposals for a client, with the rows that accepting one changes."""

from dataclasses import dataclass
from datetime import date

from reedcore.decisions import Proposal, Step
from reedcore.decisions.of_history import (
    HistoryProposals,
    ProposalSubject,
    for_each_task,
    proposing_only,
)
from web.practice.wording import title_of
from web.record.history import ClientSnapshot
from web.record.models import PrescribedTask
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name
from web.ui.marked import Words, gettext_noop

from .wording import reason_of

_TITLES = Words(
    {
        ProposalSubject.WHOLE: gettext_noop("The whole programme"),
        ProposalSubject.BLOCK: gettext_noop("The block"),
    }
)


def title_of_whole() -> str:
    """Return the title of a proposal for the whole programme."""
    return _TITLES[ProposalSubject.WHOLE]


@dataclass(frozen=True)
class ProposedStep:
    """A proposal, in the clinician's words, and the task in force that it speaks of."""

    title: str
    proposal: Proposal
    task: PrescribedTask | None


@dataclass(frozen=True)
class ClientProposals:
    """The core's proposals for one client.

    Attributes:
        proposed: the most pressing first.
        stays: of each task that stays as it is, why.
    """

    proposed: list[HistoryProposals]
    stays: list[HistoryProposals]


def reasoned_proposals(known: ClientSnapshot, *, today: date) -> ClientProposals:
    """Return the proposals, and the reasons why other tasks stay unchanged."""
    every = for_each_task(known.history, known.settings, today=today)
    stays = [each for each in every if each.proposal.step is Step.STAY]
    return ClientProposals(proposing_only(known.history, every), stays)


def reason_to_stay(known: ClientSnapshot, each: HistoryProposals) -> str:
    """Return a task and the reason that it stays as it is."""
    return f"{add_title(known, each).title}: {reason_of(each.proposal)}."


def add_title(known: ClientSnapshot, proposed: HistoryProposals) -> ProposedStep:
    """Return the same with its title and its row."""
    task = known.task(proposed.prescribed_item)
    title = _TITLES.get(proposed.about)
    if title is None and task is not None:
        title = title_of(PrescribedRow(task, known.catalogue), note=note_name(task))
    return ProposedStep(title or title_of_whole(), proposed.proposal, task)
