"""Which columns of the database a history is read from, by field of the core's values."""

from typing import Any

from django.db.models import JSONField, TextField, Value
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Cast, Coalesce, NullIf


def _null_if_empty(column: str, empty: Any) -> NullIf:
    """Return null for an empty value, because most are empty and reading JSON is slow."""
    return NullIf(column, Value(empty, JSONField()))


#: Trial columns that the rules read, and those that pages and files need.
RULED = {
    "key": "key", "task": "task", "session": "session", "at": "performed_at",
    "outcome": "outcome", "set_s": "set_s", "total_s": "total_s", "steady_s": "steady_s",
    "level_db": "level_db", "end_error_cents": "end_error_cents", "spread_cents": "spread_cents",
    "breaks": _null_if_empty("breaks", []), "role": "role",
    "device_alone": KeyTextTransform("device", "capture"),
}  # fmt: skip
#: Columns for drawing, comparing and following a series.
FOLLOWED = {name: column for name, column in RULED.items() if name != "device_alone"} | {
    "capture": Cast("capture", TextField()), "parts": Cast("parts", TextField()),
    "error_cents": "error_cents", "share_on_pitch": "share_on_pitch",
    "figures": _null_if_empty("figures", {}),
    "since_medication_h": "session__hours_since_medication",
}  # fmt: skip
#: Null when empty.
SELDOM = ("breaks", "figures", "reasons", "device_alone")
#: Read as text and parse later: it is large.
AS_TEXT = ("capture", "parts")
SHOWN = FOLLOWED | {"reasons": _null_if_empty("reasons", [])} | {
    name: name
    for name in ("source", "median_hz", "drift_cents", "level_mean_dbfs", "snr_db")
}  # fmt: skip

SESSION = {
    "key": "key", "at": "begun_at", "sort": "sort", "day": "day", "ending": "ending",
    "done": "items_done", "planned": "items_planned", "version": "programme__version",
    "voice": "voice", "place": "place", "ended_at": "ended_at", "device": "device",
    "hours_since_medication": "hours_since_medication",
    "helped_by": Coalesce("helper__name", Value("")),
}  # fmt: skip
#: Columns that tell what happened on each day and where.
DAYS = {
    name: SESSION[name]
    for name in ("key", "at", "sort", "day", "ending", "done", "planned", "place", "helped_by")
}
ALONE = {name: RULED[name] for name in ("key", "task", "session", "at", "outcome")}
STOP = {
    "key": "key", "flags": "flags", "tier": "tier", "pauses": "pauses", "said_at": "said_at",
    "received_at": "received_at", "cleared_at": "cleared_at", "cancelled_at": "cancelled_at",
    "session": "session_key", "comment": "comment", "cleared_because": "cleared_because",
}  # fmt: skip
DECISION = {
    "step": "step", "reason": "reason", "at": "decided_at", "task": "task",
    "accepted": "accepted", "refusal_reason": "refusal_reason", "undone_at": "undone_at",
    "facts": "facts", "evidence": "evidence", "created_version": "created_version__version",
}  # fmt: skip
