"""The clinician's page of tries over days, and the CSV."""

import csv
import io
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from django.urls import reverse

from tests.factories import prescribe, trial
from web.practice.models import Trial

LISBON = ZoneInfo("Europe/Lisbon")


def at(day, hour=18, minute=0):
    return datetime(2026, 11, day, hour, minute, tzinfo=LISBON)


def page_of(as_clinician, person, query=""):
    return as_clinician.get(reverse("review:client", args=[person.pk]) + query)


def test_every_try_is_a_reed_and_a_row(as_clinician, person, task):
    for day in (3, 4, 9):
        trial(task, performed_at=at(day), total_s=4.0 + day / 10, error_cents=-12.0)
    response = page_of(as_clinician, person)
    bed = response.context["bed"]
    assert len(bed.reeds) == 3
    assert [r["trial"].total_s for r in response.context["rows"]] == [4.9, 4.4, 4.3]
    # the taller hold stands higher: y grows downwards
    assert tip(bed.reeds[2]) < tip(bed.reeds[1]) < tip(bed.reeds[0])
    assert response.content.decode().count("data-reed=") == 3


def tip(reed):
    """The y of the end of its stem."""
    return float(reed.path.rsplit(" ", 1)[1])


def test_a_reed_breaks_the_surface_by_the_seconds_that_count(as_clinician, person, clinician):
    task = prescribe(person, by=clinician, target_s=8.0, counts="steady")
    trial(task, performed_at=at(3), total_s=14.0, steady_s=6.0)
    trial(task, performed_at=at(4), total_s=14.0, steady_s=9.0)
    bed = page_of(as_clinician, person).context["bed"]
    surface = float(bed.surface.split(" ")[1].split("L")[0])
    assert tip(bed.reeds[0]) > surface > tip(bed.reeds[1])


def test_the_water_steps_with_the_target(as_clinician, person, task, clinician):
    trial(task, performed_at=at(3))
    higher = prescribe(person, by=clinician, target_s=8.0)
    trial(higher, performed_at=at(5))
    bed = page_of(as_clinician, person).context["bed"]
    heights = {part.split(" ")[1] for part in bed.surface.replace("M", "L").split("L")[1:]}
    assert len(heights) == 2


def test_shares_leave_out_what_was_not_judged(as_clinician, person, task):
    trial(task, performed_at=at(3))
    trial(task, performed_at=at(3, 18, 1), outcome=Trial.Outcome.NOT_MET)
    trial(task, performed_at=at(3, 18, 2), outcome=Trial.Outcome.NOT_JUDGED)
    trial(task, performed_at=at(3, 18, 3), outcome=Trial.Outcome.NOT_JUDGED, total_s=None)
    summary = page_of(as_clinician, person).context["summary"]
    assert (summary["met"], summary["judged"], summary["not_judged"]) == (1, 2, 2)


def test_unknown_figures_are_dashes_never_zeros(as_clinician, person, task):
    trial(task, source=Trial.Source.STOPWATCH, outcome=Trial.Outcome.NOT_JUDGED)
    page = page_of(as_clinician, person).content.decode()
    row = page.split("<tbody>")[1].split("</tr>")[0]
    assert row.count("–") == 4  # steady seconds, error, spread, breaks


def test_a_late_evening_belongs_to_the_clinics_day(as_clinician, person, task, clinic):
    clinic.time_zone = "Pacific/Auckland"
    clinic.save()
    trial(task, performed_at=datetime(2026, 11, 9, 20, 0, tzinfo=ZoneInfo("UTC")))
    response = page_of(as_clinician, person)
    assert response.context["window"]["until"] == date(2026, 11, 10)
    assert "Tue 10 Nov, 09:00" in response.content.decode()


def test_fortnights_lead_to_one_another(as_clinician, person, task):
    trial(task, performed_at=at(28))
    trial(task, performed_at=at(2))
    newest = page_of(as_clinician, person).context["window"]
    assert (newest["until"], newest["later"]) == (date(2026, 11, 28), None)
    before = page_of(as_clinician, person, f"?until={newest['earlier']}").context["window"]
    assert before["later"] == newest["until"]
    assert len(before["trials"]) == 1


@pytest.mark.parametrize("until", ["", "x", "0001-01-01", "9999-12-31", "2026-13-01"])
def test_a_day_that_is_none_shows_the_newest(as_clinician, person, task, until):
    trial(task)
    response = page_of(as_clinician, person, f"?until={until}")
    assert response.status_code == 200
    assert len(response.context["rows"]) == 1


def test_states_before_there_is_anything(as_clinician, person, clinician):
    assert "Nothing is prescribed yet" in page_of(as_clinician, person).content.decode()
    task = prescribe(person, by=clinician)
    assert "link and PIN" in page_of(as_clinician, person).content.decode()
    trial(task, total_s=None, outcome=Trial.Outcome.NOT_JUDGED)
    assert "no held voice was heard in any" in page_of(as_clinician, person).content.decode()


def test_the_cost_does_not_grow_with_the_tries(
    as_clinician, person, task, django_assert_max_num_queries
):
    now = at(9)
    for minute in range(60):
        trial(task, performed_at=now + timedelta(minutes=minute))
    with django_assert_max_num_queries(40):
        page_of(as_clinician, person)


def test_the_csv_holds_every_try_of_this_client_alone(
    as_clinician, person, task, clinic, clinician
):
    from tests.factories import ClientFactory

    trial(task, performed_at=at(3), total_s=14.2, steady_s=None, error_cents=-31.25)
    other = prescribe(ClientFactory(clinic=clinic), by=clinician)
    trial(other)
    response = as_clinician.get(reverse("review:tries_csv", args=[person.pk]))
    assert response["Content-Type"].startswith("text/csv")
    assert "tamsin-orrell-tries-" in response["Content-Disposition"]
    (row,) = csv.DictReader(io.StringIO(response.content.decode()))
    assert row["performed_at"] == "2026-11-03T18:00:00+00:00"
    assert (row["total_s"], row["steady_s"], row["pitch_error_cents"]) == ("14.2", "", "-31.25")
    assert (row["note"], row["target_s"], row["client"]) == ("F3", "5.0", "Tamsin Orrell")
