"""Queued jobs of messages."""

from procrastinate.contrib.django import app

from web.screening.jobs import PATIENTLY


@app.task(name="send_message", retry=PATIENTLY)
def send_message(*, message: int) -> None:
    """Mail a message to its client, once."""
    from .sending import send

    send(message)


@app.task(name="send_push", retry=PATIENTLY)
def send_push(*, device: int) -> None:
    """Send a reminder to a device of a client."""
    from .push import send_push

    send_push(device)
