"""A client who was contacted and has not answered: the board waits, but not for ever."""

import pytest

from reedcore.decisions import waiting_for
from reedcore.history import DecisionRecord
from tests.core.histories import at, day, history, report, session, version


def contact(back, step="check_in", **more):
    return DecisionRecord(step, "days_missed", at(back), **more)


@pytest.mark.parametrize(
    ("decision", "parts", "waits"),
    [
        (contact(3), {}, True),
        (contact(14), {}, True),
        (contact(15), {}, False),
        (contact(3, "ease_and_call"), {}, True),
        (contact(3, "advance"), {}, False),
        (contact(3, accepted=False), {}, False),
        (contact(3, undone_at=at(2)), {}, False),
        (contact(3), {"sessions": (session(2),)}, False),
        (contact(3), {"sessions": (session(4),)}, True),
        (contact(3), {"reports": (report(1, "answer", "I was ill."),)}, False),
        (contact(3), {"reports": (report(1, "effort", 3),)}, True),
        (contact(3), {"versions": ()}, False),
    ],
)
def test_waiting_ends_with_practice_an_answer_or_a_fortnight(decision, parts, waits):
    known = history(**{"versions": (version(),), "decisions": (decision,), **parts})
    assert (waiting_for(known, day(0)) is not None) is waits
