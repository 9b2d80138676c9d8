"""A password's hash needs a secret of the site, and older hashes still work."""

import pytest
from django.contrib.auth.hashers import check_password, identify_hasher, make_password
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PIN
from web.accounts.checks import _pepper

PLAIN = "django.contrib.auth.hashers.PBKDF2PasswordHasher"
OURS = "web.accounts.code_hashing.PepperedHasher"


@pytest.fixture
def with_pepper(settings):
    settings.PASSWORD_HASHERS = [OURS, PLAIN]
    settings.PASSWORD_PEPPER = "a secret of the site's own, long enough"
    return settings


def test_the_same_password_fits_with_the_secret_and_not_with_another(with_pepper):
    kept = make_password("green heron 7")
    assert check_password("green heron 7", kept)
    assert not check_password("green heron 8", kept)
    with_pepper.PASSWORD_PEPPER = "another secret that is as long as it"
    assert not check_password("green heron 7", kept)


def test_a_pin_is_hashed_with_the_secret_after_the_next_sign_in(with_pepper, person, task):
    person.account.password = make_password(PIN, hasher="pbkdf2_sha256")
    person.account.save()
    door = reverse("practice:enter", args=[person.practice_code])
    assert Browser().post(door, {"pin": PIN}).status_code == 302
    person.account.refresh_from_db()
    assert identify_hasher(person.account.password).algorithm == "pbkdf2_sha256_peppered"
    assert Browser().post(door, {"pin": PIN}).status_code == 302
    assert Browser().post(door, {"pin": "000000"}).status_code == 200


@pytest.mark.parametrize(("secret", "said"), [
    ("", "still_reed.W001"), ("short", "still_reed.E006"), ("x" * 40, None),
])  # fmt: skip
def test_a_missing_or_short_secret_is_reported(settings, secret, said):
    settings.PASSWORD_PEPPER = secret
    assert [each.id for each in _pepper()] == ([said] if said else [])
