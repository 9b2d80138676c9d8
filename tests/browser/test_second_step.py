"""Passkeys in a real browser with a virtual key, and a page that requires reauthentication."""

import re

import pytest
from allauth.mfa.models import Authenticator
from django.urls import reverse
from django.utils import timezone
from playwright.sync_api import expect

from tests.factories import PASSWORD
from web.clients.models import Erasure


@pytest.fixture
def key(page):
    """A virtual key that opens at once, without a question to its owner."""
    line = page.context.new_cdp_session(page)
    line.send("WebAuthn.enable")
    options = {
        "protocol": "ctap2",
        "transport": "internal",
        "hasResidentKey": True,
        "hasUserVerification": True,
        "isUserVerified": True,
        "automaticPresenceSimulation": True,
    }
    made = line.send("WebAuthn.addVirtualAuthenticator", {"options": options})
    return line, made["authenticatorId"]


@pytest.fixture
def door(site, clinician):
    """The site under a host name, because a passkey belongs to a name."""
    return site.replace("127.0.0.1", "localhost")


def sign_in(page, door, clinician):
    page.goto(f"{door}/sign-in/")
    page.get_by_label("User name or email").fill(clinician.username)
    page.get_by_label("Password", exact=True).fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page).to_have_url(re.compile("/board/$"))


def test_a_passkey_is_made_and_signed_in_by(page, door, clinician, key):
    sign_in(page, door, clinician)
    page.goto(f"{door}/account/")
    page.get_by_role("link", name="Add a passkey").click()
    page.get_by_label("Your password").fill(PASSWORD)
    page.get_by_role("button", name="Continue").click()
    page.get_by_label("Name of this passkey").fill("The desk")
    page.get_by_role("button", name="Make it").click()
    expect(page.locator("[data-spare] li")).to_have_count(10)
    page.get_by_role("link", name="Done").click()
    expect(page.get_by_text("Passkey “The desk”")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("button", name="Sign in with a passkey").click()
    expect(page).to_have_url(re.compile("/board/$"))
    assert Authenticator.objects.get(user=clinician, type="webauthn").last_used_at


def test_a_passkey_is_the_second_step_after_a_password(page, door, clinician, key):
    test_a_passkey_is_made_and_signed_in_by(page, door, clinician, key)
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("User name or email").fill(clinician.username)
    page.get_by_label("Password", exact=True).fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("heading", name="Two-step verification")).to_be_visible()
    page.get_by_role("button", name="Use a passkey instead").click()
    page.get_by_role("button", name="No, ask every time").click()
    expect(page).to_have_url(re.compile("/board/$"))


def test_a_passkey_confirms_the_identity_again(page, door, clinician, person, key):
    test_a_passkey_is_made_and_signed_in_by(page, door, clinician, key)
    page.goto(door + reverse("exports:client", args=[person.pk]))
    page.get_by_role("link", name=re.compile("Complete record, JSON")).click()
    page.get_by_role("link", name="Use a passkey instead").click()
    page.get_by_role("button", name="Use your passkey").click()
    expect(page).to_have_url(re.compile(reverse("exports:client", args=[person.pk])))
    with page.expect_download() as file:
        page.get_by_role("link", name=re.compile("Complete record, JSON")).click()
    assert file.value.suggested_filename.endswith(".json")


def test_a_passkey_without_user_verification_does_not_sign_in(page, door, clinician, key):
    test_a_passkey_is_made_and_signed_in_by(page, door, clinician, key)
    page.get_by_role("button", name="Sign out").click()
    line, which = key
    line.send("WebAuthn.setUserVerified", {"authenticatorId": which, "isUserVerified": False})
    page.get_by_role("button", name="Sign in with a passkey").click()
    expect(page.get_by_text("The passkey did not answer")).to_be_visible()
    assert page.request.get(f"{door}/board/", max_redirects=0).status == 302


def test_a_request_continues_after_the_password(page, door, clinician, person):
    person.archived_at = timezone.now()
    person.save()
    sign_in(page, door, clinician)
    page.goto(door + reverse("clinic:erase", args=[person.pk]))
    page.get_by_label(re.compile("Reason")).fill("Asked for by letter.")
    page.get_by_label(re.compile("name", re.I)).last.fill(person.name)
    page.get_by_role("button", name=re.compile("Erase")).click()
    page.get_by_label("Your password").fill(PASSWORD)
    page.get_by_role("button", name="Continue").click()
    expect(page.get_by_text(re.compile(", unless you cancel it."))).to_be_visible()
    assert Erasure.objects.get().record == person.pk
