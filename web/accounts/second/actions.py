"""Reset two-step verification, and re-encrypt its secrets when keys change."""

from allauth.mfa.models import Authenticator
from cryptography.fernet import InvalidToken
from django.db import transaction

from web.keeping.keyring import reencrypt

from ..actions import notify_of_change
from ..models import User
from ..sessions import end_sessions
from .adapters import SEALED_FOR

#: The encrypted fields of a second step.
SEALED = ("secret", "seed")


@transaction.atomic
def reset_two_step(user: User) -> int:
    """Remove all second steps including recovery codes, and end all sessions. Return the number
    removed."""
    count, _ = Authenticator.objects.filter(user=user).delete()
    end_sessions(user)
    notify_of_change(user, "forgotten")
    return count


def reseal_keys() -> int:
    """Put every secret under the newest of the site's keys, so that an older one can go. How many
    no key opens any more."""
    shut = 0
    sealed = Authenticator.objects.exclude(type=Authenticator.Type.WEBAUTHN)
    for pk in sealed.values_list("pk", flat=True):
        with transaction.atomic():
            step = sealed.select_for_update().filter(pk=pk).first()
            shut += _seal(step) if step else 0
    return shut


def _seal(step: Authenticator) -> int:
    shut = 0
    for name in SEALED:
        if name in step.data:
            try:
                step.data[name] = reencrypt(step.data[name], SEALED_FOR)
            except InvalidToken:
                shut += 1
    step.save(update_fields=["data"])
    return shut
