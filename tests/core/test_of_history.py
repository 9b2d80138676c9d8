"""A history becomes cases and proposals: each line of a table is one event."""

from dataclasses import replace
from datetime import timedelta
from uuid import UUID

import pytest

from reedcore.decisions import Reason, Settings
from reedcore.decisions.evidence import since_of
from reedcore.decisions.of_history import ProposalSubject, case_of, proposals
from reedcore.history import LOOK_BACK, DecisionRecord, Screening, recent_history
from tests.core.histories import (
    DOSE,
    NOW,
    TODAY,
    at,
    day,
    history,
    practised,
    prescribed_item,
    report,
    session,
    stop,
    trial,
    version,
)


def case(task=None, **parts):
    made = history(**{**practised(), **parts})
    return case_of(made, task or made.programme.tasks[0], today=TODAY)


def test_trials_are_of_the_series_and_deliberate_poor_ones_are_left_out():
    other = prescribed_item(8, note=55)
    found = case(
        versions=(version(tasks=[prescribed_item(), other]),),
        trials=(trial(1), trial(1, task=8, minute=1), trial(1, minute=2, role="poor")),
    )
    assert [each.key for each in found.trials] == [str(trial(1).key)]


@pytest.mark.parametrize(
    ("more", "held", "other"),
    [
        ({"steady_s": 5.0}, 9.0, False),
        ({"steady_s": 5.0, "task": 9}, 5.0, False),
        ({"set_s": 6.0}, 9.0, True),
        ({"set_s": 8.0}, 9.0, False),
    ],
    ids=["all seconds", "steady ones", "another target", "the same target"],
)
def test_the_counted_part_of_a_trial(more, held, other):
    steady = prescribed_item(9, counts="steady", note=55)
    task = steady if more.get("task") else prescribed_item()
    found = case(
        task, versions=(version(tasks=[prescribed_item(), steady]),), trials=(trial(1, **more),)
    )
    (past,) = found.trials
    assert (past.held_s, past.had_other_prescription) == (held, other)


@pytest.mark.parametrize(
    ("decision", "new"),
    [
        (None, True),
        (DecisionRecord("ease", "few_on_target", at(3), 7), False),
        (DecisionRecord("ease", "few_on_target", at(9), 7, undone_at=at(3)), False),
        (DecisionRecord("ease", "few_on_target", at(9), 7), True),
        (DecisionRecord("check_in", "days_missed", at(3), 7), True),
        # Another note of the same task.
        (DecisionRecord("ease", "few_on_target", at(3), 8), False),
        (DecisionRecord("ease", "few_on_target", at(3), 9), True),  # Another task.
    ],
    ids=["none", "on it", "undone", "before", "of the whole", "another note", "another task"],
)
def test_evidence_is_new_since_the_last_decision(decision, new):
    tasks = [
        prescribed_item(),
        prescribed_item(8, note=55),
        prescribed_item(9, "hum_hold", item_id="b"),
    ]
    found = case(
        versions=(version(tasks=tasks),), trials=(trial(5),),
        decisions=(decision,) if decision else (),
    )  # fmt: skip
    assert found.trials[0].is_new is new


def test_a_cleared_flag_starts_evidence_anew_and_a_mistaken_press_does_not():
    task = prescribed_item()
    cleared = history(**practised(), stops=(stop(6, cleared=4),))
    assert since_of(cleared, task) == at(4)
    mistaken = history(**practised(), stops=(stop(6, cleared=6, cancelled_at=at(6)),))
    assert since_of(mistaken, task) is None
    gentle = history(**practised(), stops=(stop(6, cleared=4, pauses=False),))
    assert since_of(gentle, task) is None
    screened = Screening(at(9), ("neck_lump",), (), safe_at=at(2))
    assert since_of(history(**practised(), screens=(screened,)), task) == at(2)


@pytest.mark.parametrize(
    ("stops", "days"),
    [
        ((stop(2, cleared=2, pauses=False),), [2]),
        ((stop(2, flags=("light_headed",), pauses=False, cleared=2),), [2]),
        ((stop(2, flags=("new_pain",), pauses=False, cleared=2),), []),
        ((stop(2, pauses=False, cancelled_at=at(2)),), []),
        ((stop(2, pauses=False, session=UUID(int=3)),), [2]),
        ((stop(2, pauses=False, session=UUID(int=77)),), [2]),
    ],
    ids=["strain", "light head", "pain is a flag", "undone", "this session", "no tries in it"],
)
def test_sessions_stopped_for_strain_count(stops, days):
    found = case(stops=stops)
    assert found.strained_on == found.newly_strained_on == tuple(map(day, days))


def test_a_refusal_takes_nothing_of_the_weeks_block_back():
    strained, refused = (
        stop(3, cleared=3, pauses=False),
        DecisionRecord("advance", "most_on_target", at(1), 7, accepted=False),
    )
    found = case(stops=(strained,), decisions=(refused,))
    assert (found.strained_on, found.newly_strained_on) == ((day(3),), ())


def test_a_stop_of_a_session_with_another_task_alone_does_not_count():
    other = prescribed_item(9, "hum_hold", item_id="b")
    found = case(
        versions=(version(tasks=[prescribed_item(), other]),),
        trials=(trial(3), trial(2, task=9)),
        stops=(stop(2, pauses=False, session=UUID(int=3)),),
    )
    assert found.strained_on == ()


def test_answers_are_of_their_task_and_kind():
    proposed_steps = (
        report(3, "strain", {"said": True}), report(2, "strain", {"said": False}),
        report(2, "skipped", "cant"), report(15, "skipped", "cant"), report(1, "skipped", "tired"),
        report(4, "felt", "yes"), report(5, "bother", 6, task=None), report(1, "effort", 4),
    )  # fmt: skip
    found = case(reports=proposed_steps)
    assert found.strained_on == (day(3),)
    assert found.cannot == (str(proposed_steps[2].key),)
    assert [each.answer for each in found.felt] == ["yes"]
    assert [each.value for each in found.bothers] == [6.0]
    assert [each.value for each in found.efforts] == [4.0]
    assert found.tired == (1, 13)  # Sessions less than fourteen days old.


@pytest.mark.parametrize(
    ("versions", "before"),
    [
        ((version(back=40),), 8.0),
        ((version(back=3),), 8.0),
        ((version(back=20), version(2, 3, [prescribed_item(8, seconds=9.0)])), 8.0),
        ((version(back=20), version(2, 8, [prescribed_item(8, seconds=9.0)])), 9.0),
        ((version(back=20), version(2, 7, [prescribed_item(8, seconds=9.0)])), 9.0),
        ((version(back=20), version(2, 6, [prescribed_item(8, seconds=9.0)])), 8.0),
    ],
    ids=["one", "in its first week", "raised lately", "raised before", "a week ago", "six days"],
)
def test_the_seconds_of_a_week_ago(versions, before):
    assert case(versions=versions).seconds_a_week_ago == before


def test_the_date_since_when_the_target_is_the_same():
    versions = (
        version(back=30), version(2, 20, [prescribed_item(8, seconds=9.0)]),
        version(3, 10, [prescribed_item(9, seconds=9.0)]),
    )  # fmt: skip
    assert case(versions=versions).same_target_since == day(20)
    stuck = DecisionRecord("swap", Reason.STUCK.value, at(5), 9)
    assert case(versions=versions, decisions=(stuck,)).has_recent_stall_check
    assert not case(versions=versions).has_recent_stall_check
    kept = replace(versions[2], programme=version(sort="maintenance").programme)
    assert case(versions=(*versions[:2], kept)).same_target_since is None


def test_rungs_up_and_down():
    found = case()
    assert (found.can_advance, found.can_ease, found.next_seconds) == (True, True, 9.0)
    assert found.is_capped
    hiss = case(prescribed_item(9, "steady_hiss", None, 15.0, sound="s"))
    assert not hiss.is_capped


def test_the_block_counts_days_on_which_every_note_was_held():
    power = [prescribed_item(7 + place, "block_power", 48 + place, 10.0) for place in range(2)]
    trials = (
        trial(3, held=10.0), trial(3, held=14.0, task=8), trial(2, held=20.0),
        trial(1, held=11.0), trial(1, held=13.0, minute=1), trial(1, held=16.0, task=8),
    )  # fmt: skip
    found = case(power[0], versions=(version(tasks=power),), trials=trials, goal_s=30.0)
    assert found.block_means == ((day(3), 12.0), (day(1), 14.0))
    assert found.goal_s == 30.0
    assert case(goal_s=30.0).goal_s is None


def test_the_taper_speaks_for_every_task_of_its_programme():
    taper = {
        "week": 3,
        "since": day(6).isoformat(),
        "peak_s": 31.0,
        "before": {"items": [], "dose": DOSE},
    }
    found = case(versions=(version(dose=DOSE, taper=taper),))
    # Its weeks belong to the power tasks; no other task moves during them.
    assert (found.is_in_taper, found.taper_week) == (True, None)
    assert (found.taper_since, found.peak_s) == (day(6), 31.0)
    assert not case().is_in_taper


# The proposals.


def proposed_steps(**parts):
    made = history(**{**practised(), **parts})
    return [
        (each.about, each.proposal.step.value, each.proposal.reason.value)
        for each in proposals(made, Settings(), today=TODAY)
    ]


def test_a_reason_common_to_all_tasks_appears_once():
    tasks = [prescribed_item(), prescribed_item(9, "hum_hold", item_id="b")]
    absent = proposed_steps(versions=(version(tasks=tasks),), sessions=(session(6),), trials=())
    assert absent == [(ProposalSubject.WHOLE, "check_in", "days_missed")]


def test_a_flag_speaks_with_and_without_a_programme():
    flag = [(ProposalSubject.WHOLE, "stop_and_refer", "red_flag_open")]
    assert proposed_steps(stops=(stop(1),)) == flag
    assert proposals(history(stops=(stop(1),)), Settings(), today=TODAY)[0].prescribed_item is None
    assert proposed_steps(versions=(), stops=(stop(1),)) == flag
    assert proposed_steps(versions=()) == []
    # A session that the client only ended early allows an advance.
    ended = replace(stop(1, flags=("new_pain",), pauses=False), tier="end_session")
    assert proposed_steps(stops=(ended,))[0][1] == "advance"
    asked = Screening(at(3), ("neck_lump",), ("neck_lump",))
    assert proposed_steps(screens=(asked,)) == flag


def test_several_notes_move_as_one_and_the_note_that_speaks_is_named():
    tasks = [prescribed_item(), prescribed_item(8, note=55)]
    trials = tuple(
        trial(back, "met" if task == 7 else "not_met", task=task, minute=minute)
        for back in range(14, 0, -1) for task in (7, 8) for minute in range(4)
    )  # fmt: skip
    made = history(**{**practised(), "versions": (version(tasks=tasks),), "trials": trials})
    (found,) = proposals(made, Settings(), today=TODAY)
    assert (found.proposal.step.value, found.prescribed_item.note_midi) == ("ease", 55)
    assert found.next_rung.label == "7 s"


def test_the_look_back_changes_no_answer():
    old = tuple(
        trial(back, "not_met", 3.0, minute=minute) for back in range(120, 70, -1)
        for minute in range(2)
    )  # fmt: skip
    everything = history(
        **{
            **practised(),
            "versions": (version(1, 130, [prescribed_item(3, seconds=5.0)]), version(2, 66)),
            "trials": (*old, *practised()["trials"]),
        }
    )
    recent = recent_history(everything, now=NOW)
    assert len(recent.trials) == len(practised()["trials"])
    assert [each.number for each in recent.versions] == [2]
    assert proposals(recent, Settings(), today=TODAY)
    assert timedelta(days=35) < LOOK_BACK


def test_the_thresholds_of_this_client_decide():
    made = history(**practised())
    strict = Settings(advance_sessions=20)
    assert proposals(made, Settings(), today=TODAY)[0].proposal.step.value == "advance"
    assert proposals(made, strict, today=TODAY) == []


def test_every_task_has_its_say_and_of_one_need_in_the_order_of_the_programme():
    tasks = [
        prescribed_item(),
        prescribed_item(9, "hum_hold", item_id="b"),
        prescribed_item(10, "ng_hold", item_id="c"),
    ]
    trials = tuple(
        trial(back, "not_met" if task == 9 else "met", task=task, minute=minute)
        for back in range(14, 0, -1) for task in (7, 9, 10) for minute in range(4)
    )  # fmt: skip
    reasoned_proposals = tuple(
        replace(report(back, "effort", 3, task), key=UUID(int=7_000_000 + 100 * back + task))
        for back in range(14, 0, -1) for task in (7, 9, 10)
    )  # fmt: skip
    parts = {"versions": (version(tasks=tasks),), "trials": trials, "reports": reasoned_proposals}
    made = proposals(history(**{**practised(), **parts}), Settings(), today=TODAY)
    assert [(each.prescribed_item.key, each.proposal.step.value) for each in made] == [
        (7, "advance"), (9, "ease"), (10, "advance"),
    ]  # fmt: skip
    assert all(each.about is ProposalSubject.TASK for each in made)
    assert (made[1].next_rung.before, made[1].next_rung.label) == ("8 s", "7 s")


def test_the_block_speaks_once_and_as_the_block():
    power = [
        prescribed_item(7 + place, "block_power", 48 + place, 30.0, item_id="a")
        for place in range(2)
    ]
    trials = tuple(
        trial(back, held=31.0, task=task, minute=minute)
        for back in range(7, 0, -1) for task in (7, 8) for minute in range(4)
    )  # fmt: skip
    made = history(
        **{**practised(), "versions": (version(tasks=power),), "trials": trials}, goal_s=30.0
    )
    (found,) = proposals(made, Settings(), today=TODAY)
    assert (found.about, found.proposal.step.value) == (ProposalSubject.BLOCK, "start_taper")


def test_a_flag_comes_from_the_clients_answers():
    made = history(versions=(version(),), stops=(stop(1),))
    (found,) = proposals(made, Settings(), today=TODAY)
    assert found.proposal.evidence == (str(stop(1).key),)
    (alone,) = proposals(history(stops=(stop(1),)), Settings(), today=TODAY)
    assert alone.proposal.evidence == (str(stop(1).key),)


@pytest.mark.parametrize(
    ("back", "checked_in", "missed"), [(3, True, 2), (13, True, 9), (14, False, 9)]
)
def test_a_check_in_is_not_repeated_within_a_fortnight(back, checked_in, missed):
    asked = DecisionRecord("check_in", Reason.DAYS_MISSED.value, at(back), 7)
    found = case(sessions=(session(10),), decisions=(asked,))
    assert (found.has_recent_check_in, found.due_days_missed) == (checked_in, missed)


def test_the_reasons_for_a_loud_task():
    loud = prescribed_item(9, "strong_ah", 53, 10.0, item_id="b", sound="ah")
    levels = (
        trial(2, task=9, level_db=9.0, capture={"device": "headset"}),
        trial(1, task=9, level_db=None),
    )
    found = case(loud, versions=(version(tasks=[prescribed_item(), loud]),), trials=levels)
    assert (found.is_loud, found.seconds_now, found.tries_prescribed) == (True, 10.0, 4)
    assert [(each.on, each.db, each.device) for each in found.levels] == [(day(2), 9.0, "headset")]
    assert found.since is None
    assert not case().is_loud
    decided = case(decisions=(DecisionRecord("ease", "few_on_target", at(3), 7),))
    assert decided.since == day(3)


def test_a_series_that_rises_is_known_to():
    rising = tuple(trial(back, held=9.0 + (20 - back) / 2) for back in range(20, 0, -2))
    assert case(trials=rising).is_rising() is True
    level = tuple(replace(each, total_s=9.0) for each in rising)
    assert case(trials=level).is_rising() is False
    assert case(trials=rising[:3]).is_rising() is None
