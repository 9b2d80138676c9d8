"""The clinician's page of one client: the chart, the line chart, one trial and the figures."""

import uuid
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from reedcore.formats.trace import PitchTrace as Heard
from reedcore.formats.trace import pack_trace
from tests.factories import item, prescribe, publish_anyway, simple_document, trial
from tests.pages import read
from tests.web.test_deciding import sat
from web.record.models import Trace, Trial
from web.sound.models import Calibration

LISBON = ZoneInfo("Europe/Lisbon")


def moment_at(day, hour=18, minute=0):
    return datetime(2026, 11, day, hour, minute, tzinfo=LISBON)


def shown(as_clinician, person, query="?until=2026-11-30"):
    response = as_clinician.get(reverse("results:client", args=[person.pk]) + query)
    assert response.status_code == 200
    return response


def page_of(as_clinician, person, query="?until=2026-11-30"):
    return shown(as_clinician, person, query).context["page"]


def chart_of(as_clinician, person, query="?until=2026-11-30"):
    (chart,) = page_of(as_clinician, person, query).charts
    return chart


def tip(reed):
    """Return the y of the end of its stem."""
    return float(reed.path.rsplit(" ", 1)[1])


def test_every_session_is_a_reed_as_tall_as_the_middle_of_its_trials(as_clinician, person, task):
    for day, held in ((3, (4.0, 4.4, 6.0)), (4, (4.8, 5.0)), (9, (6.0,))):
        for minute, seconds in enumerate(held):
            trial(task, performed_at=moment_at(day, 18, minute), total_s=seconds)
    response = shown(as_clinician, person)
    page = response.context["page"]
    (chart,) = page.charts
    assert [each.value for each in page.summaries] == pytest.approx([6.0, 4.9, 4.4])
    assert tip(chart.reeds[2]) < tip(chart.reeds[1]) < tip(chart.reeds[0])
    assert response.content.decode().count("data-reed=") == 3


def test_bed_and_line_stand_on_the_same_numbers(as_clinician, person, task):
    for day in (3, 4, 9):
        trial(task, performed_at=moment_at(day), total_s=4.0 + day / 10)
    chart = chart_of(as_clinician, person)
    points = [part.split(" ") for part in chart.line[1:].split("L")]
    assert [float(y) for _, y in points] == [tip(reed) for reed in chart.reeds]
    page = shown(as_clinician, person, "?until=2026-11-30&line=1").content.decode()
    assert "course-line" in page
    assert (
        'class="stem stem-met" d="M' not in page.split("data-results")[1].split("trial-detail")[0]
    )


def test_a_reed_breaks_the_surface_by_the_seconds_that_count(as_clinician, person, clinician):
    task = prescribe(person, by=clinician, target_s=8.0, counts="steady")
    trial(task, performed_at=moment_at(3), total_s=14.0, steady_s=6.0)
    trial(task, performed_at=moment_at(4), total_s=14.0, steady_s=9.0)
    chart = chart_of(as_clinician, person)
    surface = float(chart.surface.split(" ")[1].split("L")[0])
    assert tip(chart.reeds[0]) > surface > tip(chart.reeds[1])


def test_the_water_steps_with_the_target_and_the_version_is_marked(
    as_clinician, person, task, clinician
):
    trial(task, performed_at=moment_at(3))
    higher = prescribe(person, by=clinician, target_s=8.0)
    higher.programme.published_at = moment_at(4, 9)
    higher.programme.save()
    trial(higher, performed_at=moment_at(5))
    chart = chart_of(as_clinician, person)
    heights = {part.split(" ")[1] for part in chart.surface.replace("M", "L").split("L")[1:]}
    assert len(heights) == 2
    assert "programme 2" in [words for _, words in chart.versions]


def test_a_deliberately_poor_trial_enters_nothing(as_clinician, person, task):
    trial(task, performed_at=moment_at(3), total_s=5.0)
    trial(task, performed_at=moment_at(3, 18, 1), total_s=50.0, role="poor")
    page = page_of(as_clinician, person)
    assert page.series.trials == 1
    assert page.table[0].best == "5.0"


def test_series_are_not_joined_across_notes_but_stand_under_each_other(
    as_clinician, person, clinician
):
    low = prescribe(person, by=clinician, note_midi=50)
    trial(low, performed_at=moment_at(3), total_s=4.0)
    high = prescribe(person, by=clinician, note_midi=57)
    trial(high, performed_at=moment_at(4), total_s=9.0)
    page = page_of(as_clinician, person)
    assert page.series.title.endswith("on A3")  # The version in force comes first.
    assert [each.value for each in page.summaries] == [9.0]
    by_note = page_of(as_clinician, person, "?until=2026-11-30&by=note")
    assert [chart.title for chart in by_note.charts] == ["Hold “oh” on D3", "Hold “oh” on A3"]


def test_another_microphone_breaks_level_and_not_seconds(as_clinician, person, task):
    for day, device, level in ((3, "tablet", -2.0), (4, "tablet", -2.0), (20, "headset", 9.0)):
        trial(
            task, performed_at=moment_at(day), level_db=level, capture={"device": device}, total_s=5.0,
        )  # fmt: skip
    page = page_of(as_clinician, person)
    (crossing,) = page.charts[0].breaks
    assert crossing.words == "new microphone, headset: new level series"
    lines = {line.code: line for line in page.table}
    assert lines["level"].baseline == "+9.0"
    assert "on this device since 20 Nov" in lines["level"].name
    assert lines["value"].course.sessions == 3


def test_a_calibration_of_the_device_breaks_level(as_clinician, person, task, clinician, clinic):
    trial(task, performed_at=moment_at(3), capture={"device": "tablet"})
    for device in ("tablet", "another device"):
        Calibration.objects.create(
            clinic=clinic, device=device, browser="b", distance_m=0.3, meter_db_spl=80.0,
            recorded_dbfs=-20.0, made_on=date(2026, 11, 10), made_by=clinician,
        )  # fmt: skip
    (crossing,) = chart_of(as_clinician, person).breaks
    assert crossing.words == "tablet calibrated: new level series"


def test_the_figures_say_what_is_more_than_chance(as_clinician, person, task):
    today = timezone.now().astimezone(person.zone)
    early = ((14.2, 15.8, 17.1), (15.0, 16.0), (15.5, 16.5), (14.0, 15.0), (16.0, 17.0))
    for days_ago, held in zip((24, 23, 22, 21, 20), early, strict=True):
        for minute, seconds in enumerate(held):
            moment = today - timedelta(days=days_ago, minutes=10 - minute)
            trial(task, performed_at=moment, total_s=seconds)
    # The first week is no baseline.
    trial(task, performed_at=today - timedelta(days=32), total_s=9.0)
    for days_ago in (3, 2, 1):
        trial(task, performed_at=today - timedelta(days=days_ago), total_s=24.0)
    row = page_of(as_clinician, person, "").table[0]
    # Calculated by hand: within 6.22 / 6 = 1.037, between 0.548 − 1.037 / 2.2 = 0.077 (variances);
    # error √(0.077 / 5 + 1.037 / 11 + 0.077 / 3 + 1.037 / 3) = 0.693; with four degrees, one look
    # in forty exceeds 3.436; wider for correlated days by √(1.857 / (1 − 0.857 / 5)) = 1.497.
    assert row.baseline == "15.6"
    assert (row.week, row.change) == ("24.0", "+8.4")
    assert row.real == "yes, limit 3.6"


def test_different_hours_since_medication_are_reported(as_clinician, person, prescribed):
    for days_ago, hours in ((4, 1.0), (3, 4.5)):
        session = sat(prescribed, days_ago, "y")
        session.hours_since_medication = hours
        session.save()
    assert page_of(as_clinician, person, "").mixed == "mixed times since medication, 1 to 4.5 h"


def test_effort_and_missed_days_stand_underneath(as_clinician, person, prescribed):
    for days_ago in (5, 4, 2):
        sat(prescribed, days_ago, "yy", effort=days_ago)
    chart = chart_of(as_clinician, person, "")
    assert [reed.effort_words for reed in chart.reeds] == ["5", "4", "2"]
    assert chart.reeds[0].effort_r > chart.reeds[2].effort_r
    # Three days and one day ago, and the eight shown before the first.
    assert len(chart.missed) == 10


def test_unknown_figures_are_dashes_never_zeros(as_clinician, person, task):
    trial(
        task,
        performed_at=moment_at(3),
        source=Trial.Source.STOPWATCH,
        outcome=Trial.Outcome.NOT_JUDGED,
    )
    page = shown(as_clinician, person).content.decode()
    row = page.split("data-sessions")[1].split("<tbody>")[1].split("</tr>")[0]
    assert row.count("–") == 3  # End off the note, spread, level.
    assert "not judged" in row


def test_a_late_evening_belongs_to_the_clients_day(as_clinician, person, task, clinic):
    clinic.time_zone = "Pacific/Auckland"
    clinic.save()
    trial(task, performed_at=datetime(2026, 11, 9, 20, 0, tzinfo=ZoneInfo("UTC")))
    page = page_of(as_clinician, person)
    assert [each.on for each in page.summaries] == [date(2026, 11, 10)]


def test_earlier_results_are_one_key_away(as_clinician, person, task):
    trial(task, performed_at=moment_at(2) - timedelta(days=120))
    trial(task, performed_at=moment_at(2))
    page = page_of(as_clinician, person)
    assert len(page.summaries) == 1
    before = page_of(as_clinician, person, page.earlier)
    assert [each.on for each in before.summaries] == [date(2026, 7, 5)]
    # The arrow to the previous session keeps the period.
    moved = page_of(as_clinician, person, page.links["left"].replace("until=2026-11-30&", ""))
    assert date(2026, 7, 5) in [each.on for each in moved.summaries]


@pytest.mark.parametrize(
    "query",
    ["?until=", "?until=x", "?until=0001-01-01", "?until=2026-13-01", "?series=%00&by=x&try=%27--"],
)
def test_an_address_that_makes_no_sense_shows_the_newest(as_clinician, person, task, query):
    trial(task)
    assert len(page_of(as_clinician, person, query).summaries) == 1


def test_states_before_there_is_anything(as_clinician, person, clinician):
    assert "No programme yet." in shown(as_clinician, person).content.decode()
    task = prescribe(person, by=clinician)
    assert "link and PIN" in shown(as_clinician, person).content.decode()
    trial(task, total_s=None, outcome=Trial.Outcome.NOT_JUDGED)
    assert (
        "could be measured. Check the room and the microphone."
        in shown(as_clinician, person, "").content.decode()
    )


def test_a_reported_result_is_marked_as_reported(as_clinician, person, clinician):
    programme = publish_anyway(person, simple_document(item("lips_stretch")), by=clinician)
    trial(programme.tasks.get(), source=Trial.Source.TOLD, total_s=None, figures={"reps": 5})
    page = shown(as_clinician, person).content.decode()
    assert "Practice so far was reported, not measured, so there is no chart." in page
    assert "to begin" not in page


def traced_trial(task, moment, cents):
    made = trial(
        task, performed_at=moment, total_s=len(cents) * 0.02,
        breaks=[{"start_s": 1.0, "end_s": 1.2}],
    )  # fmt: skip
    f3 = 1200 * np.log2(174.614 / 440)
    heard = Heard(np.array(cents) + f3, np.full(len(cents), -20.0))
    Trace.objects.create(trial=made, packed=pack_trace(heard))
    return made


def test_the_close_up_is_the_trace_against_the_note(as_clinician, person, task):
    # Calculated by hand: one second on the note, then 30 cents sharp; a break between.
    made = traced_trial(task, moment_at(3), [0.0] * 50 + [30.0] * 100)
    close = page_of(as_clinician, person, f"?try={made.key}").close
    assert close.trial == made
    assert close.rows[0] == ("0.0", "+0", "−20.0")
    assert close.rows[-1][1] == "+30"
    picture = close.picture
    first, last = (
        float(part.split(" ")[1])
        for part in (picture.pitch.split("L")[1], picture.pitch.split("L")[-1])
    )
    assert first == pytest.approx(picture.middle, abs=1)
    assert picture.band[0] < last < picture.middle  # Sharp is above the note, within 50 cents.
    assert picture.pitch.count("M") == 2  # The line is interrupted at the break.
    assert len(picture.breaks) == 1


def test_a_trial_without_a_trace_says_so(as_clinician, person, task):
    trial(task, performed_at=moment_at(3))
    assert "No trace was kept for this trial" in read(shown(as_clinician, person))


def test_the_cost_does_not_grow_with_sessions_or_series(
    as_clinician, person, clinician, django_assert_num_queries
):
    document = simple_document(item("straw_hold", notes=[53]), item("hum_hold", notes=[53, 55]))
    programme = publish_anyway(person, document, by=clinician)
    first, *others = programme.tasks.all()
    trial(first)
    page_of(as_clinician, person, "")  # The status is calculated once.
    with CaptureQueriesContext(connection) as few:
        page_of(as_clinician, person, "")
        count = len(few)
    for task in (first, *others):
        for days_ago in range(40):
            trial(task, performed_at=timezone.now() - timedelta(days=days_ago), key=uuid.uuid4())
    page_of(as_clinician, person, "")
    with django_assert_num_queries(count):
        page_of(as_clinician, person, "")


def test_the_voice_of_the_week_is_shown_with_its_vibrations(as_clinician, person, task):
    now = timezone.now()
    trial(task, performed_at=now, figures={"load_s": 90.0, "cycles": 14_930})
    trial(task, performed_at=now - timedelta(days=8), figures={"load_s": 900.0, "cycles": 99_000})
    page = shown(as_clinician, person, "").content.decode()
    assert (
        "1.5 min of voicing measured in a week (with extra practice), about 15,000 vibrations"
        in page
    )
