"""Wording for children: from the record to the draft, the device and the handout."""

from datetime import timedelta

import pytest
from django.utils import timezone

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER
from tests.factories import item, simple_document
from tests.web.test_composer import send, type_edit, url_of
from web.practice.plan import session_plan
from web.programmes.actions import publish_document
from web.programmes.models import Draft

SNAKE = "“Sss”, thin, like a small snake."


@pytest.fixture
def child(person):
    person.born_on = timezone.localdate() - timedelta(days=10 * 366)
    person.grown_up = "Jory Orrell, father"
    person.save()
    return person


def test_a_draft_begins_in_the_words_for_the_clients_age(as_clinician, child):
    page = as_clinician.get(url_of(child), {"seen": "-1"}).json()["stage"]
    assert '<option value="child" selected>for children</option>' in " ".join(page.split())
    answer = send(as_clinician, child, {"do": "start", "code": "block"})
    assert answer.json()["not_made"] == []
    assert Draft.objects.get(client=child).document["wording"] == CHILD
    send(as_clinician, child, type_edit("", "wording", TEENAGER), first=2)
    assert Draft.objects.get(client=child).document["wording"] == TEENAGER


def test_device_and_handout_tell_it_as_the_version_says(as_clinician, child, clinician):
    document = simple_document(item("steady_hiss"), wording=CHILD)
    made = publish_document(child, document, by=clinician)
    assert SNAKE in str(session_plan(made, client=child))
    assert SNAKE in as_clinician.get(f"/clients/{child.pk}/programmes/1/handout/").content.decode()
    made = publish_document(child, document | {"wording": ADULT}, by=clinician)
    assert SNAKE not in str(session_plan(made, client=child))
    page = as_clinician.get(f"/clients/{child.pk}/programmes/").content.decode()
    assert "wording: for children → for adults" in page


def test_a_programme_of_before_is_worded_for_adults(child, clinician):
    document = simple_document(item("steady_hiss"))
    document.pop("wording", None)
    assert SNAKE not in str(
        session_plan(publish_document(child, document, by=clinician), client=child)
    )


def test_without_a_date_of_birth_the_age_band_speaks(person):
    today = timezone.localdate()
    assert person.wording(on=today) == ADULT
    person.age_band = "under-18"
    assert person.wording(on=today) == TEENAGER
    person.age_band = "under-13"
    assert person.wording(on=today) == CHILD
