"""Helpers of a client, and shared tablets."""

import csv
import io
from datetime import timedelta

import pytest
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from tests.factories import PIN, ClientFactory, prescribe
from tests.web.conftest import entry, plan_shown, send, sitting
from tests.web.signing_in import signed_in
from web.clients.actions import choose_pin, issue_practice_access
from web.clients.actions.erasing import erase_due, plan_erasure, rows_of_client
from web.clients.models import Helper
from web.practice.models import Tablet
from web.record.models import Session

OWN = "482716"


@pytest.fixture
def helper(as_clinician, person, task):
    as_clinician.post(
        reverse("clients:add_helper", args=[person.pk]), {"name": "Ana", "relation": "daughter"}
    )
    made = Helper.objects.get()
    choose_pin(made, pin=OWN)
    made.refresh_from_db()
    return made


def come_in(link, pin, browser=None):
    browser = browser or Browser()
    answer = browser.post(reverse("practice:enter", args=[link.practice_code]), {"pin": pin})
    return browser, answer


def test_a_helper_has_a_link_and_a_pin_of_their_own(helper, person):
    assert helper.practice_code != person.practice_code
    for link, pin in ((person, OWN), (helper, PIN)):
        assert come_in(link, pin)[1].status_code == 200  # The other client's PIN opens neither.
    browser, answer = come_in(helper, OWN)
    assert answer.url == reverse("practice:today")
    assert "Ana is helping" in browser.get(reverse("practice:today")).content.decode()
    assert plan_shown(browser)["helper"] == helper.pk
    assert plan_shown(signed_in(person.account))["helper"] is None


def test_a_session_names_its_helper_for_every_sender(helper, person, task, as_client, as_clinician):
    browser, _ = come_in(helper, OWN)
    with_help, alone = sitting(person, helper=helper.pk), sitting(person, helper=None)
    # The device was offline, and another client signs in on it next.
    assert (
        send(as_client, entry(person, "timed", with_help, task=task.pk, seconds=4)).status_code
        == 200
    )
    assert send(browser, entry(person, "timed", alone, task=task.pk, seconds=5)).status_code == 200
    helped = {str(each.key): each.helper for each in Session.objects.all()}
    assert helped == {with_help["key"]: helper, alone["key"]: None}
    page = as_clinician.get(f"/clients/{person.pk}/").content.decode()
    assert page.count("with Ana") == 1
    assert "who answered the questions" not in page
    send(as_client, entry(person, "mark", with_help, mark="answered_by", value="helper"))
    page = as_clinician.get(f"/clients/{person.pk}/").content.decode()
    assert page.count("with Ana, who answered the questions") == 1
    rows = csv.DictReader(
        io.StringIO(as_clinician.get(f"/clients/{person.pk}/sessions.csv").content.decode())
    )
    assert {row["session_id"]: row["helped_by"] for row in rows} == {
        with_help["key"]: "Ana", alone["key"]: "",
    }  # fmt: skip
    told = as_clinician.get(f"/clients/{person.pk}/practice.json").json()["sessions"]
    assert sorted(each["helped_by"] for each in told) == ["", "Ana"]


def test_nobody_elses_helper_is_named(helper, person, task, clinic, clinician):
    other = ClientFactory(clinic=clinic)
    prescribe(other, by=clinician)
    said = entry(other, "begun", sitting(other, helper=helper.pk))
    assert send(signed_in(other.account), said).status_code == 200
    assert Session.objects.get(client=other).helper is None


def test_a_removed_helper_is_signed_out_everywhere_and_the_sessions_stay(
    helper, person, as_clinician
):
    browser, _ = come_in(helper, OWN)
    send(browser, entry(person, "begun", sitting(person, helper=helper.pk)))
    as_clinician.post(reverse("clients:helper", args=[person.pk, helper.pk]), {"revoke": "1"})
    assert browser.get(reverse("practice:today")).status_code == 302
    assert come_in(helper, OWN)[1].status_code == 404
    assert Session.objects.get().helper == helper
    assert signed_in(person.account).get(reverse("practice:today")).status_code == 200
    assert (
        as_clinician.get(reverse("clients:helper", args=[person.pk, helper.pk])).status_code == 404
    )


def test_too_many_wrong_pins_close_the_helpers_link_and_not_the_clients(helper, person):
    for _ in range(7):
        come_in(helper, "000000")
    assert come_in(helper, OWN)[1].status_code == 429
    assert come_in(person, PIN)[1].status_code == 302


def test_with_the_client_every_helper_is_erased(helper, person, clinician):
    browser, _ = come_in(helper, OWN)
    person.archived_at = timezone.now()
    person.save()
    plan_erasure(person, by=clinician, why="moved away", name=person.name)
    account = helper.account_id
    assert {account, person.account_id} <= rows_of_client(person)[type(helper.account)]
    erase_due(now=timezone.now() + timedelta(days=99))
    assert not Helper.objects.exists()
    assert not Helper.history.exists()
    assert not type(helper.account).objects.filter(pk=account).exists()
    assert browser.get(reverse("practice:today")).status_code == 302


def test_a_helper_without_a_name_is_refused_beside_the_field(as_clinician, person):
    answer = as_clinician.post(reverse("clients:add_helper", args=[person.pk]), {"name": " "})
    assert answer.status_code == 422
    assert "Enter the helper’s name, as the client uses it." in answer.content.decode()


@pytest.mark.parametrize(("old", "new", "said"), [
    (PIN, "907351", ""), ("000001", "907351", "The current PIN is not right."),
    (PIN, "123456", "easy to guess"), (PIN, "9073", "6 to 12 digits"),
])  # fmt: skip
def test_changing_a_pin_needs_the_old_one(person, task, old, new, said):
    browser, _ = come_in(person, PIN)
    elsewhere, _ = come_in(person, PIN)
    answer = browser.post(reverse("practice:pin"), {"old": old, "pin": new, "again": new})
    assert (answer.status_code == 302) == (said == "")
    if said:
        assert said in answer.content.decode()
    assert browser.get(reverse("practice:today")).status_code == 200
    assert elsewhere.get(reverse("practice:today")).status_code == (200 if said else 302)
    assert come_in(person, PIN if said else new)[1].status_code == 302


def test_the_old_pin_is_guessed_at_no_more_often_than_at_the_door(person, task):
    browser, _ = come_in(person, PIN)
    for _ in range(7):
        answer = browser.post(reverse("practice:pin"), {"old": "1", "pin": OWN, "again": OWN})
    assert answer.status_code == 429


@pytest.fixture
def tablet(clinic, clinician, person, task):
    made = Tablet.objects.create(clinic=clinic, name="Group room", made_by=clinician)
    made.clients.add(person)
    return made


def set_up(tablet, by):
    browser = signed_in(by)
    browser.post(reverse("practice:change_tablet", args=[tablet.pk]), {"here": "1"})
    return browser


def test_a_shared_tablet_shows_names_and_asks_for_the_pin(tablet, person, clinician, clinic):
    away = ClientFactory(clinic=clinic, name="Wilma Off the Tablet")
    browser = set_up(tablet, clinician)
    # The person who set it up is signed out.
    assert browser.get(reverse("decisions:board")).status_code == 302
    shown = browser.get(reverse("practice:code"), follow=True).content.decode()
    assert "Tamsin O." in shown
    assert person.name not in shown
    assert "Wilma" not in shown
    door = reverse("practice:tablet_enter", args=[person.pk])
    assert "Remember me" not in browser.get(door).content.decode()
    assert browser.post(door, {"pin": "000000"}).status_code == 200
    assert browser.post(door, {"pin": PIN, "remember": "on"}).url == reverse("practice:today")
    assert browser.session.get_expire_at_browser_close()
    assert browser.get(reverse("practice:tablet_enter", args=[away.pk])).status_code == 404
    assert browser.post(reverse("accounts:sign_out"), follow=True).redirect_chain[-1][0] == reverse(
        "practice:tablet"
    )


def test_a_shared_tablet_allows_no_pin_for_another_client(tablet, person, clinician):
    browser = set_up(tablet, clinician)
    issue_practice_access(person)  # A new link that nobody has opened.
    assert "Tamsin" not in browser.get(reverse("practice:tablet")).content.decode()
    door = reverse("practice:tablet_enter", args=[person.pk])
    assert browser.post(door, {"pin": OWN, "again": OWN}).status_code == 404
    person.refresh_from_db()
    assert not person.pin_chosen


def test_two_helpers_of_one_first_name_differ_on_the_screen(tablet, clinician, clinic):
    tablet.clients.add(ClientFactory(clinic=clinic, name="Tamsin Oake"))
    page = set_up(tablet, clinician).get(reverse("practice:tablet")).content.decode()
    assert "Tamsin Orrell" in page
    assert "Tamsin Oake" in page


def test_an_idle_user_of_a_shared_tablet_is_signed_out(tablet, person, clinician, clock):
    browser = set_up(tablet, clinician)
    browser.post(reverse("practice:tablet_enter", args=[person.pk]), {"pin": PIN})
    assert browser.get(reverse("practice:today")).status_code == 200
    clock(timezone.now() + timedelta(minutes=clinician.clinic.idle_minutes + 1))
    assert browser.get(reverse("practice:today")).status_code == 302


def test_a_tablet_that_is_none_any_more_and_any_other_device_show_nobody(tablet, clinician):
    browser = set_up(tablet, clinician)
    signed_in(clinician).post(reverse("practice:change_tablet", args=[tablet.pk]), {"end": "1"})
    for each in (browser, Browser()):
        assert each.get(reverse("practice:tablet")).url == reverse("practice:code")
    forged = Browser()
    forged.cookies["still-reed-tablet"] = str(tablet.pk)
    assert forged.get(reverse("practice:tablet")).url == reverse("practice:code")


def test_names_of_another_clinic_cannot_be_put_on_it(tablet, clinician, person):
    stranger = ClientFactory(name="Somebody Elsewhere")
    answer = signed_in(clinician).post(
        reverse("practice:change_tablet", args=[tablet.pk]),
        {f"tablet-{tablet.pk}-name": "Group room", f"tablet-{tablet.pk}-clients": [stranger.pk]},
    )
    assert answer.status_code == 422
    assert list(tablet.clients.all()) == [person]
