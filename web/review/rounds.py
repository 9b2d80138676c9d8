"""What is gone through by the clock: who is reminded, who is told, whose board is due."""

from datetime import timedelta
from uuid import UUID, uuid5

from django.conf import settings
from django.utils import timezone

from reedcore.decisions import Need
from web.accounts.models import Clinic, User
from web.clients.actions import deliver
from web.clients.models import Client
from web.clients.queries import is_paused
from web.ui.isolation import each_by_itself

from .board import lines_for
from .deciding import due_days, histories, sessions_by_day
from .messages import address_of, write_to
from .models import Digest, Message
from .standing import standings
from .wording import NEEDS

_DIGESTS = UUID("8b6c5f0e-52a9-4d7f-9c43-7a51b0b6a0d2")
#: Reminders go out in this hour of the client's day.
MORNING = 9
#: After so many reminders without a session between them, it is the clinician's turn.
MOST_IN_A_ROW = 3
#: The digest goes out on Monday in this hour of the clinic's day.
DIGEST_WEEKDAY, DIGEST_HOUR = 0, 7
#: Clients whose standing is worked out in one go.
BATCH = 50


def keep_standings() -> None:
    """Brings every active client's standing up to date, clinic by clinic."""
    each_by_itself(Clinic.objects.all(), _keep_standings, what="keeping the board")


def _keep_standings(clinic: Clinic) -> None:
    clients = list(clinic.clients.filter(archived_at=None).select_related("clinic"))
    for start in range(0, len(clients), BATCH):
        standings(clients[start : start + BATCH], now=timezone.now())


def remind() -> None:
    """Writes to those who had a session due yesterday, did none, and wish to be reminded."""
    each_by_itself(Clinic.objects.all(), _remind, what="reminding")


def _remind(clinic: Clinic) -> None:
    now = timezone.now()
    wished = clinic.clients.filter(
        archived_at=None, reminders=True, contact=Client.Contact.MAIL
    ).select_related("clinic")
    awake = [
        client
        for client in wished
        if now.astimezone(client.zone).hour == MORNING and address_of(client)
    ]
    read = histories(awake, now=now)
    each_by_itself(
        awake, lambda client: _remind_one(client, read[client.pk], now), what="reminding"
    )


def _remind_one(client, history, now):
    today = history.day(now)
    yesterday = today - timedelta(days=1)
    sat = sessions_by_day(history)
    missed = due_days(history, today).get(yesterday) and not sat[yesterday]
    if missed and not sat[today] and not is_paused(client) and not _enough(client, history):
        write_to(client, Message.Kind.MISSED)


def _enough(client, history):
    """Whether the last reminders went unheard: more of them would be nagging."""
    last = list(client.messages.filter(kind=Message.Kind.MISSED)[:MOST_IN_A_ROW])
    if len(last) < MOST_IN_A_ROW:
        return False
    since = last[-1].written_at
    return not any(session.at >= since for session in history.sessions)


def digests() -> None:
    """Mails each clinician who needs them this week, once a week."""
    each_by_itself(Clinic.objects.all(), _digests, what="the week's digests")


def _digests(clinic: Clinic) -> None:
    local = timezone.now().astimezone(clinic.zone)
    if (local.weekday(), local.hour) != (DIGEST_WEEKDAY, DIGEST_HOUR):
        return
    people = clinic.users.filter(role=User.Role.CLINICIAN, is_active=True).exclude(email="")
    each_by_itself(people, lambda user: _digest(user, local.date()), what="the week's digest")


def _digest(user: User, week) -> None:
    digest, fresh = Digest.objects.get_or_create(user=user, week=week)
    if not fresh:
        return
    letter = "Your week", digest_words(user, now=timezone.now())
    if deliver(letter, [user.email], key=uuid5(_DIGESTS, f"{user.pk}/{week}")):
        digest.delete()  # the next hour tries again


def digest_words(user, *, now) -> str:
    """How many need this clinician and for what, most pressing first, by initials or number; the
    reasons stand on the board, for e-mail is not private."""
    lines = lines_for(user, now=now, clinician=user.pk)
    needing = [line for line in lines if line.need < Need.ON_COURSE]
    told = [f"{NEEDS[line.need]}: {line.client.mail_label}" for line in needing]
    head = f"{len(needing)} of your {len(lines)} clients need you."
    return "\n\n".join([head, *told, f"{settings.SITE_URL}/board/"])
