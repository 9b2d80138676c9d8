"""Models of the composer: drafts and their changes."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext, gettext_lazy

from web.clients.models import Client


class Draft(models.Model):
    """The draft that the composer edits for a client; publishing turns it into a version."""

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="draft")
    document = models.JSONField()
    edition = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    def __str__(self) -> str:
        return gettext("draft for {client}").format(client=self.client)


class DraftChange(models.Model):
    """An edit of a draft, in order, with its changes and how to undo it.

    Editions go on from one draft of a client to the next, so that a page that has stood open since
    the one before knows what happened in between.
    """

    class Action(models.TextChoices):
        DO = "do", gettext_lazy("done")
        UNDO = "undo", gettext_lazy("undone")
        REDO = "redo", gettext_lazy("redone")
        HANDED_OVER = "handed_over", gettext_lazy("prescribed")

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="draft_changes")
    edition = models.PositiveIntegerField()
    #: The page that sent it and its number there: a repeated edit is made once.
    page = models.CharField(max_length=40, blank=True)
    number = models.PositiveBigIntegerField(default=0)
    action = models.CharField(max_length=12, choices=Action, default=Action.DO, db_column="way")
    #: The edit that is undone or redone.
    target = models.ForeignKey(
        "self", on_delete=models.CASCADE, null=True, related_name="+", db_column="of_id"
    )
    changes = models.JSONField(default=list, db_column="forth")
    inverse_changes = models.JSONField(default=list, db_column="back")
    made_at = models.DateTimeField(auto_now_add=True, db_column="at")
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", db_column="by_id"
    )

    class Meta:
        ordering = ["edition"]
        constraints = [
            models.UniqueConstraint(fields=["client", "edition"], name="one_change_an_edition"),
            models.UniqueConstraint(
                fields=["client", "page", "number"],
                condition=~models.Q(page=""),
                name="one_change_a_number",
            ),
        ]

    def __str__(self) -> str:
        return gettext("edition {edition} of {client}").format(
            edition=self.edition, client=self.client
        )
