"""Create clinics and accounts, and deactivate accounts."""

from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import connection, transaction
from django.db.models import Q
from django.urls import reverse
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_encode
from django.utils.text import slugify
from django.utils.translation import gettext
from procrastinate.contrib.django import app

from .models import Clinic, User
from .rate_limit import Limit, is_within_limit

#: An arbitrary advisory lock key for the list of user names.
_NAMES_LOCK = 70_431
#: Limits for password reset emails: per address and hour, and per account.
LINKS_ASKED = Limit("password links asked", 10, 3600)
LINKS_SENT = Limit("password links sent", 3, 3600)


@transaction.atomic
def begin_clinic(*, name: str, time_zone: str, lead_name: str, mail: str) -> tuple[Clinic, User]:
    """Create a clinic and its lead, who receives every stop alert until another lead is named.

    Raises:
        django.core.exceptions.ValidationError: a name or time zone that cannot be.
    """
    clinic = Clinic(name=name.strip(), time_zone=time_zone)
    clinic.full_clean(exclude=["lead", "deputy"])
    clinic.save(force_insert=True)
    lead = add_colleague(clinic, name=lead_name, mail=mail)
    clinic.lead = clinic.deputy = lead
    clinic.save(update_fields=["lead", "deputy"])
    return clinic, lead


@transaction.atomic
def add_colleague(clinic: Clinic, *, name: str, mail: str, role: str = User.Role.CLINICIAN) -> User:
    """Create an account that its owner activates by a link with a new password.

    Raises:
        django.core.exceptions.ValidationError: a name or an address that cannot be.
    """
    # Lock user names across clinics while one invitation reserves a name.
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(%s)", [_NAMES_LOCK])
    first, _, last = name.strip().partition(" ")
    same = {"first_name": first, "last_name": last.strip(), "email__iexact": mail.strip()}
    if User.objects.filter(clinic=clinic, role__in=User.AT_WORK, **same).exists():
        raise ValidationError(
            gettext(
                "{strip} already has an account with this address. You can create a new link below."
            ).format(strip=name.strip())
        )
    user = User(
        username=_free(slugify(first) or "colleague"),
        first_name=first,
        last_name=last.strip(),
        email=mail.strip(),
        role=role,
        clinic=clinic,
    )
    user.set_unusable_password()
    user.full_clean(exclude=["password"])
    user.save(force_insert=True)
    return user


def _free(username: str) -> str:
    """Return an unused user name."""
    taken = set(
        User.objects.filter(username__startswith=username).values_list("username", flat=True)
    )
    return next(
        name for number in range(1, len(taken) + 2)
        if (name := username if number == 1 else f"{username}{number}") not in taken
    )  # fmt: skip


def password_path(user: User) -> str:
    """Return where a password is chosen: good once, for as long as the settings say, and only until
    it is chosen or another link is made."""
    uid = urlsafe_base64_encode(force_bytes(user.pk))
    return reverse("accounts:choose_password", args=[uid, default_token_generator.make_token(user)])


def notify_of_change(user: User, what: str) -> None:
    """Email a user that their sign-in has changed; ``what`` as in :mod:`.mails`."""
    if user.email:
        app.configure_task("mail_change").defer(user=user.pk, what=what)


def forgot_password(who: str, *, address: str) -> None:
    """Email a password link to the account with this name or address; do nothing if there is none.

    The email is queued, so that the response time does not reveal whether the account exists.
    """
    who = who.replace("\x00", "").strip()[:254]
    if not who or not is_within_limit(LINKS_ASKED, address):
        return
    people = User.objects.filter(role__in=User.AT_WORK, is_active=True).exclude(email="")
    for user in people.filter(Q(username__iexact=who) | Q(email__iexact=who))[:5]:
        if is_within_limit(LINKS_SENT, user.pk):
            app.configure_task("mail_password_link").defer(user=user.pk)
