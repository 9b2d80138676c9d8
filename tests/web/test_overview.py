"""The lead's overview: counts of the clinic's own clients, and the same as a file."""

import csv
import io
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import ClientFactory, ClinicianFactory, prescribe
from tests.web.signing_in import signed_in
from tests.web.test_access import a_stop
from web.decisions import client_status
from web.decisions.overview import overview_of
from web.record.models import Decision


@pytest.fixture
def colleague(clinic):
    return ClinicianFactory(clinic=clinic, first_name="Abel", last_name="Amsel")


@pytest.fixture
def clients(clinic, clinician, colleague):
    """Two of one clinician, one of a colleague, one archived, and one of another clinic."""
    made = [
        ClientFactory(clinic=clinic, clinician=clinician, name="One"),
        ClientFactory(clinic=clinic, clinician=clinician, name="Two"),
        ClientFactory(clinic=clinic, clinician=colleague, name="Three"),
    ]
    ClientFactory(clinic=clinic, clinician=clinician, archived_at=timezone.now())
    ClientFactory()
    return made


def page(browser):
    return browser.get(reverse("decisions:overview"))


def test_clients_are_counted_by_need_in_the_order_of_names(as_clinician, clients, clinician):
    figures = page(as_clinician).context["figures"]
    assert [each.name for each in figures.caseloads] == sorted(
        ["Abel Amsel", clinician.get_full_name()], key=str.casefold
    )
    assert {each.name: each.total for each in figures.caseloads} == {
        "Abel Amsel": 1, clinician.get_full_name(): 2,
    }  # fmt: skip
    assert dict(figures.adherence)["nothing due"] == 3


def test_two_clinicians_of_one_name_are_counted_apart(clinic, clients, colleague):
    namesake = ClinicianFactory(clinic=clinic, first_name="Abel", last_name="Amsel")
    ClientFactory(clinic=clinic, clinician=namesake)
    names = [each.name for each in overview_of(clinic).caseloads]
    assert names.count("Abel Amsel") == 2


def test_a_status_that_could_not_be_computed_is_not_known(clinic, clients, monkeypatch):
    def fails(*_):
        raise RuntimeError

    monkeypatch.setattr(client_status, "_compute_status", fails)
    adherence = dict(overview_of(clinic).adherence)
    assert (adherence["not known"], adherence["nothing due"]) == (3, 0)


def test_stops_programmes_and_goals(clinic, clients, clinician):
    one, two, _ = clients
    prescribe(one, by=clinician)
    programme = two.programmes.create(
        version=1, published_at=timezone.now() - timedelta(days=60), published_by=clinician
    )
    stop, _ = a_stop(one), a_stop(one)
    stop.cleared_at = stop.received_at + timedelta(hours=6)
    stop.save()
    Decision.objects.create(
        client=two, step="start_taper", reason="goal_reached", accepted=True,
        decided_at=programme.published_at + timedelta(days=42), decided_by=clinician,
    )  # fmt: skip
    figures = overview_of(clinic)
    assert (figures.stops.reported, figures.stops.open) == (2, 1)
    assert figures.stops.hours == pytest.approx(6)
    assert (figures.goals, figures.days_to_goal) == (1, pytest.approx(42))
    assert sum(count for _, count in figures.programmes) == 2


def test_the_file_holds_every_figure_and_unknown_is_empty(as_clinician, clients):
    response = as_clinician.get(reverse("decisions:overview") + "?form=csv")
    rows = list(csv.DictReader(io.StringIO(response.content.decode())))
    assert {row["section"] for row in rows} == {"caseload", "adherence", "stops", "goals"}
    (hours,) = [row for row in rows if row["group"] == "median hours to a decision"]
    assert hours["value"] == ""


def test_the_page_is_for_the_lead_alone(clinic, clinician, colleague):
    clinic.lead = clinician
    clinic.save()
    assert page(signed_in(clinician)).status_code == 200
    assert page(signed_in(colleague)).status_code == 404
