"""A client's own practice over time."""

from datetime import datetime, time, timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import prescribe, simple_document, trial
from web.practice.my_practice import held_progress, next_day, practised_days, weeks_picture
from web.programmes.actions import publish_document
from web.record.models import Session, Trial
from web.record.programmes import current_programme


@pytest.fixture
def task(person, clinician):
    return prescribe(person, by=clinician, target_s=8.0)


def days_ago(person, days):
    """Return noon of a day by the client's clock."""
    day = timezone.localdate(timezone=person.zone) - timedelta(days=days)
    return datetime.combine(day, time(12), person.zone)


def add_holds(person, task, *practised):
    """Create trials of (days ago, seconds), received when they were made."""
    for days, seconds in practised:
        trial(task, total_s=seconds, performed_at=days_ago(person, days))


def progress(person):
    today = timezone.localdate(timezone=person.zone)
    (found,) = held_progress(person, current_programme(person), today=today)
    return found


def test_today_stands_beside_the_last_day_and_the_first_week(person, task):
    add_holds(person, task, (30, 4), (26, 5), (25, 6), (10, 7), (2, 8), (2, 8.4), (2, 20))
    trial(task, total_s=9.0)
    found = progress(person)
    assert (found.first_week, found.last, found.today) == (5.0, 8.4, 9.0)
    assert found.target == 8.0


def test_trials_that_do_not_count_are_left_out(person, task):
    add_holds(person, task, (3, 4), (2, 30))
    Trial.objects.filter(total_s=30).update(set_aside="not_my_voice")
    found = progress(person)
    assert (found.first_week, found.last, found.today) == (4.0, 4.0, None)


def test_a_sound_is_followed_over_versions_and_another_note_is_another_sound(
    person, clinician, task
):
    add_holds(person, task, (20, 4))
    prescribe(person, by=clinician, note_midi=60)
    assert progress(person).first_week is None
    prescribe(person, by=clinician, target_s=9.0)
    assert progress(person).first_week == 4.0


def test_without_practice_nothing_is_shown_as_zero(person, task):
    found = progress(person)
    assert (found.first_week, found.last, found.today, found.weeks) == (None, None, None, ())


def test_weeks_are_stems_under_the_water(person, task):
    add_holds(person, task, (15, 4), (8, 6), (1, 9))
    picture = weeks_picture(progress(person))
    assert [stem.seconds for stem in picture.stems] == [4.0, 6.0, 9.0]
    heights = [picture.ground - stem.y for stem in picture.stems]
    assert heights == sorted(heights)
    assert picture.ground - picture.surface == pytest.approx(heights[1] * 8 / 6, abs=0.5)


def test_days_with_practice_are_counted_by_the_clients_clock(person, task):
    for days in (0, 3, 20):
        begun = days_ago(person, days) if days else timezone.now()
        Session.objects.create(
            key=f"00000000-0000-4000-8000-0000000000{days:02}", client=person,
            programme=task.programme, day="usual", begun_at=begun, items_done=1,
        )  # fmt: skip
    today = timezone.localdate(timezone=person.zone)
    found = practised_days(person, today=today)
    assert len(found) == 14
    assert [(today - day).days for day, practised in found if practised] == [3, 0]


def test_a_trial_of_a_session_that_goes_on_is_practice(person, task):
    trial(task)
    today = timezone.localdate(timezone=person.zone)
    assert [on for _, on in practised_days(person, today=today)] == [False] * 13 + [True]


def test_the_next_day_leaves_out_days_without_a_session(person, clinician):
    today = timezone.localdate(timezone=person.zone)
    document = simple_document()
    document["dose"] |= {
        "a_day": 1, "start": str(today), "off": [str(today + timedelta(days=n)) for n in range(2)],
        "weekdays": list(range(7)),
    }  # fmt: skip
    publish_document(person, document, by=clinician)
    assert next_day(current_programme(person), today=today) == today + timedelta(days=2)


def test_the_page_says_it_in_words(as_client, person, task):
    add_holds(person, task, (15, 4), (8, 6))
    page = as_client.get(reverse("practice:my_practice")).content.decode()
    assert "You practised on 1 of 14 days." in page
    assert "The water shows what is asked: 8 s." in page
    assert page.count('class="stem"') == 2


def test_without_a_programme_the_page_is_empty_and_not_broken(as_client, person):
    page = as_client.get(reverse("practice:my_practice")).content.decode()
    assert "No held sound was measured yet." in page
