"""The series of a client (a task on its note and sound), and every trial of one of them."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import NamedTuple
from uuid import UUID

from django.db.models import Count, Max

from reedcore.progress import Better
from web.decisions.deciding import series_key
from web.practice.asked import Asked
from web.practice.models import Trial
from web.practice.wording import title_of
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name


class Row(NamedTuple):
    """What is read of a trial."""

    key: UUID
    task: int
    session: UUID | None
    at: datetime
    source: str
    outcome: str
    set_s: float | None
    total_s: float | None
    steady_s: float | None
    error_cents: float | None
    end_error_cents: float | None
    spread_cents: float | None
    share_on_pitch: float | None
    level_db: float | None
    breaks: list
    figures: dict
    parts: list
    capture: dict
    since_medication_h: float | None


_COLUMNS = [
    {
        "at": "performed_at",
        "since_medication_h": "session__hours_since_medication",
    }.get(name, name)
    for name in Row._fields
]


@dataclass(frozen=True)
class Figure:
    """What of a series is drawn: the figure that its task is about."""

    name: str
    unit: str
    better: Better

    @property
    def short_unit(self) -> str:
        """Where there is little room."""
        return "st" if self.unit == "semitones" else self.unit

    def of(self, row: Row, counts: str) -> float | None:
        """Its value in one trial; None where it was not measured."""
        if self.name == "span":
            return row.figures.get("semitones")
        if self.name == "notes on pitch":
            return None if row.share_on_pitch is None else 100.0 * row.share_on_pitch
        if counts == PrescribedTask.Counts.STEADY and row.steady_s is not None:
            return row.steady_s
        return row.total_s


HELD = Figure("held", "s", Better.HIGHER)
_FIGURES = {
    "glide": Figure("span", "semitones", Better.HIGHER),
    "pattern": Figure("notes on pitch", "%", Better.HIGHER),
    "compound": Figure("“s” and “z” together", "s", Better.HIGHER),
    "script": Figure("voiced", "s", Better.HIGHER),
}
#: Measures whose trials have something to draw.
DRAWN = ("hold", "hiss", "glide", "pattern", "compound", "script")


@dataclass
class Series:
    """One task on its note and sound, through every version that asked for it."""

    key: str
    title: str
    code: str
    sound: str
    measure: str
    note_midi: int | None
    counts: str
    loud: bool
    #: Seconds asked for, by the prescribed task's key.
    asked: dict[int, float | None] = field(default_factory=dict)
    trials: int = 0
    newest: datetime | None = None
    last_version: int = 0
    in_force: bool = False

    @property
    def figure(self) -> Figure:
        """What is drawn of it."""
        return _FIGURES.get(self.measure, HELD)

    @property
    def family(self) -> tuple:
        """The same task on whatever note."""
        return self.code, self.sound, self.measure


def series_of(client, catalogue) -> list[Series]:
    """Every series of a client that was tried, those in force first, the newest first."""
    tasks = PrescribedTask.objects.filter(programme__client=client, measure__in=DRAWN)
    tasks = tasks.select_related("programme").defer("programme__document")
    found: dict[str, Series] = {}
    newest = 0
    for task in tasks.order_by("programme__version", "position"):
        task.programme.client = client
        newest = max(newest, task.programme.version)
        asked = Asked(task, catalogue)
        series = found.get(series_key(task))
        if series is None:
            series = found[series_key(task)] = Series(
                key=series_key(task),
                title=title_of(asked, note=note_name(task)),
                code=task.task_code,
                sound=task.sound,
                measure=task.measure,
                note_midi=task.note_midi,
                counts=task.counts,
                loud=bool(asked.shipped and asked.shipped.is_loud),
            )
        series.asked[task.pk] = task.target_s
        series.counts = task.counts
        series.last_version = task.programme.version
    for series in found.values():
        series.in_force = series.last_version == newest
    _count(found, client)
    return sorted(
        (each for each in found.values() if each.trials),
        key=lambda each: (not each.in_force, each.measure != "hold", -each.newest.timestamp()),
    )


def _count(found, client):
    counted = Trial.objects.filter(client=client).exclude(role="poor").values("task")
    by_task = {
        each["task"]: each for each in counted.annotate(n=Count("key"), at=Max("performed_at"))
    }
    for series in found.values():
        here = [by_task[pk] for pk in series.asked if pk in by_task]
        series.trials = sum(each["n"] for each in here)
        series.newest = max((each["at"] for each in here), default=None)


def rows_of(client, series: list[Series]) -> list[Row]:
    """Every trial of these series, oldest first; deliberate poor ones are left out."""
    tasks = [pk for each in series for pk in each.asked]
    trials = Trial.objects.filter(client=client, task__in=tasks).exclude(role="poor")
    return [Row(*row) for row in trials.order_by("performed_at", "key").values_list(*_COLUMNS)]
