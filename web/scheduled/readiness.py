"""Whether the site can do its work now: what a supervisor and a balancer ask."""

import shutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import timedelta

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.db.models import Q
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker

from web.clients.models import Stop
from web.messages.models import Message

#: A job that should have been done this long ago, and a worker silent for this long.
QUEUE_LATE, WORKER_SILENT = timedelta(minutes=10), timedelta(seconds=60)
MAIL_LATE = timedelta(hours=1)
#: Less free than this, and recordings on their way may not fit.
LEAST_FREE_BYTES = 2 * 1024**3


@dataclass(frozen=True)
class Finding:
    """One thing that was looked at.

    Attributes:
        stands: whether the site may serve; what does not stand is in ``words``.
    """

    name: str
    stands: bool
    words: str


def findings() -> list[Finding]:
    """All of them; where the database is away the rest cannot be told, and is left out."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return [Finding("database", False, "does not answer"), _disk()]
    return [Finding("database", True, "answers"), *(look() for look in _LOOKS)]


def _migrations() -> Finding:
    executor = MigrationExecutor(connection)
    missing = executor.migration_plan(executor.loader.graph.leaf_nodes())
    words = f"{len(missing)} are to be applied: manage.py migrate" if missing else "all applied"
    return Finding("migrations", not missing, words)


def late_jobs():
    """Those that should have been done by now."""
    waiting = ProcrastinateJob.objects.filter(status="todo")
    before = timezone.now() - QUEUE_LATE
    return waiting.filter(
        Q(scheduled_at__lt=before) | Q(scheduled_at=None, procrastinateevent__at__lt=before)
    ).distinct()


def _queue() -> Finding:
    late = late_jobs().count()
    return Finding(
        "queue", not late, f"{late} jobs are over ten minutes late" if late else "on time"
    )


def newest_heartbeat():
    """When a worker last said that it lives; None where none is known."""
    newest = ProcrastinateWorker.objects.order_by("-last_heartbeat").first()
    return newest.last_heartbeat if newest else None


def _worker() -> Finding:
    newest = newest_heartbeat()
    if newest is None or timezone.now() - newest > WORKER_SILENT:
        return Finding("worker", False, "none is alive: nobody is told of a stop by mail")
    return Finding("worker", True, "alive")


def _mail() -> Finding:
    backend = settings.EMAIL_BACKEND.rsplit(".", 1)[-1]
    late = Message.objects.filter(sent_at=None, written_at__lt=timezone.now() - MAIL_LATE).count()
    untold = Stop.objects.filter(tells=True, delivered_at=None).exclude(trouble="").count()
    if untold:
        return Finding("mail", False, f"{untold} stops could not be told of by mail")
    return Finding("mail", True, f"{late} mails wait for over an hour" if late else backend)


def _disk() -> Finding:
    free = shutil.disk_usage(settings.ROOT).free
    return Finding("disk", free >= LEAST_FREE_BYTES, f"{free / 1024**3:.1f} GB free")


_LOOKS: tuple[Callable[[], Finding], ...] = (_migrations, _queue, _worker, _mail, _disk)


def figures() -> Iterator[tuple[str, str, float]]:
    """(name, help, value) of what the database alone can tell, for the metrics."""
    newest = newest_heartbeat()
    silent = (timezone.now() - newest).total_seconds() if newest else float("nan")
    yield "worker_silent_seconds", "Since a worker last said that it lives.", silent
    todo = ProcrastinateJob.objects.filter(status="todo").count()
    yield "jobs_waiting", "Jobs in the queue, those for later too.", todo
    yield "jobs_late", "Jobs that should have been done ten minutes ago.", late_jobs().count()
    unread = Stop.objects.filter(tells=True, read_at=None, cleared_at=None).count()
    yield "stops_unread", "Stops that nobody has read.", unread
