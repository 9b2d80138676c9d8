"""What the queue does by itself: messages, reminders, the digest, and keeping the board fresh.

Each job may run twice, or late, or on another machine: what was sent is on record, and is looked up
before anything is sent again. So none of them needs a lock, and none that dies leaves one behind.
"""

from procrastinate.contrib.django import app

from web.clients.jobs import PATIENTLY


@app.task(name="send_message", retry=PATIENTLY)
def send_message(*, message: int) -> None:
    """Mails a message to its client, once."""
    from .sending import send

    send(message)


@app.periodic(cron="*/10 * * * *")
@app.task(name="keep_standings", queueing_lock="keep_standings")
def keep_standings(timestamp: int) -> None:
    """Works out anew where clients stand, so that the board need not."""
    from .rounds import keep_standings

    keep_standings()


@app.periodic(cron="5 * * * *")
@app.task(name="remind", queueing_lock="remind")
def remind(timestamp: int) -> None:
    """Reminds, in the client's morning, of a day on which nothing was practised."""
    from .rounds import remind

    remind()


@app.periodic(cron="40 3 * * *")
@app.task(name="forget_counts", queueing_lock="forget_counts")
def forget_counts(timestamp: int) -> None:
    """Forgets how often something was guessed at, once its time is long over."""
    from web.accounts.guessing import forget_old_counts

    forget_old_counts()


@app.periodic(cron="10 * * * *")
@app.task(name="digests", queueing_lock="digests")
def digests(timestamp: int) -> None:
    """Sends each clinician the week's digest on Monday morning, by the clinic's clock."""
    from .rounds import digests

    digests()
