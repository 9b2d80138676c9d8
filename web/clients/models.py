"""The person with the voice."""

import secrets

from django.conf import settings
from django.db import models

from web.accounts.models import Clinic

#: Letters and digits that cannot be taken for one another when read aloud or off paper.
CODE_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"


def new_practice_code() -> str:
    """A short code that can be typed, and is still one of 8·10¹¹: ``k7d2-m9xp``."""
    letters = [secrets.choice(CODE_ALPHABET) for _ in range(8)]
    return "".join(letters[:4]) + "-" + "".join(letters[4:])


class Client(models.Model):
    """One client of one clinic."""

    class Voice(models.TextChoices):
        TREBLE = "treble", "treble"
        BASS = "bass", "bass"
        OWN = "own", "own range"

    class Spelling(models.TextChoices):
        SHARPS = "sharps", "sharps (F♯3)"
        FLATS = "flats", "flats (G♭3)"

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="clients")
    account = models.OneToOneField(
        settings.AUTH_USER_MODEL,
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="client_record",
    )
    name = models.CharField("name or code", max_length=120)
    occupation = models.CharField(max_length=120, blank=True)
    voice = models.CharField(max_length=8, choices=Voice, default=Voice.OWN)
    spelling = models.CharField(max_length=8, choices=Spelling, default=Spelling.SHARPS)
    practice_code = models.CharField(max_length=16, unique=True, null=True, blank=True)
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "pk"]
        indexes = [models.Index(fields=["clinic", "name"])]

    def __str__(self):
        return self.name
