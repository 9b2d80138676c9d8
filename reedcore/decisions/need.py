"""The order of the board: the clients with the greatest need first."""

from __future__ import annotations

from collections.abc import Iterable
from enum import IntEnum

from .proposal import Proposal, Step


class Need(IntEnum):
    """The most pressing first.

    ``WAITING`` is on course, and has not answered yet. Its number is the largest, because the
    others are stored.
    """

    STOP = 0
    WORSE = 1
    DECISION = 2
    CHECK_IN = 3
    NO_PROGRAMME = 4
    ON_COURSE = 5
    WAITING = 6


_NEEDS = {
    Step.STOP_AND_REFER: Need.STOP,
    Step.EASE_AND_CALL: Need.WORSE,
    Step.CALL: Need.WORSE,
    Step.LOOK_AGAIN: Need.WORSE,
    Step.CHECK_IN: Need.CHECK_IN,
    Step.STAY: Need.ON_COURSE,
}


def need_of(proposal: Proposal) -> Need:
    """Return how urgent a proposal is; every step that changes the programme is a decision."""
    return _NEEDS.get(proposal.step, Need.DECISION)


def most_pressing_need(proposals: Iterable[Proposal], *, has_programme: bool = True) -> Need:
    """Return the need of a client as a whole.

    Without a proposal a client is on course, or has no programme to follow."""
    nothing = Need.ON_COURSE if has_programme else Need.NO_PROGRAMME
    return min((nothing, *(need_of(each) for each in proposals)))
