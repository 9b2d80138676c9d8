"""Queued jobs of messages."""

from procrastinate.contrib.django import app

from web.screening.jobs import PATIENTLY


@app.task(name="send_message", retry=PATIENTLY)
def send_message(*, message: int) -> None:
    """Mail a message to its client, once."""
    from .sending import send

    send(message)
