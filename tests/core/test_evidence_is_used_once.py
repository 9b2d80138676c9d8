"""A decided proposal is not repeated until its evidence is new."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from reedcore.decisions import ScaleAnswer, Step, propose
from tests.core.test_decisions import SOFT, TODAY, ago, old, session


@given(st.data())
def test_a_decided_proposal_returns_only_with_new_evidence(data):
    """Over random histories: after a decision, all evidence is old, and no proposal follows from
    it."""
    days = data.draw(st.lists(st.integers(0, 30), min_size=1, max_size=25))
    letters = st.text("yn?", min_size=1, max_size=6)
    trials = tuple(
        trial
        for place, back in enumerate(sorted(days, reverse=True))
        for trial in session(
            back, data.draw(letters), held_s=data.draw(st.floats(3, 14)), name=f"n{place}"
        )
    )
    answers = tuple(
        ScaleAnswer(ago(back), data.draw(st.integers(1, 10))) for back in sorted(days, reverse=True)
    )
    case = replace(
        SOFT, is_loud=data.draw(st.booleans()), trials=trials, efforts=answers, bothers=answers[-4:],
        cannot=tuple(data.draw(st.lists(st.sampled_from("ab"), max_size=3))),
    )  # fmt: skip
    found = propose(case)
    if found.step is Step.STAY:
        return
    decided = replace(
        case, since=TODAY, decline_since=TODAY, trials=old(trials), cannot=(), has_recent_stall_check=True,
        room_asked_on=TODAY,
        efforts=tuple(replace(each, is_new=False, is_watched=False) for each in answers),
        bothers=tuple(replace(each, is_new=False, is_watched=False) for each in answers[-4:]),
    )  # fmt: skip
    assert propose(decided).step is Step.STAY
