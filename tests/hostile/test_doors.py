"""Doors that stood open: sockets, headers, passwords, and files that name a client."""

import json

import pytest
from channels.testing import WebsocketCommunicator
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PASSWORD, ClinicianFactory
from tests.sealed import sealed_to
from tests.web.conftest import entry, run, sitting
from tests.web.signing_in import signed_in
from tests.web.test_access import a_note
from web.accounts.forms import WRONG_PASSWORDS
from web.clients.actions import add_helper
from web.clients.models import ReferenceFigure
from web.config.asgi import application
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
    assert "too many wrong passwords for this name" in page.content.decode()
    # and nobody else is shut out
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
        reverse("clients:letter_pdf", args=[person.pk]),
    ):
        assert signed_in(clinician, answered=False).get(url).status_code == 302
        assert signed_in(clinician).get(url).status_code == 200


def test_the_table_of_reference_figures_is_the_leads(clinic, clinician, as_clinician):
    type(clinic).objects.filter(pk=clinic.pk).update(lead=ClinicianFactory(clinic=clinic))
    figure = ReferenceFigure.objects.create(clinic=clinic, measure="span_st", low=1)
    as_clinician.post(reverse("clients:add_reference"), {"measure": "longest_s", "low": "3"})
    as_clinician.post(reverse("clients:remove_reference", args=[figure.pk]))
    assert list(ReferenceFigure.objects.all()) == [figure]


def opened(user, person, words):
    from django.core.files.uploadedfile import SimpleUploadedFile

    sealed = SimpleUploadedFile("sealed", sealed_to(sealing_key(person), json.dumps(words)))
    return signed_in(user).post(reverse("practice:opened_entry"), {"sealed": sealed})


def test_what_was_sealed_by_one_person_is_opened_for_them_alone(person, task):
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
        assert theirs["value"] in opened(user, person, theirs).content.decode()
        refused = opened(user, person, others)
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
    signed_in(shared).post(reverse("clients:shared", args=[person.pk]), {"with": [clinician.pk]})
    assert list(person.shared_with.all()) == [shared]
