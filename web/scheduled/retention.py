"""What is kept for a time, and ends then. It may run twice: what is gone is gone."""

import logging
from datetime import timedelta

from django.contrib.sessions.models import Session
from django.utils import timezone

from web.accounts.models import Clinic, Opened
from web.accounts.opened import ending_lines
from web.clients.actions.erasing import due_erasures, erase_due

logger = logging.getLogger(__name__)
RECORDS, LINES, SESSIONS = (
    "records erased", "lines of who opened what", "sessions that had run out",
)  # fmt: skip


def what_is_over() -> dict[str, int]:
    """How many rows of what would end now."""
    now = timezone.now()
    return {
        RECORDS: due_erasures(now=now).count(),
        LINES: sum(lines.count() for lines in _lines_over(now)),
        SESSIONS: Session.objects.filter(expire_date__lt=now).count(),
    }


def end_what_is_over() -> dict[str, int]:
    """Ends it, and says how many rows of what it was."""
    now = timezone.now()
    ended = {RECORDS: len(erase_due(now=now)), LINES: 0}
    for lines in _lines_over(now):
        with ending_lines():
            ended[LINES] += lines._raw_delete(lines.db)
    ended[SESSIONS], _ = Session.objects.filter(expire_date__lt=now).delete()
    for what, count in ended.items():
        if count:
            logger.warning("ended, for their time was over: %d %s", count, what)
    return ended


def _lines_over(now):
    """Of each clinic those that it keeps no longer."""
    for clinic in Clinic.objects.all():
        oldest = now - timedelta(days=clinic.log_kept_days)
        yield Opened.objects.filter(clinic=clinic, at__lt=oldest)
