"""Deletes rows after their retention period; safe to run twice."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any

from allauth.usersessions.models import UserSession
from asgiref.sync import async_to_sync
from django.conf import settings
from django.contrib.sessions.models import Session
from django.core.mail import send_mail
from django.db import transaction
from django.db.models import Max, QuerySet
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from web.accounts.access_log import deletion_allowed
from web.accounts.models import AccessLogEntry, Clinic
from web.clients.actions.erasing import (
    clients_past_retention,
    due_erasures,
    erase_due,
    plan_erasures,
)
from web.ui.dates import full_day

logger = logging.getLogger(__name__)
PLANNED, RECORDS, LINES, SESSIONS, JOBS = (
    "erasures planned of records archived long enough", "records erased",
    "lines of who opened what", "sessions that had run out", "jobs that ended a month ago",
)  # fmt: skip
PLANNED_WORDS = """{count} archived records have reached your clinic’s retention period
({years} years).

They will be erased on {due}. To keep a record, cancel its erasure before then:
{link}
"""
#: Keep finished jobs for this long.
JOBS_KEPT_H = 30 * 24
_ENDED = ("succeeded", "failed", "cancelled", "aborted")


def list_expired() -> dict[str, int]:
    """Return the number of expired rows by kind."""
    now = timezone.now()
    return {
        PLANNED: sum(
            clients_past_retention(each, now=now).count() for each in Clinic.objects.all()
        ),
        RECORDS: due_erasures(now=now).count(),
        LINES: sum(lines.count() for lines in _lines_over(now)),
        SESSIONS: Session.objects.filter(expire_date__lt=now).count(),
        JOBS: _jobs_over(now),
    }


def erase_expired() -> dict[str, int]:
    """Delete expired rows, and return their number by kind."""
    now = timezone.now()
    ended = {PLANNED: _plan_erasures(now), RECORDS: len(erase_due(now=now)), LINES: 0}
    for lines in _lines_over(now):
        with deletion_allowed():
            ended[LINES] += lines._raw_delete(lines.db)
    ended[SESSIONS], _ = Session.objects.filter(expire_date__lt=now).delete()
    UserSession.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()
    ended[JOBS] = _jobs_over(now)
    _end_jobs()
    for what, count in ended.items():
        if count:
            logger.warning("expired_rows_deleted", extra={"count": count, "rows": what})
    return ended


@transaction.atomic
def _plan_erasures(now: datetime) -> int:
    """Plan the erasure of records archived long enough, and notify each lead."""
    count = 0
    for clinic in Clinic.objects.exclude(archived_kept_years=None):
        planned = plan_erasures(clinic, now=now)
        if planned:
            count += len(planned)
            app.configure_task("mail_planned_erasures").defer(
                clinic=clinic.pk, count=len(planned), due=planned[0].due_at.isoformat()
            )
    return count


def mail_planned_erasures(clinic: Clinic, *, count: int, due: datetime) -> None:
    """Notify the lead, or every user with the lead's rights, that records will be erased, and how
    to keep one."""
    leads = [each for each in clinic.users.filter(is_active=True).exclude(email="") if each.is_lead]
    words = PLANNED_WORDS.format(
        count=count,
        years=clinic.archived_kept_years,
        due=full_day(due.astimezone(clinic.zone)),
        link=settings.SITE_URL.rstrip("/") + reverse("clinic:erased"),
    )
    subject = "Archived records will be erased"
    send_mail(subject, words, settings.DEFAULT_FROM_EMAIL, [each.email for each in leads])


def _lines_over(now: datetime) -> Iterator[QuerySet[Any]]:
    """Return the access log entries that each clinic no longer keeps."""
    for clinic in Clinic.objects.all():
        oldest = now - timedelta(days=clinic.log_kept_days)
        yield AccessLogEntry.objects.filter(clinic=clinic, accessed_at__lt=oldest)


def _jobs_over(now: datetime) -> int:
    """Return how many ended jobs of the queue are past their retention."""
    ended = ProcrastinateJob.objects.filter(status__in=_ENDED)
    last = ended.annotate(last=Max("procrastinateevent__at"))
    return last.filter(last__lt=now - timedelta(hours=JOBS_KEPT_H)).count()


def _end_jobs() -> None:
    """Take them out of the queue."""
    delete = async_to_sync(app.job_manager.delete_old_jobs)
    delete(JOBS_KEPT_H, include_failed=True, include_cancelled=True, include_aborted=True)
