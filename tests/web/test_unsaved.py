"""Unsaved input is restored for its author, and for nobody else."""

import json

import pytest
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import ClinicianFactory
from web.accounts.models import UnsavedForm
from web.notes.models import ClinicalNote


@pytest.fixture
def draft(as_clinician, person):
    """A progress report that was begun."""
    as_clinician.post(reverse("notes:new_note", args=[person.pk]), {"kind": "progress"})
    return ClinicalNote.objects.get()


def keep(browser, form, fields, **more):
    return browser.post(
        reverse("accounts:unsaved"),
        json.dumps({"form": form, "fields": fields, **more}),
        content_type="application/json",
    )


def address_of(person):
    return reverse("clients:record", args=[person.pk])


def test_unsaved_text_returns_on_the_same_page_for_the_same_user_only(as_clinician, person, clinic):
    kept = keep(
        as_clinician,
        f"{address_of(person)}#record",
        {"goals": ["To <b>sing</b>", ""]},
        leaving=True,
    )
    assert kept.json() == {"kept": True}
    page = as_clinician.get(address_of(person)).content.decode()
    assert "data-kept" in page
    assert "To \\u003Cb\\u003Esing" in page
    assert (
        "What you typed is saved as a draft. It reappears when you return." in page
    )  # Shown on the next page, whichever it is.
    other = Browser()
    other.force_login(ClinicianFactory(clinic=clinic), "django.contrib.auth.backends.ModelBackend")
    assert "data-kept" not in other.get(address_of(person)).content.decode()


def test_a_form_that_is_taken_forgets_it_and_one_that_is_refused_does_not(as_clinician, person):
    form = f"{address_of(person)}#record"
    keep(as_clinician, form, {"goals": ["To sing", ""]})
    typed = {"name": "", "voice": "bass", "spelling": "sharps", "edition": "1", "unsaved": form}
    assert as_clinician.post(address_of(person), typed).status_code == 200
    assert UnsavedForm.objects.exists()
    assert (
        as_clinician.post(address_of(person), {**typed, "name": "Tamsin Orrell"}).status_code == 302
    )
    assert not UnsavedForm.objects.exists()


HOSTILE = {
    "no JSON": "{",
    "a list": "[]",
    "This is not a form.": '{"fields": {}}',
    "a form of 300 letters": json.dumps({"form": "x" * 300, "fields": {"a": ["b", ""]}}),
    "fields that are a text": '{"form": "f", "fields": "x"}',
    "half a megabyte": json.dumps({"form": "f", "fields": {"a": ["x" * 500_000, ""]}}),
}


@pytest.mark.parametrize("body", HOSTILE.values(), ids=HOSTILE)
def test_an_invalid_form_is_refused_with_a_sentence(as_clinician, body):
    answer = as_clinician.post(reverse("accounts:unsaved"), body, content_type="application/json")
    assert answer.status_code == 422
    assert answer.json()["sentence"]
    assert not UnsavedForm.objects.exists()


def test_odd_fields_are_left_out_and_half_characters_mended(as_clinician):
    body = '{"form": "f", "fields": {"a": ["\\ud800 b", ""], "c": "d", "e": ["1"]}}'
    as_clinician.post(reverse("accounts:unsaved"), body, content_type="application/json")
    assert list(UnsavedForm.objects.get().fields) == ["a"]


def test_clients_and_strangers_keep_nothing(as_client):
    for browser in (as_client, Browser()):
        assert keep(browser, "f", {"a": ["b", ""]}).status_code in (302, 403, 404)
    assert not UnsavedForm.objects.exists()


def test_signing_signs_the_words_on_the_screen(as_clinician, person, draft):
    words = {**draft.words, "course": "Said it feels lighter. <i>Really.</i>"}
    url = reverse("notes:sign_note", args=[person.pk, draft.pk])
    unread = as_clinician.post(url, {**words, "edition": draft.edition})
    assert unread.status_code == 400
    assert "Said it feels lighter. &lt;i&gt;Really.&lt;/i&gt;" in unread.content.decode()
    as_clinician.post(url, {**words, "edition": draft.edition, "read": "yes"})
    draft.refresh_from_db()
    assert draft.signed_at is not None
    assert draft.words == words


def test_signing_a_note_changed_by_a_colleague_shows_both_versions(as_clinician, person, draft):
    url = reverse("notes:sign_note", args=[person.pk, draft.pk])
    mine = {**draft.words, "course": "mine"}
    ClinicalNote.objects.update(
        words={**draft.words, "course": "theirs"}, edition=draft.edition + 1
    )
    page = as_clinician.post(url, {**mine, "edition": draft.edition, "read": "yes"})
    assert page.status_code == 409
    assert "mine" in page.content.decode()
    assert "Their version: theirs" in page.content.decode()
    draft.refresh_from_db()
    assert draft.signed_at is None
