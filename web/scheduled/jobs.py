"""Periodic jobs: reminders, the digest, and keeping the board up to date.

Each job may run twice, or late, or on another machine: what was sent is on record, and is looked up
before anything is sent again. So none of them needs a lock, and none that dies leaves one behind.
"""

from datetime import datetime

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app


@app.periodic(cron="*/10 * * * *")
# The alias runs jobs that the previous version queued.
@app.task(name="keep_statuses", queueing_lock="keep_statuses", aliases=["keep_standings"])
def keep_statuses(timestamp: int) -> None:
    """Recompute stale statuses, so that the board need not."""
    from .client_status import keep_statuses

    keep_statuses()


@app.periodic(cron="5 * * * *")
@app.task(name="remind", queueing_lock="remind")
def remind(timestamp: int) -> None:
    """Send reminders in the client's morning after a day without practice."""
    from .reminders import remind

    remind()


@app.periodic(cron="40 3 * * *")
@app.task(name="forget_counts", queueing_lock="forget_counts")
def forget_counts(timestamp: int) -> None:
    """Forget how often something was guessed at, once its time is long over."""
    from web.accounts.rate_limit import forget_old_counts

    forget_old_counts()


@app.periodic(cron="50 3 * * *")
# Jobs queued by the previous version carry this name.
@app.task(name="reseal_keys", aliases=["seal_anew"], queueing_lock="reseal_keys")
def reseal_keys(timestamp: int) -> None:
    """Encrypt stored values with the newest key, so that an older one can be removed."""
    from web.accounts.second.actions import reseal_keys
    from web.practice.sealing import seal_keys

    reseal_keys()
    seal_keys()


@app.periodic(cron="10 4 * * *")
@app.task(name="check_programmes", queueing_lock="check_programmes")
def check_programmes(timestamp: int) -> None:
    """Check every programme in force again: a birthday, a surgeon's date or a new rule of the
    check changes its result without an edit of the record."""
    from .programmes import check_programmes

    check_programmes()


@app.periodic(cron="30 5 * * *")
@app.task(name="mail_heartbeat", queueing_lock="mail_heartbeat")
def mail_heartbeat(timestamp: int) -> None:
    """Send one email a day to the operators, as proof that email is delivered."""
    from .heartbeat import mail_ourselves

    mail_ourselves()


@app.periodic(cron="10 * * * *")
@app.task(name="digests", queueing_lock="digests")
def digests(timestamp: int) -> None:
    """Send each clinician the week's digest on Monday morning, by the clinic's clock."""
    from .digests import digests

    digests()


@app.periodic(cron="20 2 * * *")
@app.task(name="erase_expired", aliases=["end_what_is_over"], queueing_lock="erase_expired")
def erase_expired(timestamp: int) -> None:
    """Erase the records that are due, and delete expired rows."""
    from .retention import erase_expired

    erase_expired()


@app.task(name="mail_planned_erasures", retry=RetryStrategy(max_attempts=8, exponential_wait=3))
def mail_planned_erasures(*, clinic: int, count: int, due: str) -> None:
    """Email a clinic's lead about planned erasures of archived records."""
    from web.accounts.models import Clinic

    from .retention import mail_planned_erasures

    at = datetime.fromisoformat(due)
    mail_planned_erasures(Clinic.objects.get(pk=clinic), count=count, due=at)
