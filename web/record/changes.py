"""The history of a record, of a clinic's settings and of its accounts: each change with the
values before and after."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from itertools import groupby, zip_longest
from typing import Any
from zoneinfo import ZoneInfo

from django.utils.translation import gettext

from reedcore.targets.proposing import TargetKind
from web.accounts.models import Clinic, User
from web.baseline.presenters import target_lines
from web.baseline.wording import KINDS
from web.clients.models import Client
from web.clients.pseudonyms import NAMING, are_names_hidden
from web.clients.wording import CAUTION_NAMES, PROPS
from web.screening.wording import FLAG_NAMES
from web.ui.dates import day_and_time, full_day

#: Fields that change automatically.
_NOT_TOLD = {"edition", "caution_entries"}
#: Screening fields that repeat who asked and when.
_OF_A_SCREEN = {"asked_at", "asked_by", "safe_at", "safe_by"}
_LONG = 120


@dataclass(frozen=True)
class Change:
    """A saved change; ``lines`` are (field, before, after)."""

    at: datetime
    by: str
    is_beginning: bool
    reason: str
    lines: list[tuple[str, str, str]]
    what: str = ""


def changes_of(kept_of: Client | Clinic, *, most: int | None = None) -> list[Change]:
    """Return the newest first; as many as are wanted, or all; by its own clock."""
    kept = kept_of.history.select_related("history_user").order_by("-history_date", "-history_id")
    rows = list(kept[: most + 1] if most else kept)
    return _changes_between_rows(rows, kept_of.zone)[:most]


def changes_of_record(client: Client, *, most: int | None = None) -> list[Change]:
    """Return the changes, with answers of screenings and decisions about targets."""
    screens = client.screens.model.history.filter(client=client).select_related("history_user")
    screenings = _changes_between_rows(
        list(screens.order_by("-history_date", "-history_id")[: most + 1 if most else None]),
        client.zone,
        what="screening",
        besides=_OF_A_SCREEN,
    )
    every = [*changes_of(client, most=most), *screenings, *_targets(client)]
    shown = [each for each in every if each.is_beginning or each.reason or each.lines]
    return sorted(shown, key=lambda each: each.at, reverse=True)[:most]


def changes_of_people(clinic: Clinic, *, most: int | None = None) -> list[Change]:
    """Return changes of the clinic's people: new accounts, roles, deactivations."""
    kept = User.history.filter(clinic=clinic, role__in=User.AT_WORK)
    kept = kept.select_related("history_user").order_by("id", "-history_date", "-history_id")
    found = []
    for _, rows in groupby(kept, key=lambda row: row.id):
        own = list(rows)
        what = f"{own[0].first_name} {own[0].last_name}".strip() or own[0].username
        found += [
            each
            for each in _changes_between_rows(own, clinic.zone, what=what)
            if each.lines or each.is_beginning
        ]
    return sorted(found, key=lambda each: each.at, reverse=True)[:most]


def _targets(client: Client) -> Iterable[Change]:
    """Yield each decision that changed the targets in force, with the previous one."""
    before: dict[str, list[str]] = {}
    for each in client.targets.select_related("decided_by").order_by("decided_at", "pk"):
        after = target_lines(each.values, client)
        stood = before.get(each.kind, [])
        before[each.kind] = after
        if stood == after:
            continue
        was, now = ("; ".join(lines) or "none" for lines in (stood, after))
        yield Change(
            at=each.decided_at,
            by=_person_name(each.decided_by),
            is_beginning=False,
            reason=each.reason,
            lines=[(KINDS[TargetKind(each.kind)], was, now)],
            what=f"target {each.decision}",
        )


def _changes_between_rows(
    rows: list[Any], zone: ZoneInfo, *, what: str = "", besides: Any = frozenset()
) -> list[Change]:
    """Return the changes between rows of a history, the newest first."""
    return [_change(*pair, zone, what, besides) for pair in zip_longest(rows, rows[1:])]


def _change(
    new: Any, old: Any, zone: ZoneInfo, what: str, besides: frozenset[Any] | set[str]
) -> Change:
    return Change(
        at=new.history_date,
        by=_person_name(new.history_user),
        is_beginning=new.history_type == "+",
        reason=new.history_change_reason or "",
        lines=_lines(new, old, zone, besides) if old else [],
        what=what,
    )


def _person_name(person: User | None) -> str:
    return (person.get_full_name() or person.username) if person else ""


def _lines(new: Any, old: Any, zone: ZoneInfo, besides: frozenset[Any] | set[str]) -> list[Any]:
    hidden = NAMING if are_names_hidden() else {}
    found = new.diff_against(
        old, foreign_keys_are_objs=False, excluded_fields={*_NOT_TOLD, *besides, *hidden}
    )
    lines = []
    for each in found.changes:
        field = new.instance_type._meta.get_field(each.field)
        before, after = (_value_words(field, value, zone) for value in (each.old, each.new))
        lines.append((gettext(str(field.verbose_name)), before, after))
    return lines


#: Names of codes that a field lists.
_LISTED: dict[str, Mapping[Any, str]] = {
    "cautions": CAUTION_NAMES,
    "props": PROPS,
    "flags": FLAG_NAMES,
}


def _value_words(field: Any, value: Any, zone: ZoneInfo) -> str:
    if field.name in _LISTED:
        names = _LISTED[field.name]
        text = ", ".join(names.get(code, code) for code in value or ())
    elif field.is_relation:
        text = _person_name(field.related_model.objects.filter(pk=value).first() if value else None)
    elif field.choices:
        text = str(dict(field.flatchoices).get(value, value))
    elif isinstance(value, datetime):
        text = day_and_time(value.astimezone(zone))
    elif hasattr(value, "isoformat"):
        text = full_day(value)
    elif isinstance(value, bool):
        text = "yes" if value else "no"
    else:
        text = " ".join(str(value or "").split())
    return (text if len(text) <= _LONG else f"{text[: _LONG - 1]}…") or "none"
