"""Readiness of the site, for a supervisor or a load balancer."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.db.models import Min, Q, QuerySet
from django.db.models.functions import Coalesce
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker

from web.decisions.staleness import missing_triggers
from web.keeping import journal
from web.messages.models import Message
from web.screening.models import Stop

from .models import JobRun

#: Report a job that is overdue by this much, and a worker that is silent for this long.
QUEUE_LATE, WORKER_SILENT = timedelta(minutes=10), timedelta(seconds=60)
MAIL_LATE = timedelta(hours=1)
#: One test email a day, plus two hours for a worker that was away.
MAILED_EVERY = timedelta(hours=26)
#: With less free space, uploads may not fit.
LEAST_FREE_BYTES = 2 * 1024**3


@dataclass(frozen=True)
class SiteCheck:
    """The outcome of one check.

    Attributes:
        is_ready: whether the site may serve; what does not stand is in ``words``.
        has_warning: the site may serve, but the administrator should act.
    """

    name: str
    is_ready: bool
    words: str
    has_warning: bool = False


def findings() -> list[SiteCheck]:
    """Return all findings; without the database, only those that need none."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return [SiteCheck("database", False, "no answer"), *_disks()]
    return [SiteCheck("database", True, "answers"), *(look() for look in _LOOKS), *_disks()]


def _migrations() -> SiteCheck:
    executor = MigrationExecutor(connection)
    missing = executor.migration_plan(executor.loader.graph.leaf_nodes())
    words = f"{len(missing)} not applied: run still-reed migrate" if missing else "all applied"
    return SiteCheck("migrations", not missing, words)


def _board() -> SiteCheck:
    missing = missing_triggers()
    if missing:
        words = f"{len(missing)} triggers are missing, so changes do not reach it: {missing[0]}"
        return SiteCheck("board", True, words, has_warning=True)
    return SiteCheck("board", True, "follows every change")


def late_jobs() -> QuerySet[Any]:
    """Return those that should have been done by now."""
    waiting = ProcrastinateJob.objects.filter(status="todo")
    before = timezone.now() - QUEUE_LATE
    return waiting.filter(
        Q(scheduled_at__lt=before) | Q(scheduled_at=None, procrastinateevent__at__lt=before)
    ).distinct()


def _queue() -> SiteCheck:
    late = late_jobs().count()
    return SiteCheck(
        "queue", not late, f"{late} jobs are more than 10 minutes late" if late else "on time"
    )


def newest_heartbeat() -> datetime | None:
    """Return the time of the newest worker heartbeat; None if unknown."""
    newest = ProcrastinateWorker.objects.order_by("-last_heartbeat").first()
    return newest.last_heartbeat if newest else None


def _worker() -> SiteCheck:
    newest = newest_heartbeat()
    if newest is None or timezone.now() - newest > WORKER_SILENT:
        return SiteCheck("worker", False, "no worker is running: stop alerts are not emailed")
    return SiteCheck("worker", True, "alive")


def _mail() -> SiteCheck:
    backend = settings.EMAIL_BACKEND.rsplit(".", 1)[-1]
    late = Message.objects.filter(sent_at=None, written_at__lt=timezone.now() - MAIL_LATE).count()
    untold = (
        Stop.objects.filter(needs_alert=True, delivered_at=None)
        .exclude(delivery_problem="")
        .count()
    )
    if untold:
        return SiteCheck("mail", False, f"{untold} stop alerts could not be emailed")
    return SiteCheck(
        "mail", True, f"{late} emails have waited for over an hour" if late else backend
    )


def _disks() -> list[SiteCheck]:
    return [
        _disk("disk", settings.ROOT),
        *([_disk("database disk", settings.DATABASE_DISK)] if settings.DATABASE_DISK else []),
    ]


def _disk(name: str, path: Any) -> SiteCheck:
    try:
        free = shutil.disk_usage(path).free
    except OSError:
        return SiteCheck(name, True, f"{path} cannot be checked", has_warning=True)
    return SiteCheck(name, free >= LEAST_FREE_BYTES, f"{free / 1024**3:.1f} GB free")


def last_run(job: JobRun.Job, *, has_succeeded: bool = True) -> JobRun | None:
    """Return the newest run; None if there was none."""
    return JobRun.objects.filter(job=job, succeeded=has_succeeded).first()


def _check_runs(name: str, job: JobRun.Job, *, every: timedelta, missing: str) -> SiteCheck:
    """Return whether something that is done again and again was done in time."""
    newest = JobRun.objects.filter(job=job).first()
    if newest is not None and not newest.succeeded:
        return SiteCheck(name, True, f"the last one failed: {newest.message}", has_warning=True)
    if newest is None or timezone.now() - newest.finished_at > every:
        since = f"none since {newest.finished_at:%Y-%m-%d %H:%M} UTC" if newest else missing
        return SiteCheck(name, True, since, has_warning=True)
    return SiteCheck(name, True, f"{newest.finished_at:%Y-%m-%d %H:%M} UTC")


def _backup() -> SiteCheck:
    if not settings.BACKUP_EVERY_H:
        return SiteCheck("backup", True, "made by other means, as BACKUP_EVERY_H says")
    every = timedelta(hours=settings.BACKUP_EVERY_H)
    return _check_runs("backup", JobRun.Job.BACKUP, every=every, missing="no backup yet")


def _mail_to_ourselves() -> SiteCheck:
    missing = "no test email yet: run still-reed check --mail"
    return _check_runs("mail heartbeat", JobRun.Job.MAIL, every=MAILED_EVERY, missing=missing)


def failed_jobs() -> QuerySet[Any]:
    """Return those that were given up within the last week."""
    since = timezone.now() - timedelta(days=7)
    failed = ProcrastinateJob.objects.filter(status="failed")
    return failed.filter(procrastinateevent__at__gt=since).distinct()


def _jobs() -> SiteCheck:
    count = failed_jobs().count()
    return SiteCheck("jobs", True, f"{count} failed in the last 7 days" if count else "none failed",
                   has_warning=bool(count))  # fmt: skip


def _journal() -> SiteCheck:
    trouble = journal.trouble()
    return SiteCheck("journal", True, trouble or "writable", has_warning=bool(trouble))


_LOOKS: tuple[Callable[[], SiteCheck], ...] = (
    _migrations, _board, _queue, _worker, _mail, _jobs, _backup, _mail_to_ourselves, _journal,
)  # fmt: skip


def _age_s(at: datetime | None) -> float:
    """Return the seconds since then; NaN if it never happened."""
    return (timezone.now() - at).total_seconds() if at else float("nan")


def figures() -> Iterator[tuple[str, str, float]]:
    """Return (name, help, value) of figures from the database, for the metrics."""
    yield (
        "worker_silent_seconds",
        "Since a worker last said that it lives.",
        _age_s(newest_heartbeat()),
    )
    todo = ProcrastinateJob.objects.filter(status="todo")
    yield "jobs_waiting", "Jobs in the queue, those for later too.", todo.count()
    yield "jobs_late", "Jobs that should have been done ten minutes ago.", late_jobs().count()
    yield "jobs_failed", "Jobs that were given up within a week.", failed_jobs().count()
    yield "queue_age_seconds", "How long the job has waited that is due longest.", _queue_age_s()
    unread = Stop.objects.filter(needs_alert=True, read_at=None, cleared_at=None).count()
    yield "stops_unread", "Unread stops.", unread
    for job, name in ((JobRun.Job.BACKUP, "backup"), (JobRun.Job.MAIL, "mail_heartbeat")):
        done, failed = last_run(job), last_run(job, has_succeeded=False)
        age = _age_s(done.finished_at if done else None)
        yield f"{name}_age_seconds", f"Since {job.label} last succeeded.", age
        is_off = failed is not None and (done is None or failed.finished_at > done.finished_at)
        yield f"{name}_failed", f"1 where the last of {job.label} failed.", float(is_off)
    if settings.DATABASE_DISK:
        free = shutil.disk_usage(settings.DATABASE_DISK).free
        yield "database_disk_free_bytes", "Free on the disk that the database lies on.", free
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_database_size(current_database())")
        yield "database_bytes", "What the database takes up.", cursor.fetchone()[0]


def _queue_age_s() -> float:
    """Return the age of the oldest due job, s; 0 if none is due."""
    now = timezone.now()
    due = ProcrastinateJob.objects.filter(status="todo").annotate(
        since=Coalesce("scheduled_at", Min("procrastinateevent__at"))
    )
    oldest = due.filter(since__lte=now).aggregate(oldest=Min("since"))["oldest"]
    return (now - oldest).total_seconds() if oldest else 0.0
