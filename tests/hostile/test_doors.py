"""Entry points that were open once: sockets, headers, passwords, and files that name a client."""

import json
import time

import pytest
from allauth.mfa import app_settings
from allauth.mfa.internal.flows.trust import (
    IssuedTrust,
    decode_trust_cookie,
    encode_trust_cookie,
)
from channels.testing import WebsocketCommunicator
from django.conf import settings
from django.test import Client as Browser
from django.test import RequestFactory
from django.urls import reverse
from django.utils import timezone

from tests.factories import PASSWORD, ClinicianFactory
from tests.sealed import sealed_to
from tests.web.conftest import entry, run, sitting
from tests.web.signing_in import signed_in
from tests.web.test_access import a_note
from web.accounts.forms import WRONG_PASSWORDS
from web.accounts.models import UnsavedForm, User
from web.accounts.second.trusted_devices import forget_older
from web.accounts.sessions import SEEN
from web.accounts.unsaved import MOST_FORMS
from web.baseline.models import ReferenceFigure
from web.catalogue.actions import keep
from web.catalogue.models import LibraryEntry
from web.clients.actions import add_helper
from web.clients.actions.people import give_role
from web.clients.models import Client
from web.config.asgi import application
from web.messages.unsubscribing import off_link
from web.practice.sealing import sealing_key
from web.sound.consumers import NOT_YOURS


@pytest.mark.django_db(transaction=True)
def test_a_socket_that_no_page_opens_is_closed(clinician):
    async def story():
        headers = [(b"origin", b"http://testserver"), (b"host", b"testserver")]
        line = WebsocketCommunicator(application, "/nowhere/take/", headers)
        answer = await line.connect(timeout=60)
        await line.disconnect(timeout=60)
        return answer

    assert run(story) == (False, NOT_YOURS)


def test_only_pages_that_hear_a_voice_may_ask_for_the_microphone(as_client, as_clinician, task):
    practice = as_client.get(reverse("practice:today"))
    assert "microphone=(self), camera=(self)" in practice["Permissions-Policy"]
    for name in ("decisions:board", "clients:list"):
        page = as_clinician.get(reverse(name))
        assert "microphone=()" in page["Permissions-Policy"]
        assert "camera=()" in page["Permissions-Policy"]
        assert page["Cross-Origin-Resource-Policy"] == "same-origin"


def wrong(name, address):
    said = {"username": name, "password": "not this one"}
    return Browser().post(reverse("accounts:sign_in"), said, REMOTE_ADDR=address)


def test_wrong_passwords_are_counted_for_the_account_from_wherever_they_come(clinician):
    for number in range(WRONG_PASSWORDS.most):
        wrong(clinician.username, f"10.1.{number}.7")
    said = {"username": clinician.username, "password": PASSWORD}
    page = Browser().post(reverse("accounts:sign_in"), said, REMOTE_ADDR="10.2.0.1")
    assert (
        "Too many wrong passwords for this user name. Nothing was changed. Wait one hour, or reset your password by email."
        in page.content.decode()
    )
    # Other users are not locked out.
    other = ClinicianFactory(clinic=clinician.clinic)
    said = {"username": other.username, "password": PASSWORD}
    assert (
        Browser().post(reverse("accounts:sign_in"), said, REMOTE_ADDR="10.2.0.1").status_code == 302
    )


FILES = ("tries_csv", "sessions_csv", "programme_csv", "practice_json", "fhir_json", "archive")


@pytest.mark.parametrize("name", FILES)
def test_each_file_that_names_a_client_asks_for_the_password_again(name, clinician, person, task):
    url = reverse(f"exports:{name}", args=[person.pk])
    asked = signed_in(clinician, answered=False).get(url)
    assert asked.status_code == 302
    assert reverse("exports:client", args=[person.pk]) in asked.url.replace("%2F", "/")
    assert signed_in(clinician).get(url).status_code == 200


def test_a_note_and_a_letter_to_keep_ask_for_it_too(clinician, person, task):
    note = a_note(person, by=clinician)
    for url in (
        reverse("notes:note_pdf", args=[person.pk, note.pk]),
        reverse("notes:letter_pdf", args=[person.pk]),
    ):
        assert signed_in(clinician, answered=False).get(url).status_code == 302
        assert signed_in(clinician).get(url).status_code == 200


def test_files_for_the_client_need_the_second_step_too(clinician, person, prescribed):
    version = prescribed.version
    for name in ("handout_pdf", "calendar"):
        url = reverse(f"programmes:{name}", args=[person.pk, version])
        asked = signed_in(clinician, answered=False).get(url)
        assert asked.status_code == 302
        back = reverse("programmes:version", args=[person.pk, version])
        assert back in asked.url.replace("%2F", "/")
        assert signed_in(clinician).get(url).status_code == 200


def test_the_table_of_reference_figures_is_the_leads(clinic, clinician, as_clinician):
    type(clinic).objects.filter(pk=clinic.pk).update(lead=ClinicianFactory(clinic=clinic))
    figure = ReferenceFigure.objects.create(clinic=clinic, measure="span_st", low=1)
    as_clinician.post(reverse("clinic:add_reference"), {"measure": "longest_s", "low": "3"})
    as_clinician.post(reverse("clinic:remove_reference", args=[figure.pk]))
    assert list(ReferenceFigure.objects.all()) == [figure]


def open_entry(user, person, words):
    from django.core.files.uploadedfile import SimpleUploadedFile

    sealed = SimpleUploadedFile("sealed", sealed_to(sealing_key(person), json.dumps(words)))
    return signed_in(user).post(reverse("intake:opened_entry"), {"sealed": sealed})


def test_sealed_entries_open_only_for_their_author(person, task):
    helper = add_helper(person, name="Ana", relation="daughter")
    own = entry(person, "mark", mark="comment", value="about my daughter")
    by_helper = entry(
        person,
        "mark",
        mark="comment",
        value="about my mother",
        session=sitting(person, helper=helper.pk),
    )
    for user, theirs, others in (
        (person.account, own, by_helper),
        (helper.account, by_helper, own),
    ):
        assert theirs["value"] in open_entry(user, person, theirs).content.decode()
        refused = open_entry(user, person, others)
        assert refused.status_code == 422
        assert others["value"] not in refused.content.decode()


def test_a_colleague_a_client_is_shared_with_does_not_become_the_owner(clinic, clinician, person):
    owner, shared = ClinicianFactory(clinic=clinic), ClinicianFactory(clinic=clinic)
    type(clinic).objects.filter(pk=clinic.pk).update(sees_all=False, lead=clinician)
    person.clinician = owner
    person.save()
    person.shared_with.add(shared)
    url = reverse("clients:record", args=[person.pk])
    page = signed_in(shared).get(url)
    said = {
        name: field.initial if (field := page.context["form"][name]).initial is not None else ""
        for name in page.context["form"].fields
    }
    said |= {"clinician": shared.pk, "name": "Tamsin Orrell", "voice": "bass"}
    answer = signed_in(shared).post(url, said)
    person.refresh_from_db()
    assert person.clinician == owner, answer.content.decode()[:200]
    signed_in(shared).post(reverse("clinic:shared", args=[person.pk]), {"with": [clinician.pk]})
    assert list(person.shared_with.all()) == [shared]


def idle(user, *, minutes):
    """Return a browser that was idle for this long."""
    browser = signed_in(user)
    session = browser.session
    session[SEEN] = timezone.now().timestamp() - 60 * minutes
    session.save()
    return browser


async def answer_of(browser, path):
    headers = [
        (b"origin", b"http://testserver"),
        (b"host", b"testserver"),
        (b"cookie", f"sessionid={browser.cookies['sessionid'].value}".encode()),
    ]
    line = WebsocketCommunicator(application, path, headers)
    opened_, _ = await line.connect(timeout=60)
    said = await line.receive_output(timeout=60) if opened_ else {}
    await line.disconnect(timeout=60)
    return said.get("code")


@pytest.mark.django_db(transaction=True)
def test_a_sign_in_that_has_ended_for_want_of_anything_done_opens_no_socket(
    clinician, person, task
):
    minutes = clinician.clinic.idle_minutes
    browser = idle(clinician, minutes=minutes + 1)
    assert run(lambda: answer_of(browser, f"/practice/tasks/{task.pk}/take/")) == NOT_YOURS


@pytest.mark.django_db(transaction=True)
def test_an_open_socket_on_which_nothing_is_done_is_closed(clinician, person, task, monkeypatch):
    # One minute of the clinic takes a twentieth of a second here.
    monkeypatch.setattr("web.sound.consumers.idle_minutes", lambda *_: 0.05 / 60)
    browser = signed_in(clinician)
    assert run(lambda: answer_of(browser, f"/practice/tasks/{task.pk}/take/")) == NOT_YOURS


def test_a_role_that_changes_forgets_the_devices_that_were_remembered(clinic, clinician):
    request = RequestFactory().get("/")
    trust = IssuedTrust("print", int(time.time()) - 60)
    request.COOKIES[app_settings.TRUST_COOKIE_NAME] = encode_trust_cookie([trust])
    type(clinic).objects.update(device_remembered_days=30)
    clinician.refresh_from_db()
    forget_older(request, clinician)
    assert decode_trust_cookie(request) == [trust]
    give_role(clinician, User.Role.VIEWER, by=ClinicianFactory(clinic=clinic))
    clinician.refresh_from_db()
    forget_older(request, clinician)
    assert decode_trust_cookie(request) == []


def test_only_so_many_drafts_of_one_person_are_kept(as_clinician, clinician):
    url = reverse("accounts:unsaved")
    for number in range(MOST_FORMS + 3):
        said = {"form": f"/made-up/{number}", "fields": {"name": ["a", ""]}}
        as_clinician.post(url, json.dumps(said), content_type="application/json")
    kept = UnsavedForm.objects.filter(user=clinician).order_by("pk")
    assert kept.count() == MOST_FORMS
    assert kept.first().form == "/made-up/3"


def test_the_name_of_a_private_library_entry_is_not_disclosed(clinic, as_clinician):
    other = ClinicianFactory(clinic=clinic)
    kept = {"kind": LibraryEntry.Kind.LINES, "data": ["a"], "by": other}
    private, shared = (
        keep(clinic, name=name, shared=shared, **kept)
        for name, shared in (("Just for me", False), ("For all", True))
    )
    answer = as_clinician.post(reverse("catalogue:put_away", args=[private.pk]), follow=True)
    assert answer.status_code == 404
    assert "Just for me" not in answer.content.decode()
    answer = as_clinician.post(reverse("catalogue:put_away", args=[shared.pk]), follow=True)
    assert "“For all” belongs to" in answer.content.decode()
    assert LibraryEntry.objects.filter(archived_at=None).count() == 2


def test_a_reader_of_pseudonyms_may_open_a_link_to_a_client(clinic, person):
    auditor = ClinicianFactory(clinic=clinic, role=User.Role.AUDITOR)
    name = person.name
    browser = signed_in(auditor)
    off = off_link(person).partition(settings.SITE_URL)[2]
    assert browser.get(off).status_code == 200
    assert browser.post(off).status_code == 200
    person.refresh_from_db()
    assert (person.reminders, person.name) == (False, name)
    assert person.history.first().name == name
    door = reverse("practice:enter", args=[person.practice_code])
    assert browser.post(door, {"pin": "000000"}).status_code == 200
    assert Client.objects.get().name == name
