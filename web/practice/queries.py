"""What was practised, and what is left for today."""

from collections.abc import Iterable
from datetime import datetime, time, timedelta

from django.utils import timezone

from reedcore.devices.levels import energetic_mean_db
from web.programmes.models import PrescribedTask

from .models import Mark, Session, Trial

#: Once a week it is asked how much the voice got in the way.
BOTHER_EVERY = timedelta(days=7)
#: So many vowels make the reference of a device.
REFERENCE_VOWELS = 3


def tries_today(tasks: Iterable[PrescribedTask]) -> dict[int, list[Trial]]:
    """Today's tries by the clinic's clock, by their task's key: oldest first, with their traces."""
    zone = timezone.get_current_timezone()
    midnight = datetime.combine(timezone.localdate(), time(), zone)
    by_key = {task.pk: task for task in tasks}
    found: dict[int, list[Trial]] = {key: [] for key in by_key}
    today = Trial.objects.filter(
        task__in=by_key,
        performed_at__gte=midnight,
        performed_at__lt=midnight + timedelta(days=1),
    )
    for trial in today.select_related("trace").order_by("performed_at", "key"):
        trial.task = by_key[trial.task_id]  # its programme and client are known already
        found[trial.task_id].append(trial)
    return found


def trials_seen_by(user):
    """Every try of the clients this person may see."""
    return Trial.objects.filter(client__in=user.visible_clients())


def vowels_on(client, capture: dict):
    """The comfortable vowels whose level was measured on the device and browser of a take."""
    return client.reference_vowels.filter(
        device=capture.get("device", ""),
        browser=capture.get("browser", ""),
        level_dbfs__isnull=False,
    )


def reference_dbfs(client, capture: dict) -> float | None:
    """The energetic mean of a device's first three comfortable vowels; None before there are so
    many, for then nothing can be judged against them."""
    first = list(vowels_on(client, capture).values_list("level_dbfs", flat=True)[:REFERENCE_VOWELS])
    if len(first) < REFERENCE_VOWELS:
        return None
    return energetic_mean_db(first)


def asks_bother(client, *, now) -> bool:
    """Whether a week has gone since it was asked how much the voice got in the way."""
    asked = client.marks.filter(kind=Mark.Kind.BOTHER, said_at__gt=now - BOTHER_EVERY)
    return not asked.exists()


def session_of(client, key) -> Session | None:
    """That session of this client."""
    return client.sessions.filter(pk=key).first()
