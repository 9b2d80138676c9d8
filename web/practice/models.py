"""Models of a client's devices: encryption keys and shared tablets."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext, gettext_lazy

from web.accounts.models import Clinic
from web.clients.models import Client
from web.ui.times import moment


class DeviceKey(models.Model):
    """The private key for entries encrypted on a client's devices; pages have the public key."""

    client = models.OneToOneField(
        Client, on_delete=models.CASCADE, primary_key=True, related_name="device_key"
    )
    private = models.BinaryField()
    made_at = models.DateTimeField(default=moment)

    def __str__(self) -> str:
        return gettext("device key of {client}").format(client=self.client)


class Tablet(models.Model):
    """A device of the clinic's that several clients practise on, by name and PIN."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="tablets")
    name = models.CharField(
        "location",
        max_length=80,
        help_text=gettext_lazy("For example “group room”."),
    )
    clients = models.ManyToManyField(Client, blank=True, related_name="tablets")
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name
