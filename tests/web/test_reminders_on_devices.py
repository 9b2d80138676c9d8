"""Reminders on a client's own device: requested there, encrypted for it, and deleted with it."""

import json
from datetime import timedelta

import pytest
from django.core import mail
from django.urls import reverse
from django.utils import timezone

from tests.jobs import run_jobs
from tests.push_service import Device, PushService
from web.messages.models import Message, PushDevice
from web.messages.push import MOST_DEVICES, BadSubscription, add_device, send_push
from web.scheduled import reminders
from web.ui.push_key import new_private_key, public_key


@pytest.fixture
def service():
    made = PushService()
    yield made
    made.close()


@pytest.fixture(autouse=True)
def _site(settings):
    settings.WEB_PUSH_KEY = new_private_key()
    settings.WEB_PUSH_ALLOWS_LOCAL = True


def turn(as_client, body):
    url = reverse("messages:device")
    return as_client.post(url, json.dumps(body), content_type="application/json")


def turn_on(as_client, device):
    return turn(as_client, {"subscription": device.subscription})


@pytest.fixture
def missed_yesterday(person, monkeypatch):
    """Yesterday's session was missed, and it is morning for the client."""
    monkeypatch.setattr(reminders, "missed_days", lambda *_: 1)
    monkeypatch.setattr(reminders, "has_practised_on", lambda *_: False)
    monkeypatch.setattr(reminders, "MORNING", timezone.now().astimezone(person.zone).hour)


def test_a_reminder_reaches_the_device_encrypted_signed_and_without_a_name(
    as_client, person, service, missed_yesterday
):
    device = Device(service, "phone")
    assert turn_on(as_client, device).status_code == 200
    reminders.remind()
    run_jobs()
    ((name, headers, body),) = service.taken
    assert name == "phone"
    assert b"practice" not in body
    said = device.read(body)
    assert said["title"] == "Still Reed practice"
    assert said["url"] == reverse("practice:today")
    assert person.name not in json.dumps(said)
    assert headers["authorization"].startswith("vapid t=")
    assert public_key() in headers["authorization"]
    assert PushDevice.objects.get().reached_at is not None
    assert mail.outbox == []


def test_there_is_one_reminder_a_day_for_all_devices(as_client, person, service, missed_yesterday):
    for name in ("phone", "tablet"):
        turn_on(as_client, Device(service, name))
    reminders.remind()
    reminders.remind()
    run_jobs()
    assert sorted(name for name, _, _ in service.taken) == ["phone", "tablet"]
    assert Message.objects.count() == 1


def test_a_device_that_its_service_has_forgotten_is_forgotten(as_client, service):
    turn_on(as_client, Device(service, "phone"))
    service.status = 410
    send_push(PushDevice.objects.get().pk)
    assert not PushDevice.objects.exists()


def test_a_service_that_is_down_is_tried_again(as_client, service):
    from pywebpush import WebPushException

    turn_on(as_client, Device(service, "phone"))
    service.status = 503
    with pytest.raises(WebPushException):
        send_push(PushDevice.objects.get().pk)
    assert PushDevice.objects.exists()


def test_turned_off_it_is_gone_and_twice_on_is_once(as_client, service):
    device = Device(service, "phone")
    turn_on(as_client, device)
    turn_on(as_client, device)
    assert PushDevice.objects.count() == 1
    turn(as_client, {"off": True, "endpoint": device.endpoint})
    assert not PushDevice.objects.exists()


def test_with_its_link_closed_a_device_gets_no_reminder(
    as_client, as_clinician, person, service, missed_yesterday
):
    turn_on(as_client, Device(service, "phone"))
    as_clinician.post(reverse("clients:practice_link", args=[person.pk]), {"revoke": ""})
    reminders.remind()
    run_jobs()
    assert service.taken == []


def test_the_oldest_of_many_devices_makes_room(person, service):
    for number in range(MOST_DEVICES + 2):
        add_device(person, person.account, Device(service, f"d{number}").subscription)
    names = person.push_devices.values_list("endpoint", flat=True)
    assert sorted(name[-2:] for name in names) == ["d2", "d3", "d4", "d5", "d6"]


@pytest.mark.parametrize(
    "address",
    [
        "http://push.example/x",
        "https://127.0.0.1/x",
        "https://localhost:5432/",
        "https://[::1]/x",
        "https://10.0.0.8/x",
        "https://169.254.169.254/latest",
        "https://user@127.0.0.1/x",
        "file:///etc/passwd",
        "nonsense",
    ],
)
def test_an_address_of_the_clinics_own_network_is_refused(person, service, settings, address):
    settings.WEB_PUSH_ALLOWS_LOCAL = False
    subscription = Device(service, "phone").subscription | {"endpoint": address}
    with pytest.raises(BadSubscription):
        add_device(person, person.account, subscription)


@pytest.mark.parametrize("body", [[], {}, {"subscription": 3}, {"subscription": {"endpoint": "x"}}])
def test_an_invalid_subscription_is_refused_with_a_sentence(as_client, body):
    answer = turn(as_client, body)
    assert answer.status_code == 400
    assert "could not be turned on" in answer.json()["sentence"]


def test_without_a_key_none_are_offered(as_client, person, service, settings, task):
    page = as_client.get(reverse("practice:today")).content.decode()
    assert f'data-push-key="{public_key()}"' in page
    settings.WEB_PUSH_KEY = ""
    assert 'data-push-key=""' in as_client.get(reverse("practice:today")).content.decode()
    assert turn_on(as_client, Device(service, "phone")).status_code == 400


def test_no_reminder_without_a_missed_day(as_client, person, service, monkeypatch):
    monkeypatch.setattr(reminders, "MORNING", timezone.now().astimezone(person.zone).hour)
    turn_on(as_client, Device(service, "phone"))
    reminders.remind()
    run_jobs()
    assert service.taken == []
    assert not Message.objects.filter(written_at__gt=timezone.now() - timedelta(days=1)).exists()
