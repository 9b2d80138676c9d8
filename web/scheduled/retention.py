"""What is kept for a time, and ends then. It may run twice: what is gone is gone."""

import logging
from datetime import timedelta

from django.contrib.sessions.models import Session
from django.utils import timezone

from web.accounts.models import Clinic, Opened
from web.accounts.opened import ending_lines
from web.clients.actions.erasing import erase_due

logger = logging.getLogger(__name__)


def end_what_is_over() -> dict[str, int]:
    """Does it, and says how many rows of what it was."""
    now = timezone.now()
    ended = {"records erased": len(erase_due(now=now)), "lines of who opened what": 0}
    for clinic in Clinic.objects.all():
        over = Opened.objects.filter(
            clinic=clinic, at__lt=now - timedelta(days=clinic.log_kept_days)
        )
        with ending_lines():
            ended["lines of who opened what"] += over._raw_delete(over.db)
    ended["sessions that had run out"], _ = Session.objects.filter(expire_date__lt=now).delete()
    for what, count in ended.items():
        if count:
            logger.warning("ended, for their time was over: %d %s", count, what)
    return ended
