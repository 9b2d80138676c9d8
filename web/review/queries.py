"""What a clinician looks back on."""

from datetime import datetime, time, timedelta

from django.utils import timezone

from web.practice.queries import trials_seen_by

#: A fortnight of every try still reads as one picture.
WINDOW_DAYS = 14


def window_ending(user, client, until=None):
    """The fortnight up to a day (by default the last practised one): its days and its tries."""
    zone = timezone.get_current_timezone()
    trials = trials_seen_by(user).filter(client=client)
    if until is None:
        newest = trials.order_by("-performed_at").values_list("performed_at", flat=True).first()
        until = timezone.localdate(newest) if newest else timezone.localdate()
    first = until - timedelta(days=WINDOW_DAYS - 1)
    start = datetime.combine(first, time(), zone)
    end = datetime.combine(until + timedelta(days=1), time(), zone)
    shown = trials.filter(performed_at__gte=start, performed_at__lt=end).select_related(
        "task__programme__client"
    )
    return {
        "first": first,
        "until": until,
        "trials": list(shown),
        "earlier": until - timedelta(days=WINDOW_DAYS)
        if trials.filter(performed_at__lt=start).exists()
        else None,
        "later": until + timedelta(days=WINDOW_DAYS)
        if trials.filter(performed_at__gte=end).exists()
        else None,
    }


def all_trials(user, client):
    """Every try of a client, oldest first, ready to be written out."""
    return (
        trials_seen_by(user)
        .filter(client=client)
        .select_related("task__programme__client__clinic")
        .order_by("performed_at", "key")
    )
