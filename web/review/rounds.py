"""What is gone through by the clock: who is reminded, who is told, whose board is due."""

from datetime import timedelta

from django.conf import settings
from django.core.mail import send_mail
from django.db import transaction
from django.utils import timezone

from reedcore.decisions import Need
from reedcore.safety import passed_on_at
from web.accounts.models import Clinic, User
from web.clients.actions import stop_words
from web.clients.models import Client, Stop
from web.clients.queries import is_paused

from .board import lines_for
from .deciding import due_days, histories, sessions_by_day
from .messages import address_of, write_to
from .models import Digest, Message
from .standing import standings
from .wording import NEEDS

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
    now = timezone.now()
    for clinic in Clinic.objects.all():
        clients = list(clinic.clients.filter(archived_at=None).select_related("clinic"))
        for start in range(0, len(clients), BATCH):
            standings(clients[start : start + BATCH], now=now)


def remind() -> None:
    """Writes to those who had a session due yesterday, did none, and wish to be reminded."""
    now = timezone.now()
    for clinic in Clinic.objects.all():
        wished = clinic.clients.filter(
            archived_at=None, reminders=True, contact=Client.Contact.MAIL
        ).select_related("clinic")
        awake = [
            client
            for client in wished
            if now.astimezone(client.zone).hour == MORNING and address_of(client)
        ]
        for client, history in zip(awake, histories(awake, now=now).values(), strict=True):
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


def pass_on_stops() -> None:
    """Mails the clinic's lead what nobody has read within a working day."""
    now = timezone.now()
    unread = Stop.objects.filter(read_at=None, passed_on_at=None, cleared_at=None)
    unread = unread.exclude(client__clinic__lead=None).select_related("client__clinic__lead")
    for stop in unread:
        clinic = stop.client.clinic
        if now < passed_on_at(stop.said_at.astimezone(stop.client.zone)) or not clinic.lead.email:
            continue
        with transaction.atomic():
            row = Stop.objects.select_for_update().get(pk=stop.pk)
            if row.passed_on_at is not None:
                continue
            row.passed_on_at = now
            row.save(update_fields=["passed_on_at"])
            words = f"Nobody has opened this for a working day.\n\n{stop_words(stop)}"
            send_mail(f"Unread stop: {stop.client}", words, None, [clinic.lead.email])


def digests() -> None:
    """Mails each clinician who needs them this week, once a week."""
    now = timezone.now()
    for clinic in Clinic.objects.all():
        local = now.astimezone(clinic.zone)
        if (local.weekday(), local.hour) != (DIGEST_WEEKDAY, DIGEST_HOUR):
            continue
        for user in clinic.users.filter(role=User.Role.CLINICIAN, is_active=True).exclude(email=""):
            with transaction.atomic():
                _, fresh = Digest.objects.get_or_create(user=user, week=local.date())
                if fresh:
                    send_mail("Your week", digest_words(user, now=now), None, [user.email])


def digest_words(user, *, now) -> str:
    """Who needs this clinician, most pressing first, with the reasons."""
    lines = lines_for(user, now=now, clinician=user.pk)
    needing = [line for line in lines if line.need < Need.ON_COURSE]
    told = [f"{NEEDS[line.need]}: {line.client}. {line.reason}" for line in needing]
    head = f"{len(needing)} of your {len(lines)} clients need you."
    return "\n\n".join([head, *told, f"{settings.SITE_URL}/board/"])
