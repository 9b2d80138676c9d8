"""A device's receipts restore their entries exactly and once, and nothing else."""

import pytest

from reedcore.synthvoice import VoicedPart
from tests.factories import ClientFactory
from tests.web.conftest import entry, send, sitting
from tests.web.test_entries import sound
from tests.web.test_sealing import MISFIT, sealed, send_sealed
from web.intake.models import RefusedEntry
from web.intake.receipts import NoReceipt, put_back, receipt
from web.keeping.epoch import begin_epoch, epoch
from web.record.models import SelfReport, Session, Trace, Trial
from web.screening.models import Stop

pytestmark = pytest.mark.django_db


def offer_receipt(device, person, answer):
    """Send a device's receipt after a restore."""
    return send_sealed(device, sealed(person, {"receipt": answer.json()["receipt"]}))


def lost():
    """Delete the rows that a restore to before the session would lack."""
    Trace.objects.all().delete()
    for model in (Trial, SelfReport, Session):
        model.objects.all()._raw_delete("default")


def figures(trial):
    row = Trial.objects.filter(pk=trial.pk).values().get()
    return row, bytes(Trace.objects.get(trial=trial).packed)


def test_a_measured_hold_comes_back_to_the_last_figure_without_its_sound(as_client, person, task):
    said = entry(person, "sound", task=task.pk, source="microphone")
    answer = send(as_client, said, recording=sound(VoicedPart(5.2, 174.6)))
    before = figures(Trial.objects.get())
    lost()
    again = offer_receipt(as_client, person, answer)
    assert (again.status_code, again.json()["kept"]) == (200, True)
    assert figures(Trial.objects.get()) == before
    assert again.json()["receipt"] == answer.json()["receipt"]
    assert offer_receipt(as_client, person, answer).status_code == 200
    assert (Trial.objects.count(), Session.objects.count()) == (1, 1)


def test_the_whole_of_a_session_comes_back_in_any_order(as_client, person, task):
    session = sitting(person)
    kinds = [
        ("begun", {}),
        ("timed", {"task": task.pk, "seconds": 4.0}),
        ("mark", {"mark": "effort", "value": 3}),
        ("ended", {"ending": "done", "done": 1}),
    ]
    answers = [send(as_client, entry(person, kind, session, **more)) for kind, more in kinds]
    before = Session.objects.values().get(), SelfReport.objects.values().get()
    lost()
    for answer in reversed(answers):
        assert offer_receipt(as_client, person, answer).status_code == 200
    assert (Session.objects.values().get(), SelfReport.objects.values().get()) == before
    assert Trial.objects.get().total_s == 4.0


@pytest.mark.parametrize("order", [1, -1])
def test_a_trial_that_was_set_aside_is_so_again(as_client, person, task, order):
    session = sitting(person)
    timed = entry(person, "timed", session, task=task.pk, seconds=4.0)
    aside = {"mark": "set_aside", "value": {"trial": timed["key"], "why": "not_my_voice"}}
    answers = [send(as_client, each) for each in (timed, entry(person, "mark", session, **aside))]
    assert Trial.objects.get().set_aside == "not_my_voice"
    lost()
    for answer in answers[::order]:
        offer_receipt(as_client, person, answer)
    assert Trial.objects.get().set_aside == "not_my_voice"


def test_an_end_that_came_after_the_backup_ends_its_session(as_client, person, task):
    session = sitting(person)
    send(as_client, entry(person, "begun", session))
    answer = send(as_client, entry(person, "ended", session, ending="left", done=0))
    Session.objects.update(ended_at=None, end_received_at=None, ending="")
    assert offer_receipt(as_client, person, answer).status_code == 200
    assert Session.objects.get().ending == "left"


def test_words_about_a_stop_find_it_again(as_client, person, task):
    session = sitting(person)
    send(as_client, entry(person, "stop", session, flags=["strain"]))
    answer = send(
        as_client, entry(person, "mark", session, mark="comment", value="on the last one")
    )
    SelfReport.objects.all().delete()
    Stop.objects.update(comment="")
    offer_receipt(as_client, person, answer)
    assert "on the last one" in Stop.objects.get().comment


def test_a_receipt_holds_for_its_record_and_its_programme_alone(as_client, person, task):
    answer = send(as_client, entry(person, "timed", task=task.pk, seconds=4.0))
    given = answer.json()["receipt"]
    with pytest.raises(NoReceipt):
        put_back(ClientFactory(clinic=person.clinic), given)
    with pytest.raises(NoReceipt):
        put_back(person, given[:-2])
    # After a restore, another version has taken the number.
    lost()
    task.programme.__class__.objects.filter(pk=task.programme_id).update(
        published_at=task.programme.published_at.replace(year=2020)
    )
    refused = offer_receipt(as_client, person, answer)
    assert (refused.status_code, refused.json()["sentence"]) == (422, MISFIT)
    assert RefusedEntry.objects.get().reason.startswith("after a restore")
    assert not Trial.objects.exists()


def test_a_receipt_for_nothing_puts_nothing_back(person):
    assert put_back(person, receipt(person)) is False


def test_each_answer_says_which_epoch_it_is_of(as_client, person, task):
    first = send(as_client, entry(person, "begun")).json()["epoch"]
    assert first == str(epoch().pk)
    assert f'data-epoch="{first}"' in as_client.get("/practice/").content.decode()
    begin_epoch(person.created_at)
    assert send(as_client, entry(person, "begun")).json()["epoch"] != first
