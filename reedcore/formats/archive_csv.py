"""Tables that only a client's whole archive holds."""

from __future__ import annotations

from dataclasses import dataclass

from .table_csv import column


@dataclass(frozen=True, slots=True)
class ChangeRow:
    """A changed field of the record."""

    at: str = column("when it was saved, with its offset")
    by: str = column("by whom; empty where that is not known")
    why: str = column("the reason on record; empty where there is none")
    what: str = column("the field; empty where only the reason says what was done")
    before: str = column("what stood there")
    after: str = column("what stands there since")


@dataclass(frozen=True, slots=True)
class TraceRow:
    """A step of the trace of a trial."""

    try_key: str = column("key of the try, as in the table of tries")
    at_s: float = column("from the start of the hold", "s")
    pitch_cents: float | None = column("from A4 at 440 Hz; empty where there is none", "cent")
    level_dbfs: float | None = column("against a full-scale sine; empty where not known", "dB")
