"""What became of a record, or of a clinic's settings: each change with what stood there before and
after."""

from dataclasses import dataclass
from datetime import datetime

from web.accounts.models import Clinic

from .models import Client
from .wording import CAUTION_NAMES, PROPS

#: What changes by itself and says nothing.
_NOT_TOLD = {"edition", "caution_entries"}
_LONG = 120


@dataclass(frozen=True)
class Change:
    """One save; ``lines`` are (what, before, after)."""

    at: datetime
    by: str
    began: bool
    reason: str
    lines: list[tuple[str, str, str]]


def changes_of(kept_of: Client | Clinic, *, most: int | None = None) -> list[Change]:
    """The newest first; as many as are wanted, or all; by its own clock."""
    kept = kept_of.history.select_related("history_user").order_by("-history_date", "-history_id")
    rows = list(kept[: most + 1] if most else kept)
    before = [*rows[1:], None]
    told = [_change(new, old, kept_of.zone) for new, old in zip(rows, before, strict=True)]
    return told[:most] if most else told


def _change(new, old, zone) -> Change:
    by = new.history_user
    return Change(
        at=new.history_date,
        by=(by.get_full_name() or by.username) if by else "",
        began=new.history_type == "+",
        reason=new.history_change_reason or "",
        lines=_lines(new, old, zone) if old else [],
    )


def _lines(new, old, zone):
    found = new.diff_against(old, foreign_keys_are_objs=False, excluded_fields=_NOT_TOLD)
    lines = []
    for each in found.changes:
        field = new.instance_type._meta.get_field(each.field)
        before, after = (_said(field, value, zone) for value in (each.old, each.new))
        lines.append((str(field.verbose_name), before, after))
    return lines


def _said(field, value, zone) -> str:
    if field.name == "cautions":
        text = ", ".join(CAUTION_NAMES.get(code, code) for code in value or ())
    elif field.name == "props":
        text = ", ".join(PROPS.get(code, code) for code in value or ())
    elif field.is_relation:
        person = field.related_model.objects.filter(pk=value).first() if value else None
        text = (person.get_full_name() or person.username) if person else ""
    elif field.choices:
        text = str(dict(field.flatchoices).get(value, value))
    elif isinstance(value, datetime):
        text = f"{value.astimezone(zone):%-d %B %Y, %H:%M}"
    elif hasattr(value, "isoformat"):
        text = f"{value:%-d %B %Y}"
    elif isinstance(value, bool):
        text = "yes" if value else "no"
    else:
        text = " ".join(str(value or "").split())
    return (text if len(text) <= _LONG else f"{text[: _LONG - 1]}…") or "nothing"
