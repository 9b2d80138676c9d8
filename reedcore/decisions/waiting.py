"""Whether the client was contacted and has not answered or practised since."""

from __future__ import annotations

from datetime import date, timedelta

from reedcore.history import DecisionRecord, History

from .proposal import Step

#: Steps that ask the client something, or offer a call.
CONTACTS = frozenset({Step.CHECK_IN.value, Step.CALL.value, Step.EASE_AND_CALL.value})
#: After this long the board stops waiting: the rules propose the next step (convention).
WAIT = timedelta(days=14)


def waiting_for(history: History, today: date) -> DecisionRecord | None:
    """Return the decision that the client has not answered; None if nobody waits for an answer.

    Args:
        history: of the look back.
        today: the client's date.
    """
    contacts = [
        each
        for each in history.decisions
        if each.step in CONTACTS and each.accepted and each.undone_at is None
    ]
    if not contacts or history.programme is None:
        return None
    newest = max(contacts, key=lambda each: each.at)
    if today - history.day(newest.at) > WAIT:
        return None
    since = [each.at for each in history.sessions] + [each.at for each in history.trials]
    practised = any(at > newest.at for at in since)
    answered = any(each.kind == "answer" and each.at > newest.at for each in history.reports)
    return None if practised or answered else newest
