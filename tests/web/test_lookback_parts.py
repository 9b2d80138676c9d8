"""The parts of the chart and its table, on plain values."""

import uuid
from dataclasses import replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from reedcore.history import TrialRecord
from reedcore.history.courses import course_for, since_device_change
from reedcore.history.figures import HELD
from reedcore.history.series import session_of, summaries_of, week_of
from reedcore.progress import BetterDirection
from web.results import figures
from web.results.history_chart import LEFT, RIGHT, ChartedSession, chart_of, head_of
from web.results.series import SeriesShown

LISBON = ZoneInfo("Europe/Lisbon")
MONDAY = datetime(2026, 11, 2, 18, 0, tzinfo=LISBON)
SERIES = SeriesShown(
    key="straw_hold/53/oo/hold", title="Straw on F3", code="straw_hold", sound="oo", measure="hold",
    note_midi=53, counts="total", is_loud=False, targets={1: 8.0, 2: 10.0},
)  # fmt: skip


def row(days=0, seconds=8.0, *, minute=0, session=None, **more):
    at = MONDAY + timedelta(days=days, minutes=minute)
    plain = TrialRecord(
        key=uuid.uuid4(), task=1, session=session, at=at, on=at.date(), source="microphone",
        outcome="met", total_s=seconds,
    )  # fmt: skip
    return replace(plain, **more)


def summaries(*rows, by=session_of):
    return summaries_of(SERIES, list(rows), by)


def shown(**more):
    course = course_for(SERIES, [], today=date(2026, 11, 15))
    first, last = date(2026, 11, 2), date(2026, 11, 15)
    return ChartedSession(
        **({"first": first, "last": last, "figure": HELD, "course": course} | more)
    )


def test_trials_of_one_session_are_one_reed_and_of_no_session_one_a_day():
    key = uuid.uuid4()
    found = summaries(
        row(0, 7.0, session=key), row(0, 9.0, minute=1, session=key), row(1), row(1, minute=2)
    )
    assert [(each.value, len(each.rows)) for each in found] == [(8.0, 2), (8.0, 2)]


def test_weeks_begin_on_monday():
    found = summaries(row(0, 5.0), row(6, 7.0), row(7, 9.0), by=week_of)
    assert [(each.key, each.value) for each in found] == [("2026-11-02", 6.0), ("2026-11-09", 9.0)]


@pytest.mark.parametrize(
    ("outcomes", "of_all"),
    [("mm", "met"), ("mn", "met"), ("nnm", "not_met"), ("??", "not_judged"), ("?m", "met")],
)
def test_a_reed_is_on_target_when_half_of_what_was_judged_was(outcomes, of_all):
    names = {"m": "met", "n": "not_met", "?": "not_judged"}
    rows = [row(0, minute=n, outcome=names[letter]) for n, letter in enumerate(outcomes)]
    (found,) = summaries(*rows)
    assert found.outcome == of_all


def test_the_head_is_the_level_of_the_trial_it_stands_for():
    soft = [{"part": "level", "verdict": "not_met", "why": "too_soft"}]
    (found,) = summaries(row(0, 8.0, parts=soft))
    assert head_of(found.shown) == "half"
    assert head_of(row(0, 8.0)) is None


def test_a_target_for_one_session_only_is_that_sessions_water():
    assert [each.asked_s for each in summaries(row(0), row(1, set_s=6.0), row(2, task=2))] == [
        8.0,
        6.0,
        10.0,
    ]


def test_reeds_stand_on_their_days_and_side_by_side_within_one():
    keys = [uuid.uuid4() for _ in range(3)]
    found = summaries(
        row(0, session=keys[0]), row(0, minute=90, session=keys[1]), row(13, session=keys[2])
    )
    chart = chart_of(found, shown(), title="Straw")
    first, second, last = (reed.x for reed in chart.reeds)
    day = (RIGHT - LEFT) / 14
    assert LEFT < first < second < LEFT + day
    assert RIGHT - day < last < RIGHT


def test_a_span_in_semitones_has_no_water_and_no_gaps_in_it():
    glide = replace(SERIES, measure="glide")
    rows = [row(0, figures={"semitones": 14.0}, breaks=[{"start_s": 1.0, "end_s": 2.0}])]
    chart = chart_of(summaries_of(glide, rows), shown(figure=glide.figure), title="Glide")
    assert chart.water == ""
    assert chart.reeds[0].path.count("M") == 1
    assert chart.ticks[-1][0].endswith("st")


def test_breaks_that_lie_close_have_one_label():
    crossings = [(date(2026, 11, day), f"new microphone {day}", True) for day in (4, 5, 14)]
    chart = chart_of(summaries(row(0)), shown(breaks=crossings), title="Straw")
    assert [each.words for each in chart.breaks] == ["new microphone 4", "", "new microphone 14"]


def test_days_without_measurements_draw_no_reeds():
    assert chart_of(summaries(row(0, None)), shown(), title="Straw") is None
    assert chart_of(summaries(row(-30)), shown(), title="Straw") is None


HOURS = {
    "": [None, None],
    "mixed times since medication, 1 to 3.5 h": [1.0, 3.5],
    "time since medication is not known for all trials": [1.0, None],
}


@pytest.mark.parametrize("words", HOURS)
def test_a_trend_over_mixed_hours_says_so(words):
    assert figures.mixed_words([row(since_medication_h=each) for each in HOURS[words]]) == words
    assert figures.mixed_words([row(since_medication_h=1.0), row(since_medication_h=2.0)]) == ""


def test_level_counts_since_the_device_last_changed():
    rows = [
        row(0, capture={"device": "tablet"}), row(1, capture={"device": "headset"}), row(2),
        row(3, capture={"device": "headset"}),
    ]  # fmt: skip
    assert since_device_change(rows) == rows[1:]
    assert since_device_change(rows[2:3]) == rows[2:3]


@pytest.mark.parametrize(
    ("value", "places", "signed", "text"),
    [
        (-3.24, 1, True, "−3.2"),
        (3.24, 1, True, "+3.2"),
        (-0.04, 1, True, "0.0"),
        (3.0, 0, False, "3"),
    ],
)
def test_figures_have_a_true_minus_and_nothing_is_minus_nought(value, places, signed, text):
    assert figures.plain(value, places, is_signed=signed) == text


def test_the_table_leaves_out_what_the_task_has_not():
    lines = figures.lines_of(SERIES, [row()], [], today=MONDAY.date())
    assert [line.code for line in lines] == ["value", "error", "spread", "share"]
    loud = replace(SERIES, note_midi=None, is_loud=True)
    lines = figures.lines_of(
        loud, [row(level_db=4.0)], [("s", MONDAY.date(), 9.0)], today=MONDAY.date()
    )
    assert [line.code for line in lines] == ["value", "spread", "level", "share", "effort"]
    effort = lines[-1]
    assert (effort.week, effort.best) == ("9", "–")  # A loud task has no best effort.


def test_better_is_as_the_figure_is():
    assert HELD.better is BetterDirection.HIGHER
    assert replace(SERIES, measure="pattern").value_of(row(share_on_pitch=0.75)) == 75.0
    assert replace(SERIES, measure="glide").value_of(row()) is None
