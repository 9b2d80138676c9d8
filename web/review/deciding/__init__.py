"""What is proposed for a client, and why: rows in, the core's proposals out."""

from dataclasses import dataclass, replace
from datetime import date

from reedcore.decisions import Because, Need, Proposal, Step, need_of, propose
from web.practice.asked import Asked
from web.practice.wording import title_of
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name

from .cases import case_of, due_days, sessions_by_day
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
    "sessions_by_day",
    "spoken",
]

#: Reasons that do not lie in one task.
OF_THE_WHOLE = (
    Because.RED_FLAG_OPEN,
    Because.BOTHER_UP,
    Because.DAYS_MISSED,
    Because.ADHERENCE_LOW,
)
#: Reasons that lie in the block as a whole, not in one of its notes.
_OF_THE_BLOCK = (Because.GOAL_REACHED, Because.PEAK_KEPT, Because.PEAK_LOST)
WHOLE = "The whole programme"
_TITLES = dict.fromkeys(OF_THE_WHOLE, WHOLE) | dict.fromkeys(_OF_THE_BLOCK, "The block")


@dataclass(frozen=True)
class Decided:
    """A task in force and what is proposed for it."""

    title: str
    proposal: Proposal
    task: PrescribedTask


def decided_for(history: History, *, today: date, worse_since: dict[str, str]) -> list[Decided]:
    """What is proposed for each task of the programme in force, in its order.

    Args:
        worse_since: by the task's code and note, the first day of a decline that has not passed.
    """
    if history.programme is None:
        return []
    found = []
    for task in history.programme.tasks.all():
        asked = Asked(task, history.catalogue)
        since = worse_since.get(series_key(task))
        case = case_of(
            history, asked, today=today, worse_since=date.fromisoformat(since) if since else None
        )
        proposal = propose(case, history.settings)
        if not _was_refused(history, task, proposal):
            found.append(Decided(title_of(asked, note=note_name(task)), proposal, task))
    return found


def series_key(task: PrescribedTask) -> str:
    """A series as one word, for what is kept as JSON."""
    return "/".join("" if part is None else str(part) for part in series(task))


def worse_since(decided: list[Decided], before: dict[str, str], today: date) -> dict[str, str]:
    """The first day of each decline that is seen now; one that has passed is forgotten."""
    return {
        series_key(each.task): before.get(series_key(each.task), today.isoformat())
        for each in decided
        if need_of(each.proposal) is Need.WORSE
    }


def spoken(decided: list[Decided]) -> list[Decided]:
    """Those that say something, the most pressing first; what holds for every task only once."""
    found, seen = [], set()
    for each in decided:
        because = each.proposal.because
        title = _TITLES.get(because)
        if each.proposal.step is Step.STAY or (title and because in seen):
            continue
        seen.add(because)
        found.append(replace(each, title=title) if title else each)
    return sorted(found, key=lambda each: need_of(each.proposal))


def _was_refused(history, task, proposal):
    """Whether the same was refused, and nothing has been practised since."""
    tried = history.trials.get(series(task), [])
    newest = tried[-1].at if tried else None
    return any(
        each.because == proposal.because.value
        and series(each.task) == series(task)
        and (newest is None or newest <= each.decided_at)
        for each in history.refused
    )
