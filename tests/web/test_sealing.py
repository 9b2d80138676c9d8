"""Encrypted entries left on a device: stored as they were done, and useless to others."""

import json
from base64 import b64encode

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from reedcore.synthvoice import VoicedPart
from tests.factories import ClientFactory
from tests.sealed import sealed_to
from tests.web.conftest import entry, sitting
from tests.web.test_entries import sound
from web.intake.models import RefusedEntry
from web.intake.opening import EntryNotDecrypted, open_sealed, opened_text
from web.practice.models import DeviceKey
from web.practice.page_token import page_token
from web.practice.sealing import sealing_key
from web.record.models import SelfReport, Trial
from web.screening.models import Stop

MISFIT = "This could not be saved: it does not fit your current programme."
SHUT = "The practice saved on this device could not be opened. Tell your clinic."


def sealed(client, words, recording=b""):
    return sealed_to(sealing_key(client), words, recording)


def send_sealed(device, what, *, to="intake:entries", args=()):
    return device.post(reverse(to, args=args), {"sealed": SimpleUploadedFile("sealed", what)})


def test_a_trial_that_lay_sealed_is_measured_as_any_other(as_client, person, task):
    said = entry(person, "sound", task=task.pk, source="microphone")
    hold = sound(VoicedPart(5.2, 174.6))
    assert send_sealed(as_client, sealed(person, said, hold)).status_code == 200
    trial = Trial.objects.get()
    assert str(trial.key) == said["key"]
    assert trial.total_s == pytest.approx(5.2, abs=0.1)
    # Sent again, as the page itself would have sent it: one try.
    assert send_sealed(as_client, sealed(person, said, hold)).status_code == 200
    assert Trial.objects.count() == 1


def test_words_that_lay_sealed_are_kept(as_client, person, task):
    said = entry(person, "mark", mark="comment", value="drier than usual")
    assert send_sealed(as_client, sealed(person, said)).json()["kept"] is True
    assert SelfReport.objects.get().value == "drier than usual"


@pytest.mark.parametrize("change", ["cut", "turned", "empty", "another’s", "no entry"])
def test_a_seal_that_does_not_open_is_refused_with_a_sentence_and_logged(
    as_client, person, task, change
):
    said = entry(person, "mark", mark="comment", value="x")
    whole = sealed(person, said)
    changed = {
        "cut": whole[:-1],
        "turned": whole[:-1] + bytes([whole[-1] ^ 1]),
        "empty": b"?",
        "another’s": sealed(ClientFactory(clinic=person.clinic), said),
        "no entry": sealed(person, ""),
    }[change]
    response = send_sealed(as_client, changed)
    assert response.status_code == 422
    assert response.json() == {"state": "refused", "sentence": SHUT}
    assert RefusedEntry.objects.get().client == person
    assert not SelfReport.objects.exists()


def test_a_sealed_entry_follows_the_same_rules(as_client, person, task):
    said = entry(person, "mark", mark="comment", value="")
    response = send_sealed(as_client, sealed(person, said))
    assert response.status_code == 422
    assert response.json()["state"] == "refused"
    assert RefusedEntry.objects.get().key == said["key"]


def test_a_refused_seal_opens_only_for_its_owner(as_client, client, person, task):
    kept = sealed(person, {"kind": "sound", "key": "k"}, b"RIFF")
    at = "intake:opened_entry"
    found = send_sealed(as_client, kept, to=at).json()
    assert json.loads(found["entry"]) == {"kind": "sound", "key": "k"}
    assert found["recording"] == b64encode(b"RIFF").decode()
    assert send_sealed(client, kept, to=at).status_code == 401
    assert (
        send_sealed(as_client, sealed(ClientFactory(clinic=person.clinic), {}), to=at).status_code
        == 422
    )


def stop_sealed(client, person, **kept):
    text = json.dumps(kept).encode()
    said = {
        "page": page_token(person, by=person.account),
        "key": "5b0a6b6e-8a9e-4f0e-9c61-0a2cf1a3f001",
        "at": "2026-11-27T08:00:00Z",
        "sealed": b64encode(sealed(person, text.decode())).decode(),
    }
    return client.post(reverse("intake:stop"), said, content_type="application/json")


def test_a_stop_that_lay_sealed_arrives_without_a_sign_in(client, person, task):
    session = sitting(person)["key"]
    answer = stop_sealed(client, person, flags=["new_pain"], comment="left side", session=session)
    assert answer.json().items() >= {"kept": True, "state": "open", "keeps": False}.items()
    stop = Stop.objects.get()
    assert (stop.flags, stop.comment) == (["new_pain"], "left side")


@pytest.mark.parametrize("kept", ["", "[]", '{"flags": []}', "no JSON"])
def test_a_sealed_stop_that_says_nothing_is_kept_for_an_unknown_reason(client, person, task, kept):
    said = {
        "page": page_token(person, by=person.account),
        "key": "x",
        "sealed": b64encode(sealed(person, kept)).decode(),
    }
    answer = client.post(reverse("intake:stop"), said, content_type="application/json")
    assert answer.json().items() >= {"kept": True, "state": "open", "keeps": False}.items()
    assert Stop.objects.get().flags == ["unknown_reason"]


def test_each_client_has_a_key_of_their_own_made_once(person):
    other = ClientFactory(clinic=person.clinic)
    assert sealing_key(person) == sealing_key(person) != sealing_key(other)
    assert DeviceKey.objects.count() == 2
    with pytest.raises(EntryNotDecrypted):
        open_sealed(other, sealed(person, {"kind": "begun"}))
    with pytest.raises(EntryNotDecrypted):
        opened_text(person, "no base64!")


def test_the_page_that_a_device_keeps_names_nobody(as_client, person, task):
    said = {
        "goals": "to sing at Ines's wedding",
        "referrer": "Dr Quayle",
        "occupation": "auctioneer",
    }
    for name, words in said.items():
        setattr(person, name, words)
    person.name, person.born_on = "Wilhelmina Brackenridge", "1961-03-04"
    person.save()
    page = as_client.get(reverse("practice:today")).content.decode()
    for words in ("Wilhelmina", "Brackenridge", "1961", *said.values()):
        assert words not in page


def test_with_the_key_gone_nothing_opens_what_a_lost_device_holds(as_client, person, task):
    kept = sealed(person, entry(person, "begun"))
    DeviceKey.objects.all().delete()
    assert send_sealed(as_client, kept).status_code == 422
