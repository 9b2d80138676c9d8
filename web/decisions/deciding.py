"""What is proposed for a client, with the rows that taking it changes."""

from dataclasses import dataclass
from datetime import date

from reedcore.decisions import Proposal
from reedcore.decisions.of_history import About, Proposed, proposals
from web.practice.asked import Asked
from web.practice.wording import title_of
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name

from .history import Known

WHOLE = "The whole programme"
_TITLES = {About.WHOLE: WHOLE, About.BLOCK: "The block"}


@dataclass(frozen=True)
class Decided:
    """A proposal, in the clinician's words, and the task in force that it speaks of."""

    title: str
    proposal: Proposal
    task: PrescribedTask | None


def proposed_by(known: Known, *, today: date) -> list[Proposed]:
    """What the core proposes, the most pressing first."""
    return proposals(known.history, known.settings, today=today)


def decided(known: Known, proposed: Proposed) -> Decided:
    """The same with its title and its row."""
    task = known.task(proposed.asking)
    title = _TITLES.get(proposed.about)
    if title is None and task is not None:
        title = title_of(Asked(task, known.catalogue), note=note_name(task))
    return Decided(title or WHOLE, proposed.proposal, task)
