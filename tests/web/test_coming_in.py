"""Signing in, the practice link, and too many wrong tries."""

import re

import pytest
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PASSWORD, PIN


def enter(browser, person, pin):
    return browser.post(reverse("practice:enter", args=[person.practice_code]), {"pin": pin})


@pytest.mark.django_db
def test_a_clinician_signs_in_and_lands_on_the_clients(clinician):
    browser = Browser()
    response = browser.post(
        reverse("accounts:sign_in"),
        {"username": clinician.username, "password": PASSWORD},
        follow=True,
    )
    assert response.redirect_chain[-1][0] == reverse("clients:list")
    assert "no-store" in response["Cache-Control"]


def test_a_client_comes_in_by_link_and_pin(person, task):
    browser = Browser()
    assert enter(browser, person, PIN).url == reverse("practice:today")
    assert "Hold “oh” on F3" in browser.get(reverse("practice:today")).content.decode()


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


def test_a_wrong_pin_is_said_beside_the_field(person):
    response = enter(Browser(), person, "000000")
    assert response.status_code == 200
    assert "That PIN does not open this link" in response.content.decode()


def test_guessing_a_pin_ends_after_a_few_tries(person):
    browser = Browser()
    answers = [enter(browser, person, f"{guess:06}").status_code for guess in range(8)]
    assert answers[:5] == [200] * 5
    assert answers[-1] == 429
    # not even the right one now
    assert enter(browser, person, PIN).status_code == 429


def test_a_new_link_and_pin_replace_the_old_ones_everywhere(person, task, as_client, as_clinician):
    old = person.practice_code
    page = as_clinician.post(reverse("clients:practice_link", args=[person.pk])).content.decode()
    pin = re.search(r"PIN <strong>(\d{6})</strong>", page)[1]
    person.refresh_from_db()
    assert person.practice_code in page
    assert Browser().get(reverse("practice:enter", args=[old])).status_code == 404
    # the session from before has ended
    assert as_client.get(reverse("practice:today")).status_code == 302
    assert enter(Browser(), person, pin).url == reverse("practice:today")


def test_the_pin_is_never_shown_again(person, as_clinician):
    url = reverse("clients:practice_link", args=[person.pk])
    pin = re.search(r"PIN <strong>(\d{6})</strong>", as_clinician.post(url).content.decode())[1]
    assert pin not in as_clinician.get(url).content.decode()


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
