"""What the queue does for clients: telling people of a stop."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

#: A mail server that is away is asked again, more and more seldom, for about a day.
PATIENTLY = RetryStrategy(max_attempts=12, exponential_wait=3)


@app.task(name="tell_of_stop", retry=PATIENTLY)
def tell_of_stop(*, stop: str) -> None:
    """Mails what a client said to those who are to be told at once."""
    from .actions.stops import mail_stop
    from .models import Stop

    mail_stop(Stop.objects.select_related("client__clinic").get(pk=stop))
