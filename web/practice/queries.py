"""What was practised, and what is left for today."""

from datetime import datetime, time, timedelta

from django.utils import timezone

from web.programmes.models import PrescribedTask

from .models import Trial


def tries_today(task: PrescribedTask):
    """Today's tries at a task, by the clinic's clock, oldest first, with their traces."""
    zone = timezone.get_current_timezone()
    midnight = datetime.combine(timezone.localdate(), time(), zone)
    return (
        task.trials.filter(
            performed_at__gte=midnight, performed_at__lt=midnight + timedelta(days=1)
        )
        .select_related("trace", "task")
        .order_by("performed_at", "key")
    )


def trials_seen_by(user):
    """Every try of the clients this person may see."""
    return Trial.objects.filter(client__in=user.visible_clients())
