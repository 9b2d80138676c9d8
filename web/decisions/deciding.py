"""What is proposed for a client, and why: rows in, the core's proposals out."""

from dataclasses import dataclass, replace
from datetime import date

from reedcore.decisions import Proposal, Reason, Step, need_of, propose_together
from web.practice.asked import Asked
from web.practice.wording import title_of
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name

from .cases import OF_THE_WHOLE, case_of, due_days, sessions_by_day
from .history import History, Tried, histories, series

__all__ = [
    "OF_THE_WHOLE",
    "WHOLE",
    "Decided",
    "History",
    "Tried",
    "decided_for",
    "due_days",
    "histories",
    "series",
    "series_key",
    "sessions_by_day",
    "spoken",
]

#: Reasons that lie in the block as a whole, not in one of its notes.
_OF_THE_BLOCK = (Reason.GOAL_REACHED, Reason.PEAK_KEPT, Reason.PEAK_LOST)
WHOLE = "The whole programme"
_TITLES = dict.fromkeys(OF_THE_WHOLE, WHOLE) | dict.fromkeys(_OF_THE_BLOCK, "The block")


@dataclass(frozen=True)
class Decided:
    """A task in force and what is proposed for it."""

    title: str
    proposal: Proposal
    task: PrescribedTask


def decided_for(history: History, *, today: date) -> list[Decided]:
    """What is proposed for each task of the programme in force, in its order; a task on several
    notes moves as one, and its proposal names the note that speaks for it."""
    if history.programme is None:
        return []
    together: dict[tuple, list[Asked]] = {}
    for task in history.programme.tasks.all():
        item = task.item_id or f"task-{task.pk}"
        together.setdefault((item, task.task_code), []).append(Asked(task, history.catalogue))
    found = []
    for notes in together.values():
        cases = [case_of(history, asked, today=today) for asked in notes]
        place, proposal = propose_together(cases, history.settings)
        asked = notes[place]
        title = title_of(asked, note=note_name(asked.task))
        found.append(Decided(title, proposal, asked.task))
    return found


def series_key(task: PrescribedTask) -> str:
    """A series as one word, for addresses and for what is kept as JSON."""
    return "/".join("" if part is None else str(part) for part in series(task))


def spoken(decided: list[Decided]) -> list[Decided]:
    """Those that say something, the most pressing first; what holds for every task only once."""
    found, seen = [], set()
    for each in decided:
        reason = each.proposal.reason
        title = _TITLES.get(reason)
        if each.proposal.step is Step.STAY or (title and reason in seen):
            continue
        seen.add(reason)
        found.append(replace(each, title=title) if title else each)
    return sorted(found, key=lambda each: need_of(each.proposal))
