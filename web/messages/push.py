"""Reminders on a client's own device: Web Push (RFC 8030, 8291 and 8292).

A reminder says that there is practice, and nothing of the person: it is seen on a locked screen.
"""

from __future__ import annotations

import socket
from ipaddress import ip_address
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import jsonschema
import orjson
from django.conf import settings
from django.db import transaction
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext
from procrastinate.contrib.django import app

from .models import PushDevice

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.clients.models import Client

#: Devices of one client; the oldest makes room.
MOST_DEVICES = 5
#: A reminder that could not be delivered for so long is of no more use, seconds.
TTL_S = 12 * 3600
TIMEOUT_S = 10
#: Answers of a push service: the subscription is gone.
GONE = (404, 410)
SUBSCRIPTION = {
    "type": "object",
    "properties": {
        "endpoint": {"type": "string", "minLength": 1, "maxLength": 1000},
        "keys": {
            "type": "object",
            "properties": {
                "p256dh": {"type": "string", "minLength": 1, "maxLength": 200},
                "auth": {"type": "string", "minLength": 1, "maxLength": 100},
            },
            "required": ["p256dh", "auth"],
        },
    },
    "required": ["endpoint", "keys"],
}


class BadSubscription(Exception):
    """The subscription is invalid, or its address is not a push service's."""


def is_offered() -> bool:
    """Return whether this site can send reminders to devices."""
    return bool(settings.WEB_PUSH_KEY)


def add_device(client: Client, account: User, subscription: Any) -> PushDevice:
    """Store a device that wants reminders, once however often it says so.

    Raises:
        BadSubscription: of another shape, or not at a public https address.
    """
    try:
        jsonschema.validate(subscription, SUBSCRIPTION)
    except jsonschema.ValidationError as error:
        raise BadSubscription from error
    endpoint, keys = subscription["endpoint"], subscription["keys"]
    if not _is_public(endpoint):
        raise BadSubscription
    with transaction.atomic():
        device, _ = PushDevice.objects.update_or_create(
            endpoint=endpoint,
            defaults={
                "client": client,
                "account": account,
                "p256dh": keys["p256dh"],
                "auth": keys["auth"],
            },
        )
        newest = client.push_devices.order_by("-added_at", "-pk").values("pk")[:MOST_DEVICES]
        client.push_devices.exclude(pk__in=list(newest.values_list("pk", flat=True))).delete()
    return device


def remove_device(client: Client, endpoint: str) -> None:
    """Forget a device."""
    client.push_devices.filter(endpoint=endpoint).delete()


def queue_pushes(client: Client) -> None:
    """Queue a reminder for each of a client's devices."""
    for device in client.push_devices.reachable():
        app.configure_task("send_push").defer(device=device.pk)


def send_push(device_pk: int) -> None:
    """Send a reminder to one device; a device that its service does not know any more is forgotten.

    Raises:
        pywebpush.WebPushException: the service refused it, or did not answer; to be tried again.
    """
    from pywebpush import WebPushException, webpush

    device = PushDevice.objects.filter(pk=device_pk).first()
    if device is None or not is_offered() or not _is_public(device.endpoint):
        return
    text = {
        "title": gettext("Still Reed practice"),
        "body": gettext("A short session counts too. Open your practice when it suits you."),
        "url": reverse("practice:today"),
    }
    try:
        webpush(
            {"endpoint": device.endpoint, "keys": {"p256dh": device.p256dh, "auth": device.auth}},
            orjson.dumps(text).decode(),
            vapid_private_key=settings.WEB_PUSH_KEY,
            vapid_claims={"sub": settings.WEB_PUSH_CONTACT},
            ttl=TTL_S,
            timeout=TIMEOUT_S,
        )
    except WebPushException as error:
        if error.response is None or error.response.status_code not in GONE:
            raise
        device.delete()
        return
    PushDevice.objects.filter(pk=device.pk).update(reached_at=timezone.now())


def _is_public(address: str) -> bool:
    """Return whether an address is https and leads to no machine of the clinic's own network."""
    parts = urlsplit(address)
    if settings.WEB_PUSH_ALLOWS_LOCAL:
        return parts.scheme in ("http", "https") and bool(parts.hostname)
    if parts.scheme != "https" or not parts.hostname or "@" in parts.netloc:
        return False
    try:
        found = socket.getaddrinfo(parts.hostname, parts.port or 443, proto=socket.IPPROTO_TCP)
    except (OSError, ValueError):
        return False
    return all(ip_address(entry[4][0]).is_global for entry in found)
