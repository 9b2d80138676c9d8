"""Receipts for stored entries: a device keeps each one, so that an entry can be
put back where a restore has lost it.

It holds the rows that the entry became, signed by the site, so that a sound need not be kept and is
not measured twice. The device keeps it sealed and cannot read it.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING
from uuid import UUID

from django.core import serializers, signing
from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, models, transaction

from web.accounts.models import User
from web.clients.models import Client
from web.record.models import ReferenceVowel, SelfReport, Session, Trace, Trial
from web.screening.actions import add_words

from .actions.set_aside import apply_report, apply_reports_before

if TYPE_CHECKING:
    from web.record.models import ProgrammeVersion

_SALT = "practice: receipt"
#: In this order: each can refer to earlier ones.
_KINDS = (Session, Trial, Trace, SelfReport, ReferenceVowel)
#: Fields that an end adds to an existing session.
_OF_AN_END = ("ended_at", "end_received_at", "ending", "items_done")


class _Exact(DjangoJSONEncoder):
    """Moments to the microsecond, as the database has them."""

    def default(self, o: datetime) -> str:
        """Return a time in ISO 8601; leave the rest to the standard encoder."""
        return o.isoformat() if isinstance(o, datetime) else super().default(o)


class NoReceipt(ValueError):
    """The receipt is not from this site, for another client, or refers to rows that the restored
    records lack."""


def receipt(client: Client, *rows: models.Model | None) -> str:
    """Return the receipt for the rows of an entry; None rows are left out."""
    there = [row for row in rows if row is not None]
    programmes = {
        str(each.pk): each.published_at.isoformat()
        for each in (_programme_of(row) for row in there)
        if each is not None
    }
    held = {
        "record": client.pk,
        "created": client.created_at.isoformat(),
        "programmes": programmes,
        "rows": serializers.serialize("json", there, cls=_Exact),
    }
    return signing.dumps(held, salt=_SALT, compress=True)


def receipt_of_trial(trial: Trial) -> str:
    """Return the receipt for a try: its session and its trace belong to it."""
    return receipt(
        trial.task.programme.client,
        trial.session,
        trial,
        Trace.objects.filter(pk=trial.pk).first(),
    )


@transaction.atomic
def put_back(client: Client, text: str) -> bool:
    """Restore the rows of a receipt; existing rows stay unchanged.

    Returns:
        Whether anything was missing.

    Raises:
        NoReceipt: it does not hold for this client's records as they are now.
    """
    held = _parse(text)
    if (held["record"], held["created"]) != (client.pk, client.created_at.isoformat()):
        raise NoReceipt("it is of another record")
    _check_programmes(client, held["programmes"])
    rows = [each.object for each in serializers.deserialize("json", held["rows"])]
    rows.sort(key=lambda row: _KINDS.index(type(row)))
    put = [_store_row(client, row) for row in rows]
    return any(put)


def _parse(text: str) -> dict:
    try:
        held = signing.loads(text, salt=_SALT)
    except (signing.BadSignature, ValueError, TypeError) as wrong:
        raise NoReceipt("it was not signed by this site") from wrong
    return held


def _check_programmes(client: Client, references: dict[str, str]) -> None:
    """Compare publication times as well, because programme numbers are reassigned after a
    restore."""
    there = client.programmes.filter(pk__in=references).values_list("pk", "published_at")
    if {str(pk): at.isoformat() for pk, at in there} != references:
        raise NoReceipt("its version of the programme is not in the restored records")


def _store_row(client: Client, row: models.Model) -> bool:
    kept = type(row)._base_manager.filter(pk=row.pk).first()
    if kept is None:
        _clear_missing_users(row)
        try:
            with transaction.atomic():
                row.save(force_insert=True)
        except IntegrityError as wrong:
            if type(row)._base_manager.filter(pk=row.pk).exists():
                return False  # Another tab restored it in the meantime.
            raise NoReceipt("the restored records lack what it belongs to") from wrong
        if isinstance(row, SelfReport) and row.kind == SelfReport.Kind.COMMENT:
            add_words(client, row.value, session_key=row.session_id, said_at=row.said_at)
        if isinstance(row, SelfReport) and row.kind == SelfReport.Kind.SET_ASIDE:
            apply_report(client, UUID(row.value["trial"]))
        if isinstance(row, Trial):
            apply_reports_before(client, row.key)
        return True
    ends = isinstance(row, Session) and row.ended_at is not None
    if ends and isinstance(kept, Session) and kept.ended_at is None:
        fields = {name: getattr(row, name) for name in _OF_AN_END}
        return bool(Session.objects.filter(pk=kept.pk, ended_at=None).update(**fields))
    return False


def _clear_missing_users(row: models.Model) -> None:
    if not isinstance(row, Session):
        return
    if row.led_by_id and not User.objects.filter(pk=row.led_by_id).exists():
        row.led_by_id = None
    if row.helper_id and not row.client.helpers.filter(pk=row.helper_id).exists():
        row.helper_id = None


def _programme_of(row: models.Model) -> ProgrammeVersion | None:
    if isinstance(row, Session):
        return row.programme
    if isinstance(row, Trial):
        return row.task.programme
    return None
