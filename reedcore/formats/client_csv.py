"""A client's sessions and programme as CSV."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime


@dataclass(frozen=True, slots=True)
class SessionRow:
    """A session. Times have an offset; None means not asked or unknown."""

    session_id: str
    client: str
    begun_at: datetime
    ended_at: datetime | None
    programme_version: int
    sort: str
    voice_today: str
    place: str
    ending: str
    items_done: int
    items_planned: int
    tries: int
    effort_mean_of_10: float | None
    strain_said: bool | None
    bother_of_10: int | None
    hours_since_medication: float | None
    device: str
    comments: str
    felt: str = ""
    after_breath: str = ""
    depth_cm: float | None = None
    skipped: str = ""
    helped_by: str = ""


@dataclass(frozen=True, slots=True)
class ProgrammeRow:
    """A task of one version, on its note and sound."""

    client: str
    programme_version: int
    from_day: date
    reason: str
    position: int
    task: str
    measure: str
    note: str | None
    sound: str
    target_s: float | None
    seconds_counted: str
    tries: int
    sessions_a_day: int | None
    days_a_week: int | None
