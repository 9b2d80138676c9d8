"""Two-step verification at sign-in, and reauthentication before actions that cannot be undone."""

import time
from datetime import UTC, datetime, timedelta

import pytest
from allauth.mfa.models import Authenticator
from allauth.mfa.recovery_codes.internal.auth import RecoveryCodes
from allauth.mfa.totp.internal.auth import TOTP, format_hotp_value, hotp_value
from django.core import mail
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from tests.factories import PASSWORD, ClinicianFactory
from tests.pages import read
from tests.web.signing_in import signed_in
from web.accounts.jobs import mail_change
from web.accounts.rate_limit import is_first
from web.accounts.second.actions import reseal_keys
from web.accounts.second.forms import ONCE
from web.accounts.second.required_methods import lacks_second_step
from web.clients.models import Erasure

SECRET = "JBSWY3DPEHPK3PXP"
BOARD = "/board/"


def code_now(secret=SECRET, steps=0):
    return format_hotp_value(hotp_value(secret, int(time.time()) // 30 + steps))


def by_password(browser, name, password=PASSWORD):
    said = {"username": name, "password": password}
    return browser.post(reverse("accounts:sign_in"), said, follow=True)


def gets_in(browser):
    return browser.get(BOARD).status_code == 200


@pytest.fixture
def with_codes(clinician):
    TOTP.activate(clinician, SECRET)
    RecoveryCodes.activate(clinician)
    return clinician


@pytest.fixture
def lead(clinic, clinician):
    clinic.lead = clinician
    clinic.save()
    return clinician


def test_a_mail_address_is_a_name(clinician):
    clinician.email = "odalys@alder.example"
    clinician.save()
    browser = Browser()
    by_password(browser, "Odalys@Alder.example")
    assert gets_in(browser)


def test_an_address_of_two_people_is_nobodys_name(clinician, clinic):
    for each in (clinician, ClinicianFactory(clinic=clinic)):
        each.email = "desk@alder.example"
        each.save()
    browser = Browser()
    by_password(browser, "desk@alder.example")
    assert not gets_in(browser)


def test_a_password_alone_is_half_of_it(with_codes):
    browser = Browser()
    page = by_password(browser, with_codes.username)
    assert page.request["PATH_INFO"] == reverse("mfa_authenticate")
    assert not gets_in(browser)
    page = browser.post(reverse("mfa_authenticate"), {"code": "000000"})
    assert (
        "This code is not valid. Codes change every 30 seconds. If the next code fails too, check the clock of your device."
        in page.content.decode()
    )
    assert not gets_in(browser)
    code = code_now()
    browser.post(reverse("mfa_authenticate"), {"code": f"{code[:3]} {code[3:]}"})
    browser.post(reverse("mfa_trust"), {"action": "skip"})
    assert gets_in(browser)


def test_a_code_is_good_once_in_whatever_process(with_codes):
    code = code_now()
    first, second = Browser(), Browser()
    for browser in (first, second):
        cache.clear()  # As another process stored it.
        by_password(browser, with_codes.username)
        page = browser.post(reverse("mfa_authenticate"), {"code": code}, follow=True)
    assert "This code was already used. Wait for the next one." in page.content.decode()
    assert not gets_in(second)


def test_a_code_used_before_midnight_is_not_good_after_it(clock, db):
    midnight = datetime(2026, 11, 30, tzinfo=UTC)
    clock(midnight - timedelta(seconds=5))
    assert is_first(ONCE, "1/123456")
    assert not is_first(ONCE, "1/123456")
    clock(midnight + timedelta(seconds=5))
    assert not is_first(ONCE, "1/123456")
    assert is_first(ONCE, "1/654321")


def test_a_spare_code_gets_in_once(with_codes):
    spare = Authenticator.objects.get(user=with_codes, type="recovery_codes").wrap()
    code = spare.get_unused_codes()[0]
    for wanted in (True, False):
        browser = Browser()
        by_password(browser, with_codes.username)
        browser.post(reverse("mfa_authenticate"), {"code": code}, follow=True)
        browser.post(reverse("mfa_trust"), {"action": "skip"})
        assert gets_in(browser) is wanted


def test_few_codes_can_be_guessed(with_codes):
    browser = Browser()
    by_password(browser, with_codes.username)
    for number in range(9):
        page = browser.post(reverse("mfa_authenticate"), {"code": f"00000{number}"})
    assert "Too many wrong codes" in page.content.decode()
    page = browser.post(reverse("mfa_authenticate"), {"code": code_now()}, follow=True)
    assert not gets_in(browser)


def test_a_telephone_is_added_and_spare_codes_are_shown(as_clinician, clinician):
    page = as_clinician.get(reverse("mfa_activate_totp")).content.decode()
    secret = as_clinician.session["mfa.totp.secret"]
    assert secret in page
    assert "<svg" in page
    refused = as_clinician.post(reverse("mfa_activate_totp"), {"code": "12"})
    assert (
        "This code is not valid. Codes change every 30 seconds. If the next code fails too, check the clock of your device."
        in refused.content.decode()
    )
    done = as_clinician.post(
        reverse("mfa_activate_totp"), {"code": code_now(secret)}, follow=True
    ).content.decode()
    spare = Authenticator.objects.get(user=clinician, type="recovery_codes").wrap()
    assert all(code in done for code in spare.get_unused_codes())
    own = as_clinician.get(reverse("accounts:own")).content.decode()
    assert "10 left" in own
    as_clinician.post(reverse("mfa_deactivate_totp"), {})
    assert not Authenticator.objects.filter(user=clinician).exists()


def test_nobody_reads_a_secret_off_the_database(with_codes, settings):
    kept = Authenticator.objects.get(user=with_codes, type="totp")
    assert SECRET not in str(kept.data)
    settings.SECRET_KEY_FALLBACKS = [settings.SECRET_KEY]
    settings.SECRET_KEY = "another, since the key was changed"
    assert reseal_keys() == 0
    # The old key can go once the nightly job has encrypted everything again.
    settings.SECRET_KEY_FALLBACKS = []
    kept.refresh_from_db()
    assert kept.wrap().validate_code(code_now())


def test_codes_fail_after_the_secret_key_was_replaced(with_codes, settings):
    settings.SECRET_KEY = "another, and the old one was forgotten"
    browser = Browser()
    by_password(browser, with_codes.username)
    page = browser.post(reverse("mfa_authenticate"), {"code": code_now()}, follow=True)
    assert (
        "This code is not valid. Codes change every 30 seconds. If the next code fails too, check the clock of your device."
        in page.content.decode()
    )
    assert reseal_keys() == 2


class TestRequiredByTheClinic:
    @pytest.fixture(autouse=True)
    def asked_for(self, clinic):
        clinic.second_step_required = True
        clinic.save()

    def test_a_user_without_a_second_step_is_sent_to_its_setup(self, as_clinician, clinician):
        page = as_clinician.get(BOARD, follow=True)
        assert page.request["PATH_INFO"] == reverse("accounts:own")
        assert (
            "Your clinic requires two-step verification. Set it up to continue."
            in page.content.decode()
        )
        fetched = as_clinician.get(BOARD, headers={"Sec-Fetch-Mode": "cors"})
        assert fetched.status_code == 403
        assert as_clinician.post(BOARD).status_code == 302
        assert lacks_second_step(clinician)  # The sockets check it.
        TOTP.activate(clinician, SECRET)
        assert gets_in(as_clinician)
        assert not lacks_second_step(clinician)

    def test_a_client_is_not_asked(self, as_client, person):
        assert as_client.get("/practice/").status_code == 200
        assert not lacks_second_step(person.account)

    def test_the_last_is_not_taken_away(self, as_clinician, with_codes):
        page = as_clinician.post(reverse("mfa_deactivate_totp"), {}).content.decode()
        assert (
            "Your clinic requires two-step verification, and this is your last method. Add another before you remove it."
            in page
        )
        assert Authenticator.objects.filter(user=with_codes, type="totp").exists()
        passkey = Authenticator.objects.create(
            user=with_codes, type="webauthn", data={"name": "Key"}
        )
        as_clinician.post(reverse("mfa_deactivate_totp"), {})
        assert not Authenticator.objects.filter(user=with_codes, type="totp").exists()
        as_clinician.post(reverse("mfa_remove_webauthn", args=[passkey.pk]))
        assert Authenticator.objects.filter(pk=passkey.pk).exists()


class TestOwnDevice:
    def second_time(self, browser, person):
        browser.post(reverse("accounts:sign_out"))
        by_password(browser, person.username)
        return gets_in(browser)

    def first_time(self, person, action="trust"):
        browser = Browser()
        by_password(browser, person.username)
        browser.post(reverse("mfa_authenticate"), {"code": code_now()})
        browser.post(reverse("mfa_trust"), {"action": action})
        assert gets_in(browser)
        return browser

    def test_the_second_step_is_required_only_where_set(self, with_codes):
        assert not self.second_time(self.first_time(with_codes, "skip"), with_codes)

    def test_a_device_is_remembered_as_long_as_the_clinic_allows(
        self, with_codes, clinic, monkeypatch
    ):
        browser = self.first_time(with_codes)
        assert self.second_time(browser, with_codes)
        really = time.time
        monkeypatch.setattr(time, "time", lambda: really() + 8 * 86400)
        assert self.second_time(browser, with_codes)
        clinic.device_remembered_days = 7
        clinic.save()
        assert not self.second_time(browser, with_codes)

    def test_a_clinic_without_second_steps_asks_and_stores_nothing(self, with_codes, clinic):
        clinic.device_remembered_days = 0
        clinic.save()
        browser = Browser()
        by_password(browser, with_codes.username)
        page = browser.post(reverse("mfa_authenticate"), {"code": code_now()}, follow=True)
        assert "Is this your own device?" not in page.content.decode()
        assert gets_in(browser)
        assert "mfa_trusted" not in browser.cookies


class TestReauthentication:
    @pytest.fixture
    def put_away(self, person):
        person.archived_at = timezone.now()
        person.save()
        return person

    def test_an_erasure_waits_for_the_password_and_goes_on(self, lead, put_away):
        person = put_away
        browser = signed_in(lead, answered=False)
        path = reverse("clinic:erase", args=[person.pk])
        assert browser.get(path).status_code == 200
        asked = browser.post(path, {"why": "Asked for by letter.", "name": person.name})
        assert asked.url.startswith(reverse("account_reauthenticate"))
        assert not Erasure.objects.exists()
        page = browser.post(asked.url, {"password": "not it", "next": path}).content.decode()
        assert "The password is wrong." in page
        assert not Erasure.objects.exists()
        browser.post(asked.url, {"password": PASSWORD, "next": path})
        assert Erasure.objects.get().record == person.pk

    def test_a_waiting_request_is_not_completed_by_another_user(self, clinician, put_away, clinic):
        """The request belongs to a session, not to a browser that changes hands; there is no lead
        yet."""
        browser = signed_in(clinician, answered=False)
        path = reverse("clinic:erase", args=[put_away.pk])
        browser.post(path, {"why": "Asked for.", "name": put_away.name})
        browser.force_login(ClinicianFactory(clinic=clinic))
        browser.post(reverse("account_reauthenticate"), {"password": PASSWORD, "next": path})
        assert not Erasure.objects.exists()

    @pytest.mark.parametrize("name", ["exports:archive", "exports:practice_json"])
    def test_exporting_a_whole_record_needs_the_second_step(self, clinician, person, name):
        browser = signed_in(clinician, answered=False)
        file = reverse(name, args=[person.pk])
        asked = browser.get(file)
        assert asked.url.startswith(reverse("account_reauthenticate"))
        back = browser.post(asked.url, {"password": PASSWORD})
        assert back.url == reverse("exports:client", args=[person.pk])
        assert browser.get(file).status_code == 200

    def test_an_answer_holds_for_a_quarter_of_an_hour(self, clinician, person, monkeypatch):
        browser = signed_in(clinician)
        file = reverse("exports:practice_json", args=[person.pk])
        assert browser.get(file).status_code == 200
        really = time.time
        monkeypatch.setattr(time, "time", lambda: really() + 15 * 60 + 1)
        assert browser.get(file).status_code == 302

    def test_changing_roles_needs_the_second_step(self, lead, clinic):
        other = ClinicianFactory(clinic=clinic)
        browser = signed_in(lead, answered=False)
        browser.post(reverse("clinic:role", args=[other.pk]), {"role": "viewer"})
        other.refresh_from_db()
        assert other.role == "clinician"


def test_the_lead_takes_away_what_a_colleague_has_lost(lead, clinic):
    other = ClinicianFactory(clinic=clinic)
    TOTP.activate(other, SECRET)
    inside = signed_in(other)
    assert gets_in(inside)
    by_lead = signed_in(lead)
    assert "Reset two-step verification" in read(by_lead.get(reverse("clinic:people")))
    by_lead.post(reverse("clinic:reset_second_step", args=[other.pk]))
    assert not gets_in(inside)
    browser = Browser()
    by_password(browser, other.username)
    assert gets_in(browser)


def test_the_site_administrator_can_reset_the_lead(with_codes):
    call_command("reset_two_step", with_codes.username)
    assert not Authenticator.objects.filter(user=with_codes).exists()
    with pytest.raises(CommandError, match="Unknown user name “"):
        call_command("reset_two_step", "nobody")


def test_only_the_lead_does(clinic, lead):
    other, third = ClinicianFactory(clinic=clinic), ClinicianFactory(clinic=clinic)
    TOTP.activate(other, SECRET)
    signed_in(third).post(reverse("clinic:reset_second_step", args=[other.pk]))
    assert Authenticator.objects.filter(user=other).exists()


def test_an_account_that_is_closed_gets_in_by_no_step(with_codes):
    browser = Browser()
    by_password(browser, with_codes.username)
    with_codes.is_active = False
    with_codes.save()
    browser.post(reverse("mfa_authenticate"), {"code": code_now()}, follow=True)
    assert not gets_in(browser)


def test_nobody_makes_an_account(db):
    assert Browser().get("/signup/").status_code == 404
    assert Browser().get("/accounts/signup/").status_code == 404


class TestSignInEmails:
    """Users get an email about each change of their sign-in."""

    @pytest.fixture
    def told(self, clinician, monkeypatch):
        clinician.email = "odalys@alder.example"
        clinician.save()
        found = []
        monkeypatch.setattr(
            "web.accounts.actions.app.configure_task",
            lambda name: type(
                "Task", (), {"defer": lambda self, **said: found.append((name, said["what"]))}
            )(),
        )
        return found

    def test_a_mail_reports_an_added_and_a_removed_second_step(
        self, as_clinician, told, django_capture_on_commit_callbacks
    ):
        as_clinician.get(reverse("mfa_activate_totp"))
        secret = as_clinician.session["mfa.totp.secret"]
        with django_capture_on_commit_callbacks(execute=True):
            as_clinician.post(reverse("mfa_activate_totp"), {"code": code_now(secret)})
            as_clinician.post(reverse("mfa_generate_recovery_codes"), {})
        with django_capture_on_commit_callbacks(execute=True):
            as_clinician.post(reverse("mfa_deactivate_totp"), {})
        assert [what for _, what in told] == ["added", "reset", "removed"]

    def test_a_mail_reports_a_changed_password(self, as_clinician, told):
        fields = ("new_password1", "new_password2")
        said = {"old_password": PASSWORD, **dict.fromkeys(fields, "four reeds in one lake")}
        as_clinician.post(reverse("accounts:own"), said)
        assert told == [("mail_change", "password")]

    def test_the_mail_says_what_to_do(self, clinician):
        clinician.email = "odalys@alder.example"
        clinician.save()
        mail_change(user=clinician.pk, what="removed")
        (sent,) = mail.outbox
        assert sent.to == ["odalys@alder.example"]
        assert "A two-step verification method was removed." in sent.body
        assert (
            "If it was not you, contact your clinic lead at once and choose a new password:"
            in sent.body
        )


def test_signing_out_leaves_nothing_on_the_device(as_clinician):
    gone = as_clinician.post(reverse("accounts:sign_out"))
    assert gone["Clear-Site-Data"] == '"cache", "storage"'
    assert not gets_in(as_clinician)


def test_an_overlong_password_is_refused(as_clinician):
    fields = ("new_password1", "new_password2")
    said = {"old_password": PASSWORD, **dict.fromkeys(fields, "reed and water " * 9)}
    assert (
        "At most 128 characters"
        in as_clinician.post(reverse("accounts:own"), said).content.decode()
    )
