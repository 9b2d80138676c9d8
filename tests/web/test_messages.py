"""Messages, reminders, the digest and unread stops, with fixed clocks."""

import uuid
from datetime import UTC, datetime, timedelta

import pytest
from django.conf import settings
from django.core import mail
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app

from tests.factories import ClientFactory, ClinicianFactory
from tests.jobs import run_jobs
from tests.web.test_board import straw
from tests.web.test_deciding import practise, sat
from web.clients.models import Client
from web.messages.actions import queue_message
from web.messages.models import Message
from web.messages.unsubscribing import off_link
from web.scheduled import digests, reminders
from web.screening.actions import pass_on_stops
from web.screening.models import Stop


@pytest.fixture
def reachable_person(person):
    """The client agreed to email."""
    person.contact, person.contact_detail = Client.Contact.MAIL, "tamsin@saltmarsh.example"
    person.save()
    return person


def morning(days=0, hour=9):
    """Return nine o'clock in Lisbon today, or a number of days from now."""
    day = timezone.now().astimezone() + timedelta(days=days)
    lisbon = day.astimezone(Client(time_zone="Europe/Lisbon").zone)
    return lisbon.replace(hour=hour, minute=20)


def missed_messages():
    return list(Message.objects.filter(kind=Message.Kind.MISSED))


def test_a_missed_day_is_reminded_of_once_in_the_clients_morning(
    reachable_person, clinician, clock
):
    practise(straw(reachable_person, clinician), days=range(9, 1, -1))
    now = morning()
    clock(now.replace(hour=8))
    reminders.remind()
    assert not missed_messages()
    clock(now)
    reminders.remind()
    reminders.remind()
    assert len(missed_messages()) == 1
    assert run_jobs() == ["send_message"]
    (sent,) = mail.outbox
    assert sent.to == ["tamsin@saltmarsh.example"]
    assert (
        "we have not received your practice for yesterday. That happens. A short session counts too. Open your practice link when it suits you, and start with the easiest task."
        in sent.body
    )
    assert "/reminders/off/" in sent.body


def test_the_link_in_it_turns_them_off_after_one_question(reachable_person):
    link = off_link(reachable_person).removeprefix(settings.SITE_URL)
    asked = Browser().get(link).content.decode()
    assert "Turn off reminders?" in asked
    assert "Tamsin" not in asked
    reachable_person.refresh_from_db()
    assert reachable_person.reminders
    before = reachable_person.edition
    assert (
        "You will get no more reminders. To turn them on again, contact"
        in Browser().post(link).content.decode()
    )
    reachable_person.refresh_from_db()
    assert (reachable_person.reminders, reachable_person.edition) == (False, before + 1)


@pytest.mark.parametrize("token", ["x", "MQ:1abc:forged"])
def test_a_link_that_we_did_not_make_turns_nothing_off(reachable_person, token):
    assert Browser().post(f"/reminders/off/{token}/").status_code == 404
    reachable_person.refresh_from_db()
    assert reachable_person.reminders


NOT_REMINDED = {
    "who wants none": {"reminders": False},
    "who agreed to no e-mail": {"contact": Client.Contact.PHONE},
    "whose address is none": {"contact_detail": "not an address"},
    "who is archived": {"archived_at": datetime(2026, 1, 1, tzinfo=UTC)},
}


@pytest.mark.parametrize("who", NOT_REMINDED)
def test_nobody_is_reminded(reachable_person, clinician, clock, who):
    practise(straw(reachable_person, clinician), days=range(9, 1, -1))
    Client.objects.filter(pk=reachable_person.pk).update(**NOT_REMINDED[who])
    clock(morning())
    reminders.remind()
    assert not missed_messages()


def test_a_client_who_practised_yesterday_is_not_reminded(reachable_person, clinician, clock):
    programme = straw(reachable_person, clinician)
    practise(programme, days=range(9, 1, -1))
    clock(morning())
    sat(programme, 1, "y")
    reminders.remind()
    assert not missed_messages()


def test_a_paused_programme_sends_no_reminders(reachable_person, clinician, clock):
    practise(straw(reachable_person, clinician), days=range(9, 1, -1))
    Stop.objects.create(
        key=uuid.uuid4(), client=reachable_person, flags=["new_pain"], tier="no_more_voicing", pauses=True,
        said_at=timezone.now() - timedelta(days=2),
    )  # fmt: skip
    clock(morning())
    reminders.remind()
    assert not missed_messages()


def test_after_three_unheard_reminders_it_is_the_clinicians_turn(
    reachable_person, clinician, clock
):
    practise(straw(reachable_person, clinician), days=range(9, 1, -1))
    for day in range(5):
        clock(morning(day))
        reminders.remind()
    assert len(missed_messages()) == 3


def test_a_message_is_sent_once_however_often_the_job_runs(reachable_person):
    message = queue_message(reachable_person, Message.Kind.CHECK_IN)
    for _ in range(2):
        app.tasks["send_message"].func(message=message.pk)
    assert len(mail.outbox) == 1
    message.refresh_from_db()
    assert message.sent_at is not None


@pytest.fixture
def to_check_in(reachable_person, clinician):
    """Return the form data for accepting this client's proposed check-in."""
    practise(straw(reachable_person, clinician), days=range(14, 4, -1), effort=None)
    task = reachable_person.programmes.get().tasks.get()
    return reverse("decisions:decide", args=[reachable_person.pk]), {
        "task": task.pk,
        "step": "check_in",
    }


def test_a_message_is_shown_before_it_goes(as_clinician, reachable_person, to_check_in):
    url, said = to_check_in
    shown = as_clinician.post(url, said).content.decode()
    assert (
        "how is your practice going? If something makes it hard, or a task does not suit you, call us or tell us at your next visit. We can change it."
        in shown
    )
    assert "tamsin@saltmarsh.example" in shown
    assert not reachable_person.decisions.exists()
    page = as_clinician.post(url, {**said, "message": "send"}, follow=True)
    assert "An email is sent to tamsin@saltmarsh.example" in page.content.decode()
    run_jobs()
    assert (
        "how is your practice going? If something makes it hard, or a task does not suit you, call us or tell us at your next visit. We can change it."
        in mail.outbox[0].body
    )


def test_a_message_can_be_changed_before_it_goes(as_clinician, reachable_person, to_check_in):
    url, said = to_check_in
    text = "Dear Tamsin,\r\n\r\nshall we talk on Friday?"
    as_clinician.post(url, {**said, "message": "send", "text": text})
    run_jobs()
    assert mail.outbox[0].body == "Dear Tamsin,\n\nshall we talk on Friday?"


def test_a_message_that_is_too_long_is_shown_again_and_nothing_is_decided(
    as_clinician, reachable_person, to_check_in
):
    url, said = to_check_in
    page = as_clinician.post(url, {**said, "message": "send", "text": "<b>" + "x" * 4000})
    assert "The message is too long and was not sent." in page.content.decode()
    assert "&lt;b&gt;xxx" in page.content.decode()
    assert not reachable_person.decisions.exists()


def test_an_emptied_message_is_not_sent_in_other_words(as_clinician, reachable_person, to_check_in):
    url, said = to_check_in
    page = as_clinician.post(url, {**said, "message": "send", "text": " \r\n "}).content.decode()
    assert "The message was empty and was not sent." in page
    assert "how is your practice going?" in page
    run_jobs()
    assert mail.outbox == []
    assert not reachable_person.decisions.exists()


def test_a_proposal_can_be_taken_without_its_message(as_clinician, reachable_person, to_check_in):
    url, said = to_check_in
    page = as_clinician.post(url, {**said, "message": "without"}, follow=True)
    assert "No email was sent." in page.content.decode()
    assert reachable_person.decisions.get().accepted
    run_jobs()
    assert mail.outbox == []


def test_side_effects_of_accepting_a_proposal_are_stated(
    as_clinician, reachable_person, to_check_in
):
    results = reverse("results:client", args=[reachable_person.pk])
    assert "sends an email to tamsin@saltmarsh.example, which you see first" in (
        as_clinician.get(results).content.decode()
    )
    reachable_person.contact = ""
    reachable_person.save()
    assert "sends no email, because no address is agreed" in (
        as_clinician.get(results).content.decode()
    )


@pytest.fixture
def unread(person, clinic):
    clinic.lead = ClinicianFactory(clinic=clinic, email="lead@saltmarsh.example")
    clinic.save()

    def said(moment):
        return Stop.objects.create(
            key=uuid.uuid4(), client=person, flags=["new_pain"], tier="no_more_voicing",
            pauses=True, said_at=moment, received_at=moment,
        )  # fmt: skip

    return said


def test_an_unread_stop_goes_to_the_lead_after_a_working_day(unread, clock):
    friday = datetime(2026, 11, 20, 16, 0, tzinfo=UTC)
    stop = unread(friday)
    clock(friday + timedelta(days=2))  # Sunday: the clock does not count.
    pass_on_stops()
    assert not mail.outbox
    clock(datetime(2026, 11, 23, 16, 5, tzinfo=UTC))
    pass_on_stops()
    pass_on_stops()
    (sent,) = mail.outbox
    assert sent.to == ["lead@saltmarsh.example"]
    assert "This alert has not been opened for one working day." in sent.body
    stop.refresh_from_db()
    assert stop.escalated_at is not None


def test_a_read_stop_stays_with_its_reader(as_clinician, unread, person, clock):
    said = timezone.now() - timedelta(minutes=5)
    stop = unread(said)
    as_clinician.get(reverse("results:client", args=[person.pk]))
    stop.refresh_from_db()
    assert stop.read_by is not None
    clock(said + timedelta(days=9))
    pass_on_stops()
    assert not mail.outbox


def test_the_digest_comes_on_monday_morning_once(clinic, clinician, clock):
    clinician.email = "odalys@saltmarsh.example"
    clinician.save()
    mine = ClientFactory(clinic=clinic, name="Mine Inneed", clinician=clinician)
    ClientFactory(clinic=clinic, name="Somebody Elses")
    clock(datetime(2026, 11, 23, 6, 30, tzinfo=UTC))
    unread_stop = Stop(
        key=uuid.uuid4(), client=mine, flags=["new_pain"], tier="no_more_voicing", pauses=True,
        said_at=datetime(2026, 11, 22, 9, 0, tzinfo=UTC),
    )  # fmt: skip
    straw(mine, clinician)
    unread_stop.save()
    due = ClientFactory(clinic=clinic, name="Abel Due", clinician=clinician)
    practise(straw(due, clinician))
    digests.digests()
    assert not mail.outbox
    clock(datetime(2026, 11, 23, 7, 30, tzinfo=UTC))
    digests.digests()
    digests.digests()
    (sent,) = mail.outbox
    assert sent.to == ["odalys@saltmarsh.example"]
    assert "2 of your 2 clients need you" in sent.body
    # The most urgent first, not in alphabetical order.
    assert sent.body.index("Stop: M.I.") < sent.body.index("Decision due: A.D.")
    assert "S.E." not in sent.body
    # Email can be read on its way: names and reasons are only on the board.
    assert not {"Mine", "Abel", "pain", "on target"} & set(sent.body.replace(".", " ").split())


@pytest.mark.django_db(transaction=True)
def test_a_worker_takes_what_stands_in_the_queue(reachable_person):
    message = queue_message(reachable_person, Message.Kind.CHECK_IN)
    with app.replace_connector(app.connector.get_worker_connector()) as worker:
        worker.run_worker(wait=False, install_signal_handlers=False, listen_notify=False)
    message.refresh_from_db()
    assert message.sent_at is not None
    # The worker also runs the jobs due at this time of day, such as the daily test email.
    assert [each.to for each in mail.outbox].count([reachable_person.contact_detail]) == 1
