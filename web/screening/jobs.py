"""Jobs that email stop alerts, in a queue of their own that runs first.

The rows say what must be sent (:mod:`web.screening.actions.stop_alerts`). A job only looks for
them, so a lost job leaves no lock behind, and the run of each minute sends what it missed.
"""

from __future__ import annotations

from typing import Any

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

#: Retry a mail server with growing delays for about a day.
PATIENTLY = RetryStrategy(max_attempts=12, exponential_wait=3)
#: Queue of stop alerts, and its priority.
STOPS, FIRST = "stops", 100


@app.task(name="tell_of_stops", queue=STOPS, priority=FIRST)
def alert_of_stops(*, client: int) -> None:
    """Send a client's stop alerts to their recipients as soon as they are due."""
    from web.clients.models import Client

    from .actions.stop_alerts import send_alert_if_due

    found = Client.objects.select_related("clinic").filter(pk=client).first()
    if found is None:  # Erased in the meantime.
        return
    again = send_alert_if_due(found)
    if again is not None:
        alert_of_stops.configure(schedule_at=next_attempt_at(again)).defer(client=client)


def next_attempt_at(due: Any) -> Any:
    """Return when to come by again: when it is due, but not at once where the mail server
    is away."""
    from datetime import timedelta

    from django.utils import timezone

    return max(due, timezone.now() + timedelta(seconds=10))


@app.task(name="tell_of_stop", queue=STOPS, priority=FIRST)
def alert_of_one_stop(*, stop: str) -> None:
    """Send stop alerts queued by the previous version."""
    from .models import Stop

    for row in Stop.objects.filter(pk=stop):
        alert_of_stops(client=row.client_id)


@app.periodic(cron="* * * * *")
@app.task(name="tell_of_all_stops", queue=STOPS, priority=FIRST, queueing_lock="tell_of_all_stops")
def alert_of_all_stops(timestamp: int) -> None:
    """Send all due alerts, and escalate unread or undelivered ones."""
    from .actions.stop_alerts import pass_on_stops, send_due_alerts

    send_due_alerts()
    pass_on_stops()
