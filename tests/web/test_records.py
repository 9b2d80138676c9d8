"""The record: valid and invalid input, simultaneous edits, archive and search."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import ClientFactory, ClinicianFactory
from web.clients.forms import age_band
from web.clients.models import Client

GOOD = {
    "name": "Wenna Astley",
    "voice": "bass",
    "spelling": "sharps",
    "goals": "To sing at Easter.",
}


def new(as_clinician, **changes):
    return as_clinician.post(reverse("clients:new"), {**GOOD, **changes})


def change(as_clinician, person, **changes):
    typed = {
        "name": person.name,
        "voice": person.voice,
        "spelling": "sharps",
        "edition": person.edition,
    }
    return as_clinician.post(reverse("clients:record", args=[person.pk]), {**typed, **changes})


def day(offset):
    return (timezone.localdate() + timedelta(days=offset)).isoformat()


def test_a_new_client_goes_to_the_screen(as_clinician, clinician):
    response = new(as_clinician, props=["straw_6mm", "mirror"])
    made = Client.objects.get(name="Wenna Astley")
    assert response.url == reverse("screening:screen", args=[made.pk])
    assert made.clinic == clinician.clinic
    assert made.props == ["straw_6mm", "mirror"]
    page = as_clinician.get(reverse("record:summary", args=[made.pk])).content.decode()
    assert "To sing at Easter." in page
    assert "straw, 6 mm × 20 cm" in page
    assert made.history.get().history_user == clinician


WRONG = {
    "no name": ({"name": ""}, "name", "required"),
    "born tomorrow": ({"born_on": day(1)}, "born_on", "The date of birth is in the future."),
    "born in 1850": ({"born_on": "1850-01-01"}, "born_on", "too long ago"),
    "examined next week": (
        {"examined_on": day(7)},
        "examined_on",
        "The examination date is in the future.",
    ),
    "no such time zone": ({"time_zone": "Mars/Base"}, "time_zone", "is not a time zone"),
    "no date": ({"examined_on": "yesterday"}, "examined_on", "Enter a valid date"),
    "an unknown voice": ({"voice": "<b>"}, "voice", "Select a valid choice"),
}


@pytest.mark.parametrize(("typed", "field", "says"), WRONG.values(), ids=WRONG.keys())
def test_an_impossible_value_is_refused_beside_its_field(as_clinician, typed, field, says):
    page = new(as_clinician, **typed).content.decode()
    assert f'id="id_{field}_error"' in page
    assert says in page
    assert "To sing at Easter." in page
    assert not Client.objects.exists()


def test_odd_dates_ask_to_be_confirmed(as_clinician, db):
    page = new(as_clinician, loud_from=day(1000)).content.decode()
    assert "more than two years away" in page
    assert "Confirm and save" in page
    assert not Client.objects.exists()
    new(as_clinician, loud_from=day(1000), confirmed="1")
    assert Client.objects.exists()


def test_a_name_that_is_there_already_asks_to_be_confirmed(as_clinician, clinician):
    there = ClientFactory(clinic=clinician.clinic, name="Wenna Astley")
    page = new(as_clinician, name=" wenna astley ").content.decode()
    assert "Please check: another client has this name." in page
    assert Client.objects.count() == 1
    new(as_clinician, name="wenna astley", confirmed="1")
    assert Client.objects.count() == 2
    # Saving a record with its name unchanged asks nothing.
    assert change(as_clinician, there, goals="To hail a boat.").status_code == 302


def test_the_name_of_a_colleagues_client_is_not_disclosed(as_clinician, clinician):
    clinician.clinic.sees_all = False
    clinician.clinic.save()
    colleague = ClinicianFactory(clinic=clinician.clinic, username="colleague")
    clinician.clinic.lead = colleague
    clinician.clinic.save()
    ClientFactory(clinic=clinician.clinic, name="Wenna Astley", clinician=colleague)
    assert new(as_clinician).status_code == 302


@pytest.mark.parametrize(
    ("years", "band"),
    [
        (12, "under-13"),
        (13, "13-17"),
        (17, "13-17"),
        (18, "18-39"),
        (39, "18-39"),
        (59, "40-59"),
        (74, "60-74"),
        (75, "75+"),
    ],
)
def test_the_age_band_follows_from_the_date_of_birth(years, band):
    today = timezone.localdate()
    assert age_band(today.replace(year=today.year - years, day=1), today) == band


def test_the_second_of_two_editors_sees_a_notice_and_loses_nothing(as_clinician, person):
    colleague = ClinicianFactory(clinic=person.clinic, first_name="Imre", last_name="Halloran")
    opened = person.edition
    from django.test import Client as Browser

    first = Browser()
    first.force_login(colleague, "django.contrib.auth.backends.ModelBackend")
    assert change(first, person, occupation="ferry announcer").status_code == 302
    response = change(
        as_clinician, person, edition=opened, goals="To be heard.", occupation="pilot"
    )
    page = response.content.decode()
    assert response.status_code == 409
    assert "Imre Halloran saved this record" in page
    assert "ferry announcer" in page  # The stored value.
    assert "To be heard." in page  # The typed value.
    assert 'value="pilot"' in page
    person.refresh_from_db()
    assert (person.occupation, person.goals) == ("ferry announcer", "")
    # Saving again is intended.
    again = change(as_clinician, person, goals="To be heard.", occupation="pilot")
    assert again.status_code == 302
    person.refresh_from_db()
    assert (person.occupation, person.goals) == ("pilot", "To be heard.")


def test_a_client_is_looked_for_by_a_form_and_no_address_says_a_name(as_clinician, person, clinic):
    ClientFactory(clinic=clinic, name="Wilma Reeve", occupation="Pilot")
    Client.objects.bulk_create(Client(clinic=clinic, name=f"Pilot {n:03}") for n in range(120))
    url = reverse("clients:list")
    # A single match opens at its results.
    wilma = Client.objects.get(name="Wilma Reeve")
    for words, found in (("tamsin", person), ("PILOT wil", wilma)):
        answer = as_clinician.post(url, {"find": words})
        assert answer.url == reverse("results:client", args=[found.pk])
    assert "Pilot 000" in as_clinician.post(url, {"find": "pilot 0"}).content.decode()
    assert "No client matches “" in as_clinician.post(url, {"find": "x\x00y"}).content.decode()
    page = as_clinician.post(url, {"find": "pilot", "page": "2"}).content.decode()
    assert 'value="pilot"' in page
    assert "page 2 of" in page
    assert "find=" not in page
    # An old address shows everyone, and finds nobody by it.
    assert "Pilot 000" in as_clinician.get(url + "?find=wilma").content.decode()


def test_archiving_deletes_nothing_and_can_be_undone(as_clinician, person, task):
    as_clinician.post(reverse("clients:archive", args=[person.pk]), follow=True)
    assert person.name not in as_clinician.get(reverse("clients:list")).content.decode()
    archived = as_clinician.get(reverse("clients:list") + "?archived=1").content.decode()
    assert person.name in archived
    as_clinician.post(reverse("clients:restore", args=[person.pk]))
    assert person.name in as_clinician.get(reverse("clients:list")).content.decode()
    assert person.programmes.count() == 1


def queries_of(as_clinician, url, count_queries):
    with count_queries() as counted:
        assert as_clinician.get(url).status_code == 200
    return len(counted)


@pytest.fixture
def count_queries():
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    return lambda: CaptureQueriesContext(connection)


def test_the_list_costs_the_same_for_three_clients_and_for_two_hundred(
    as_clinician, clinic, count_queries
):
    url = reverse("clients:list")
    ClientFactory.create_batch(3, clinic=clinic)
    as_clinician.get(url)  # The session stores the time of its last use once a minute.
    few = queries_of(as_clinician, url, count_queries)
    Client.objects.bulk_create(Client(clinic=clinic, name=f"Client number {n}") for n in range(200))
    assert queries_of(as_clinician, url, count_queries) == few


def test_the_record_costs_the_same_with_a_long_history(
    as_clinician, person, clinician, count_queries
):
    url = reverse("record:summary", args=[person.pk])
    as_clinician.get(url)  # The access is logged once.
    before = queries_of(as_clinician, url, count_queries)
    for number in range(40):
        person.goals = f"goal {number}"
        person.save()
    assert queries_of(as_clinician, url, count_queries) == before
