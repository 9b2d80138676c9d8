"""A series: one task on its note and sound, through all versions with it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from statistics import median

from reedcore.measures import Figure, kind_of

from .figures import figure_of, value_of
from .history import History
from .values import TrialRecord


@dataclass
class Series:
    """One task on its note and sound.

    Attributes:
        counts: "total" or "steady" seconds, as asked last.
        asked: seconds asked for, by the prescribed task's key.
    """

    key: str
    code: str
    sound: str
    measure: str
    note_midi: int | None
    counts: str
    is_loud: bool = False
    targets: dict[int, float | None] = field(default_factory=dict)

    @property
    def figure(self) -> Figure:
        """Return the figure that is drawn."""
        return figure_of(self.measure)

    def value_of(self, trial: TrialRecord) -> float | None:
        """Return its value in one trial; None if it was not measured."""
        return value_of(self.figure, trial, self.counts)

    @property
    def family(self) -> tuple[str, str, str]:
        """Return the same task on any note."""
        return self.code, self.sound, self.measure


def series_key(code: str, note_midi: int | None, sound: str, measure: str) -> str:
    """Return a series as one word, for addresses and files."""
    parts = (code, note_midi, sound, measure)
    return "/".join("" if part is None else str(part) for part in parts)


def series_of(history: History) -> list[Series]:
    """Return every series that has something to draw and was tried, in the order of
    the versions."""
    found: dict[str, Series] = {}
    for task in history.prescribed_items.values():
        if kind_of(task.measure).figure is None:
            continue
        key = series_key(*task.series)
        series = found.setdefault(
            key,
            Series(key, task.code, task.sound, task.measure, task.note_midi, task.counts),
        )
        series.targets[task.key] = task.target_s
        series.counts = task.counts
        series.is_loud = series.is_loud or task.is_loud
    tried = {trial.task for of in history.by_series.values() for trial in of}
    return [series for series in found.values() if tried & set(series.targets)]


@dataclass(frozen=True)
class SessionSummary:
    """The trials of one series in one session (or one week), oldest first.

    Attributes:
        value: the median of what its task is about; None where nothing was measured.
        shown: the trial that lies nearest to it.
        outcome: on target when at least half of the judged trials were.
    """

    key: str
    on: date
    rows: tuple[TrialRecord, ...]
    shown: TrialRecord
    value: float | None
    longest: float | None
    asked_s: float | None
    lean_cents: float | None
    spread_cents: float | None
    level_db: float | None
    outcome: str
    device: str

    @property
    def met(self) -> int:
        """Return how many were on target."""
        return sum(row.outcome == "met" for row in self.rows)

    @property
    def judged_trials(self) -> int:
        """Return the number of judged trials."""
        return sum(row.outcome != "not_judged" for row in self.rows)


def session_of(trial: TrialRecord) -> str:
    """Return its session; trials from before sessions existed are grouped by day."""
    return str(trial.session or trial.on)


def week_of(trial: TrialRecord) -> str:
    """Return the Monday of its week."""
    return (trial.on - timedelta(days=trial.on.weekday())).isoformat()


def summaries_of(
    series: Series, trials: Iterable[TrialRecord], by: Callable[[TrialRecord], str] = session_of
) -> list[SessionSummary]:
    """Return the trials of a series, gathered; in the order in which they began."""
    gathered: dict[str, list[TrialRecord]] = defaultdict(list)
    for trial in trials:
        if trial.task in series.targets:
            gathered[by(trial)].append(trial)
    return [_summary(key, series, tuple(found)) for key, found in gathered.items()]


def _summary(key: str, series: Series, trials: tuple[TrialRecord, ...]) -> SessionSummary:
    values = [series.value_of(trial) for trial in trials]
    known = [value for value in values if value is not None]
    value = median(known) if known else None
    met = sum(trial.outcome == "met" for trial in trials)
    judged = sum(trial.outcome != "not_judged" for trial in trials)
    outcome = "not_judged"
    if judged:
        outcome = "met" if 2 * met >= judged else "not_met"
    last = trials[-1]
    return SessionSummary(
        key=key,
        on=trials[0].on,
        rows=trials,
        shown=trials[_nearest(values, value)],
        value=value,
        longest=max(known, default=None),
        asked_s=last.set_s or series.targets[last.task],
        lean_cents=_median(trial.end_error_cents for trial in trials),
        spread_cents=_median(trial.spread_cents for trial in trials),
        level_db=_median(trial.level_db for trial in trials),
        outcome=outcome,
        device=next((trial.device for trial in reversed(trials) if trial.device), ""),
    )


def _nearest(values: Sequence[float | None], middle: float | None) -> int:
    if middle is None:
        return 0
    known = [
        (abs(value - middle), place) for place, value in enumerate(values) if value is not None
    ]
    return min(known)[1] if known else 0


def _median(values: Iterable[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return median(known) if known else None
