"""Signing in, the practice link, and too many wrong tries."""

from datetime import timedelta

import pytest
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PASSWORD, PIN
from tests.web.conftest import plan_shown


def enter(browser, person, pin):
    return browser.post(reverse("practice:enter", args=[person.practice_code]), {"pin": pin})


@pytest.mark.django_db
def test_a_clinician_signs_in_and_lands_on_the_board(clinician):
    browser = Browser()
    response = browser.post(
        reverse("accounts:sign_in"),
        {"username": clinician.username, "password": PASSWORD},
        follow=True,
    )
    assert response.redirect_chain[-1][0] == reverse("decisions:board")
    assert "no-store" in response["Cache-Control"]


def test_a_client_comes_in_by_link_and_pin(person, task):
    browser = Browser()
    assert enter(browser, person, PIN).url == reverse("practice:today")
    assert plan_shown(browser)["blocks"][0]["turns"][0]["title"] == "Hold “oh” on F3"


def test_the_link_alone_tells_nobodys_name(person):
    page = Browser().get(reverse("practice:enter", args=[person.practice_code])).content.decode()
    assert person.name not in page
    assert "Your PIN" in page


@pytest.mark.parametrize("typed", ["{}", " {} ", "{}".upper()])
def test_a_link_may_be_typed_as_people_type(person, typed):
    code = typed.format(person.practice_code)
    code = code.upper() if typed.isupper() else code
    assert Browser().get(reverse("practice:enter", args=[code])).status_code == 200


@pytest.mark.parametrize("code", ["\x00", "no\x00-such", "x" * 3000, "⚓"])
@pytest.mark.django_db
def test_a_link_that_is_none_leads_nowhere(code):
    assert Browser().get(reverse("practice:enter", args=[code])).status_code == 404


def test_a_wrong_pin_is_reported_beside_the_field(person):
    response = enter(Browser(), person, "000000")
    assert response.status_code == 200
    assert "This PIN is not right. Try again, or ask your clinician." in response.content.decode()


def test_guessing_a_pin_ends_after_a_few_attempts(person):
    browser = Browser()
    answers = [enter(browser, person, f"{guess:06}").status_code for guess in range(8)]
    assert answers[:5] == [200] * 5
    assert answers[-1] == 429
    # Now even the right one is refused.
    assert enter(browser, person, PIN).status_code == 429


def choose(browser, person, pin, again=None, **more):
    typed = {"pin": pin, "again": again or pin, **more}
    return browser.post(reverse("practice:enter", args=[person.practice_code]), typed)


@pytest.fixture
def fresh(person, task, as_clinician):
    """The client with a link that nobody has opened yet."""
    as_clinician.post(reverse("clients:practice_link", args=[person.pk]))
    person.refresh_from_db()
    return person


def test_the_first_to_open_a_new_link_chooses_its_pin(fresh):
    page = Browser().get(reverse("practice:enter", args=[fresh.practice_code])).content.decode()
    assert "Choose a PIN" in page
    assert fresh.name not in page
    assert choose(Browser(), fresh, "471108").url == reverse("practice:today")
    # From then on it is asked for.
    assert enter(Browser(), fresh, "471108").url == reverse("practice:today")
    assert "not right" in enter(Browser(), fresh, "471209").content.decode()


@pytest.mark.parametrize(
    ("pin", "again", "says"),
    [
        ("12345", "12345", "6 to 12 digits"),
        ("abcd", "abcd", "6 to 12 digits"),
        ("111111", "111111", "easy to guess"),
        ("345678", "345678", "easy to guess"),
        ("864208", "864208", "easy to guess"),
        ("121212", "121212", "easy to guess"),
        ("112233", "112233", "easy to guess"),
        ("696969", "696969", "easy to guess"),
        ("159753", "159753", "easy to guess"),
        ("٤٧١١٠٨", "٤٧١١٠٨", "6 to 12 digits"),
        ("471108", "471209", "are different"),
    ],
)
def test_a_poor_pin_is_refused_beside_the_field(fresh, pin, again, says):
    assert says in choose(Browser(), fresh, pin, again).content.decode()
    assert not type(fresh.account).objects.get(pk=fresh.account_id).has_usable_password()


def test_a_chosen_pin_cannot_be_chosen_again(fresh):
    choose(Browser(), fresh, "471108")
    choose(Browser(), fresh, "802264")
    assert enter(Browser(), fresh, "471108").url == reverse("practice:today")


def test_an_unopened_link_expires_after_a_fortnight(fresh):
    fresh.practice_issued_at -= timedelta(days=15)
    fresh.save()
    page = Browser().get(reverse("practice:enter", args=[fresh.practice_code]))
    assert page.status_code == 410
    assert "This link has expired" in page.content.decode()


def test_a_new_link_replaces_the_old_one_everywhere(person, task, as_client, as_clinician):
    old = person.practice_code
    url = reverse("clients:practice_link", args=[person.pk])
    page = as_clinician.post(url, follow=True).content.decode()
    person.refresh_from_db()
    assert person.practice_code in page
    assert Browser().get(reverse("practice:enter", args=[old])).status_code == 404
    # The previous session has ended.
    assert as_client.get(reverse("practice:today")).status_code == 302


def test_a_closed_link_opens_nothing(person, task, as_client, as_clinician):
    old = person.practice_code
    as_clinician.post(reverse("clients:practice_link", args=[person.pk]), {"revoke": "1"})
    assert Browser().get(reverse("practice:enter", args=[old])).status_code == 404
    assert as_client.get(reverse("practice:today")).status_code == 302


def test_only_a_device_that_the_client_chose_is_remembered(person, task):
    told = Browser()
    told.post(
        reverse("practice:enter", args=[person.practice_code]), {"pin": PIN, "remember": "on"}
    )
    assert told.session.get_expiry_age() > 100 * 24 * 3600
    assert 'data-remembered="1"' in told.get(reverse("practice:today")).content.decode()
    other = Browser()
    enter(other, person, PIN)
    assert other.session.get_expire_at_browser_close()
    assert 'data-remembered="0"' in other.get(reverse("practice:today")).content.decode()


def test_a_code_typed_off_paper_leads_to_the_pin(person):
    url = reverse("practice:code")
    assert Browser().post(url, {"code": f" {person.practice_code.upper()} "}).url == reverse(
        "practice:enter", args=[person.practice_code]
    )
    assert (
        "This code is not right. Check your paper, or call your clinic."
        in Browser().post(url, {"code": "none-such"}).content.decode()
    )


def test_signing_in_never_leads_to_another_site(clinician):
    response = Browser().post(
        reverse("accounts:sign_in") + "?next=https://elsewhere.example/",
        {
            "username": clinician.username,
            "password": PASSWORD,
            "next": "https://elsewhere.example/",
        },
    )
    assert response.url == reverse("accounts:home")
