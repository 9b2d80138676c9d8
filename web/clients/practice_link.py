"""The way in to practice at home: a link or a typed code, and a PIN of one's own choosing."""

import secrets

from django.conf import settings
from django.db import models

from .pseudonyms import PseudonymMixin

#: Letters and digits that are not confused when read aloud or from paper.
CODE_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"


def new_practice_code() -> str:
    """Return a short code that can be typed, and is still one of 8·10¹¹: ``k7d2-m9xp``."""
    letters = [secrets.choice(CODE_ALPHABET) for _ in range(8)]
    return "".join(letters[:4]) + "-" + "".join(letters[4:])


class PracticeLink(PseudonymMixin, models.Model):  # type: ignore[misc]
    """An owner of a practice link: a client or a helper."""

    account = models.OneToOneField(
        settings.AUTH_USER_MODEL,
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="%(class)s_record",
    )
    practice_code = models.CharField(max_length=16, unique=True, null=True, blank=True)
    #: When the link was made; no PIN is chosen while the account has no password.
    practice_issued_at = models.DateTimeField(null=True, blank=True)
    #: Wrong PINs at this link since the last right one, from any address.
    wrong_pins = models.PositiveSmallIntegerField(default=0)
    pin_waits_until = models.DateTimeField(null=True, blank=True)
    #: When too many wrong PINs disabled the link; only a new link works again.
    link_voided_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        abstract = True

    @property
    def pin_chosen(self) -> bool:
        """Return whether a PIN has been chosen."""
        return self.account is not None and self.account.has_usable_password()


#: Fields of the practice link, which the record's history leaves out.
LINK_FIELDS = [field.name for field in PracticeLink._meta.local_fields]
