"""A clinic is created, invites people, and deactivates them: stop alerts always have a
recipient."""

import re
from io import StringIO

import pytest
from django.core.management import CommandError, call_command
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import ClientFactory, ClinicianFactory
from tests.pages import read
from tests.web.signing_in import signed_in
from web.accounts.models import Clinic, User

PASSWORD = "heron reed lantern oar"
SAID = {
    "clinic": "Alder Voice Clinic",
    "lead": "Mara Quist",
    "mail": "mara@alder.example",
    "time_zone": "Europe/Lisbon",
}


def begun(**said):
    out = StringIO()
    call_command("create_clinic", stdout=out, **{**SAID, **said})
    return out.getvalue()


def path_in(text):
    return re.search(r"(/choose-password/[^\s<\"]+)", text)[1]


def choose_password(browser, path, password=PASSWORD):
    page = browser.get(path, follow=True)
    return browser.post(
        page.request["PATH_INFO"],
        {"new_password1": password, "new_password2": password},
        follow=True,
    )


def test_from_nothing_to_the_board(db):
    told = begun()
    assert "“mara”" in told
    browser = Browser()
    assert (
        "Your password is saved. Sign in with it."
        in choose_password(browser, path_in(told)).content.decode()
    )
    said = {"username": "mara", "password": PASSWORD}
    board = browser.post(reverse("accounts:sign_in"), said, follow=True)
    assert board.redirect_chain[-1][0] == reverse("decisions:board")
    clinic = Clinic.objects.get()
    assert clinic.lead == clinic.deputy == User.objects.get()  # Every stop alerts a person.
    assert clinic.time_zone == "Europe/Lisbon"


def test_a_link_is_good_once(db):
    path = path_in(begun())
    choose_password(Browser(), path)
    assert "This link has expired" in Browser().get(path, follow=True).content.decode()


@pytest.mark.parametrize("password", ["short", "111111111111", "mara@alder.example"])
def test_a_password_that_is_guessed_first_is_refused(db, password):
    path = path_in(begun())
    page = choose_password(Browser(), path, password).content.decode()
    assert "Your password is saved. Sign in with it." not in page
    assert "error" in page


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({"time_zone": "Atlantis"}, "time zone"),
        ({"mail": "nobody"}, "email"),
        ({"clinic": " "}, "Missing: clinic"),
    ],
)
def test_invalid_data_is_refused_with_a_reason_and_nothing_is_created(db, said, says, monkeypatch):
    monkeypatch.setattr("builtins.input", lambda words: "")
    said = {name: value.strip() for name, value in said.items()}
    with pytest.raises(CommandError, match=says):
        begun(**said)
    assert not Clinic.objects.exists()
    assert not User.objects.exists()


def test_an_option_that_is_missing_is_prompted_for(db, monkeypatch):
    answers = iter(["Alder Voice Clinic", "Mara Quist", "mara@alder.example", "UTC"])
    monkeypatch.setattr("builtins.input", lambda words: next(answers))
    begun(clinic=None, lead=None, mail=None, time_zone=None)
    assert str(Clinic.objects.get()) == "Alder Voice Clinic"


def test_a_second_clinic_needs_an_option(db):
    begun()
    with pytest.raises(CommandError, match="exists"):
        begun()
    begun(another=True, clinic="Second")
    names = User.objects.order_by("username").values_list("username", flat=True)
    assert list(names) == ["mara", "mara2"]


@pytest.fixture
def lead(clinic, clinician):
    clinic.lead = clinic.deputy = clinician
    clinic.save()
    return clinician


def test_a_colleague_comes_in_by_a_link(as_clinician, lead, clinic):
    said = {"name": "Berit Holm", "mail": "berit@alder.example", "role": "clinician"}
    page = as_clinician.post(reverse("clinic:invite"), said).content.decode()
    browser = Browser()
    choose_password(browser, path_in(page))
    browser.post(reverse("accounts:sign_in"), {"username": "berit", "password": PASSWORD})
    assert browser.get(reverse("decisions:board")).status_code == 200
    assert User.objects.get(username="berit").clinic == clinic


def test_only_the_lead_changes_who_works_here(lead, clinic):
    colleague = ClinicianFactory(clinic=clinic)
    browser = signed_in(colleague)
    said = {"name": "X Y", "mail": "x@alder.example"}
    page = browser.post(reverse("clinic:invite"), said, follow=True).content.decode()
    assert "Only the clinic lead can manage people." in page
    page = browser.post(reverse("clinic:deactivate", args=[lead.pk]), follow=True).content.decode()
    assert "Only the clinic lead can manage people." in page
    lead.refresh_from_db()
    assert lead.is_active
    assert clinic.users.filter(role=User.Role.CLINICIAN).count() == 2


def test_a_leaver_hands_over_the_caseload_and_cannot_sign_in(as_clinician, lead, clinic):
    leaving = ClinicianFactory(clinic=clinic, first_name="Berit", last_name="Holm")
    theirs = ClientFactory(clinic=clinic, clinician=leaving)
    inside = Browser()
    inside.force_login(leaving, "django.contrib.auth.backends.ModelBackend")
    assert inside.get(reverse("decisions:board")).status_code == 200
    url = reverse("clinic:deactivate", args=[leaving.pk])
    assert "Choose who takes over" in as_clinician.post(url, follow=True).content.decode()
    page = as_clinician.post(url, {"to": lead.pk}, follow=True).content.decode()
    assert "is deactivated" in page
    theirs.refresh_from_db()
    assert theirs.clinician == lead
    assert "reassigned by" in theirs.history.first().history_change_reason
    assert inside.get(reverse("decisions:board")).status_code == 302
    # A second press leaves the account deactivated.
    page = as_clinician.post(url, {"to": lead.pk}, follow=True).content.decode()
    assert "is already deactivated" in page
    leaving.refresh_from_db()
    assert not leaving.is_active
    as_clinician.post(reverse("clinic:reactivate", args=[leaving.pk]))
    leaving.refresh_from_db()
    assert leaving.is_active
    assert not leaving.has_usable_password()


@pytest.mark.parametrize("role", ["deputy", "lead"])
def test_the_last_recipient_of_stops_cannot_be_deactivated(as_clinician, lead, clinic, role):
    colleague = ClinicianFactory(clinic=clinic)
    if role == "deputy":
        clinic.deputy = colleague
        clinic.save()
    who = colleague if role == "deputy" else lead
    page = as_clinician.post(
        reverse("clinic:deactivate", args=[who.pk]), follow=True
    ).content.decode()
    assert (
        "choose another person in the clinic settings first." in page or "your own account" in page
    )
    who.refresh_from_db()
    assert who.is_active


@pytest.mark.parametrize("to", ["²", "٣٣٣", "-1", "9" * 30, "x", ""])
def test_a_colleague_who_is_none_takes_nothing_over(as_clinician, lead, clinic, to):
    leaving = ClinicianFactory(clinic=clinic)
    ClientFactory(clinic=clinic, clinician=leaving)
    answer = as_clinician.post(reverse("clinic:deactivate", args=[leaving.pk]), {"to": to})
    assert answer.status_code in (302, 404)
    leaving.refresh_from_db()
    assert leaving.is_active


def test_nobody_of_another_clinic_takes_clients_over(as_clinician, lead, clinic):
    leaving = ClinicianFactory(clinic=clinic)
    theirs = ClientFactory(clinic=clinic, clinician=leaving)
    url = reverse("clinic:deactivate", args=[leaving.pk])
    assert as_clinician.post(url, {"to": ClinicianFactory().pk}).status_code == 404
    theirs.refresh_from_db()
    assert theirs.clinician == leaving


def test_an_empty_board_leads_through_the_first_steps(clinic, clinician, as_clinician):
    def steps():
        page = read(as_clinician.get(reverse("decisions:board")))
        found = re.findall(r"<li.*?<strong>(.*?)</strong>.*?</li>", page, re.S)
        done = re.findall(r"<strong>([^<]*)</strong></a> <span class=\"text-soft\">done", page)
        return found, done

    names, done = steps()
    assert (names[0], names[-1], done) == ("Clinic settings", "The first client", [])
    ClinicianFactory(clinic=clinic)
    assert steps()[1] == ["Colleagues"]
    ClientFactory(clinic=clinic)
    assert steps()[0] == []
