"""Messages between the clinician and the client about practice."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import prescribe
from tests.web.conftest import entry
from tests.web.conftest import send as send_entry
from web.exports.rows import session_rows
from web.record.conversation import message_for_client, waiting_words, write_message
from web.record.models import PracticeMessage, SelfReport


@pytest.fixture
def task(person, clinician):
    return prescribe(person, by=clinician)


def results(as_clinician, person):
    return as_clinician.get(reverse("results:client", args=[person.pk])).content.decode()


def board(as_clinician):
    return as_clinician.get(reverse("decisions:board")).content.decode()


def send_message(as_clinician, person, text):
    url = reverse("results:write_message", args=[person.pk])
    return as_clinician.post(url, {"text": text}, follow=True).content.decode()


def answer(as_client, person, message, words):
    said = entry(person, "mark", mark="answer", value={"message": message.pk, "words": words})
    assert send_entry(as_client, said).status_code == 200


def progress(as_client):
    return as_client.get(reverse("practice:progress")).json()


def test_a_message_reaches_the_client_and_the_answer_board_and_results(
    as_clinician, as_client, person, task
):
    page = send_message(as_clinician, person, "Softer <b>starts</b> this week.")
    assert "The message is saved." in page
    assert "Softer &lt;b&gt;starts&lt;/b&gt; this week." in page
    message = progress(as_client)["message"]
    assert (message["text"], message["by"], message["is_answered"]) == (
        "Softer <b>starts</b> this week.", "Odalys Brandt", False,
    )  # fmt: skip
    assert (
        "Softer &lt;b&gt;starts" in as_client.get(reverse("practice:my_practice")).content.decode()
    )
    answer(as_client, person, PracticeMessage.objects.get(), "It goes <i>better</i>.")
    assert progress(as_client)["message"]["is_answered"]
    assert "It goes &lt;i&gt;better&lt;/i&gt;." in results(as_clinician, person)
    assert "Wrote: “It goes &lt;i&gt;better&lt;/i&gt;.”" in board(as_clinician)
    assert session_rows(person)[0].comments == "It goes <i>better</i>."


def test_a_message_after_the_clients_words_takes_them_off_the_board(
    as_clinician, as_client, person, task
):
    said = entry(person, "mark", mark="comment", value="The straw broke.")
    send_entry(as_client, said)
    assert "Wrote: “The straw broke.”" in board(as_clinician)
    send_message(as_clinician, person, "Take a new one.")
    assert "Wrote:" not in board(as_clinician)
    assert "The straw broke." in results(as_clinician, person)


def test_old_messages_and_old_words_are_not_shown_any_more(as_client, person, clinician, task):
    message = write_message(person, "Well held.", by=clinician)
    said = entry(person, "mark", mark="comment", value="Dry today.")
    send_entry(as_client, said)
    now = timezone.now()
    assert message_for_client(person, now=now) == message
    assert message_for_client(person, now=now + timedelta(days=29)) is None
    assert waiting_words([person], now=now)[person.pk].text == "Dry today."
    assert waiting_words([person], now=now + timedelta(days=15)) == {}


@pytest.mark.parametrize(
    ("text", "says"), [("", "Write the message first."), ("x" * 301, "at most 300 characters")]
)
def test_a_message_that_cannot_be_saved_says_why(as_clinician, person, task, text, says):
    assert says in send_message(as_clinician, person, text)
    assert not PracticeMessage.objects.exists()


@pytest.mark.parametrize("value", ["words", {"message": 1}, {"message": 1, "words": ""}])
def test_an_answer_of_another_shape_is_refused(as_client, person, task, value):
    said = entry(person, "mark", mark="answer", value=value)
    assert send_entry(as_client, said).status_code == 422
    assert not SelfReport.objects.exists()


def test_a_microphone_check_is_kept_and_stands_on_the_results(
    as_clinician, as_client, person, task
):
    value = {"room_dbfs": -62, "voice_dbfs": -27, "clipped": False, "processed": True}
    said = entry(person, "mark", mark="microphone", value=value)
    assert send_entry(as_client, said).status_code == 200
    page = results(as_clinician, person)
    assert "voice 35 dB above the room." in page
    assert "The device changes the sound." in page
    assert "The sound was too strong." not in page
    wrong = entry(person, "mark", mark="microphone", value={**value, "room_dbfs": 12})
    assert send_entry(as_client, wrong).status_code == 422
