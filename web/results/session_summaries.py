"""Trials gathered into what is drawn: a session, or a week, as one reed and one point."""

from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median
from zoneinfo import ZoneInfo

from reedcore.targets import Part
from reedcore.targets.judging import Why
from web.practice.models import Trial
from web.practice.presenters import HEADS

from .series import Row, Series


@dataclass(frozen=True)
class SessionSummary:
    """The trials of one series in one session (or one week), oldest first.

    Attributes:
        value: the median of what its task is about; None where nothing was measured.
        shown: the trial that lies nearest to it.
        outcome: on target when at least half of the judged trials were.
        head: level as the head of the reed: full, half, open, or none.
    """

    key: str
    on: date
    rows: tuple[Row, ...]
    shown: Row
    value: float | None
    longest: float | None
    asked_s: float | None
    lean_cents: float | None
    spread_cents: float | None
    level_db: float | None
    breaks: list[dict]
    outcome: str
    head: str | None
    device: str

    @property
    def met(self) -> int:
        """How many were on target."""
        return sum(row.outcome == Trial.Outcome.MET for row in self.rows)

    @property
    def judged(self) -> int:
        """Of how many that were judged."""
        return sum(row.outcome != Trial.Outcome.NOT_JUDGED for row in self.rows)


def session_of(row: Row, zone: ZoneInfo) -> str:
    """Its session; what came from before there were sessions is gathered by the day."""
    return str(row.session or row.at.astimezone(zone).date())


def week_of(row: Row, zone: ZoneInfo) -> str:
    """The Monday of its week."""
    day = row.at.astimezone(zone).date()
    return (day - timedelta(days=day.weekday())).isoformat()


def summaries_of(
    series: Series, rows: list[Row], zone: ZoneInfo, by: Callable[[Row, ZoneInfo], str] = session_of
) -> list[SessionSummary]:
    """The trials of a series, gathered; in the order in which they began."""
    gathered: dict[str, list[Row]] = defaultdict(list)
    for row in rows:
        if row.task in series.asked:
            gathered[by(row, zone)].append(row)
    return [_summary(key, series, tuple(found), zone) for key, found in gathered.items()]


def device_of(row: Row) -> str:
    """The microphone and browser it was heard through; empty where none was named."""
    return device_named(row.capture)


def device_named(capture: dict) -> str:
    """The same, of what a browser told."""
    named = (capture.get("device", ""), capture.get("browser", ""))
    return ", ".join(part for part in named if part)


def _summary(key, series, rows, zone):
    values = [series.figure.of(row, series.counts) for row in rows]
    known = [value for value in values if value is not None]
    value = median(known) if known else None
    shown = rows[_nearest(values, value)]
    met = sum(row.outcome == Trial.Outcome.MET for row in rows)
    judged = sum(row.outcome != Trial.Outcome.NOT_JUDGED for row in rows)
    outcome = Trial.Outcome.NOT_JUDGED
    if judged:
        outcome = Trial.Outcome.MET if 2 * met >= judged else Trial.Outcome.NOT_MET
    last = rows[-1]
    return SessionSummary(
        key=key,
        on=rows[0].at.astimezone(zone).date(),
        rows=rows,
        shown=shown,
        value=value,
        longest=max(known, default=None),
        asked_s=last.set_s or series.asked[last.task],
        lean_cents=_median(row.end_error_cents for row in rows),
        spread_cents=_median(row.spread_cents for row in rows),
        level_db=_median(row.level_db for row in rows),
        breaks=shown.breaks,
        outcome=outcome,
        head=_head(shown),
        device=next((device_of(row) for row in reversed(rows) if device_of(row)), ""),
    )


def _nearest(values, middle):
    if middle is None:
        return 0
    known = [
        (abs(value - middle), place) for place, value in enumerate(values) if value is not None
    ]
    return min(known)[1] if known else 0


def _median(values):
    known = [value for value in values if value is not None]
    return median(known) if known else None


def _head(row):
    for part in row.parts:
        if part["part"] == Part.LEVEL:
            return HEADS.get(Why(part["why"]))
    return None
