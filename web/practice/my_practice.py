"""A client's own practice over time: days, and each held sound today, before and at first.

The figure is the median of a day's trials, which one hard try does not move: nothing here scores.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median
from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.measures import kind_of, measures_with
from reedcore.programme.session import is_rest_day
from web.catalogue.queries import all_tasks
from web.record.models import PrescribedTask, ProgrammeVersion, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name
from web.record.today import sessions_today
from web.ui.reeds import Scale

from .wording import title_of

if TYPE_CHECKING:
    from web.clients.models import Client

FIRST_WEEK = timedelta(days=7)
#: Days and weeks that are shown.
DAYS, WEEKS = 14, 8
#: Days ahead in which the next session is looked for.
AHEAD = 21
_WIDTH, _HEIGHT, _GROUND, _TOP = 420, 190, 150, 26
#: Every second week has its date under it, counted from the newest: all would overlap.
_LABEL_EVERY = 2


@dataclass(frozen=True)
class HeldWeek:
    """A week of one held sound: its Monday, and the median hold of its trials, s."""

    monday: date
    seconds: float


@dataclass(frozen=True)
class HeldProgress:
    """One held sound over time, s; None without a trial.

    Attributes:
        task: key of the prescribed task that is in force.
        first_week, last, today: the median of the first seven days of practice, of the last day
            before today, and of today.
        target: what is prescribed; None for none.
    """

    task: int
    title: str
    first_week: float | None
    last: float | None
    today: float | None
    target: float | None
    weeks: tuple[HeldWeek, ...]


@dataclass(frozen=True)
class Stem:
    """A week as it is drawn: its stem, its figure and its label, px."""

    x: float
    y: float
    seconds: float
    monday: date
    is_labelled: bool


@dataclass(frozen=True)
class WeeksPicture:
    """The weeks of one held sound, drawn as stems over a water line."""

    width: int
    height: int
    ground: int
    surface: float | None
    stems: tuple[Stem, ...]

    @property
    def water_height(self) -> float:
        """Return the height of the water, px."""
        return round(self.ground - (self.surface or self.ground), 1)


def held_progress(
    client: Client, programme: ProgrammeVersion, *, today: date
) -> list[HeldProgress]:
    """Return the progress of each held sound of a programme, in its order. A sound is followed over
    all versions by its measure, sound and note."""
    tasks = [task for task in programme.tasks.all() if kind_of(task.measure).can_be_steady]
    for task in tasks:
        task.programme = programme
    programme.client = client
    days = _days_of(client, tasks)
    catalogue = all_tasks(client.clinic)
    found = []
    for task in tasks:
        of_task = days.get(_series(task), {})
        title = title_of(PrescribedRow(task, catalogue), note=note_name(task))
        found.append(_progress(task, title, of_task, today))
    return found


def _progress(
    task: PrescribedTask, title: str, days: dict[date, list[float]], today: date
) -> HeldProgress:
    earlier = [day for day in sorted(days) if day < today]
    first = [day for day in earlier if day < earlier[0] + FIRST_WEEK] if earlier else []
    weeks: dict[date, list[float]] = defaultdict(list)
    for day, seconds in days.items():
        weeks[day - timedelta(days=day.weekday())] += seconds
    shown = sorted(weeks)[-WEEKS:]
    return HeldProgress(
        task=task.pk,
        title=title,
        first_week=_middle(second for day in first for second in days[day]),
        last=_middle(days[earlier[-1]]) if earlier else None,
        today=_middle(days.get(today, ())),
        target=task.target_s,
        weeks=tuple(HeldWeek(monday, float(_middle(weeks[monday]) or 0)) for monday in shown),
    )


def _middle(seconds: Iterable[float]) -> float | None:
    values = list(seconds)
    return round(median(values), 1) if values else None


def _series(task: PrescribedTask) -> tuple[Any, ...]:
    return (task.measure, task.sound, task.note_midi, task.counts)


def _days_of(
    client: Client, tasks: list[PrescribedTask]
) -> dict[tuple[Any, ...], dict[date, list[float]]]:
    """Return the seconds of the trials that count, by series and day."""
    if not tasks:
        return {}
    rows = (
        Trial.objects.counted()
        .filter(client=client, task__measure__in=measures_with("can_be_steady"), role="")
        .exclude(total_s=None)
        .values_list(
            "task__measure",
            "task__sound",
            "task__note_midi",
            "task__counts",
            "performed_at",
            "total_s",
            "steady_s",
        )
    )
    found: dict[tuple[Any, ...], dict[date, list[float]]] = defaultdict(lambda: defaultdict(list))
    for measure, sound, note, counts, at, total, steady in rows:
        day = at.astimezone(client.zone).date()
        is_steady = counts == PrescribedTask.Counts.STEADY and steady is not None
        held = steady if is_steady else total
        if held is not None:
            found[(measure, sound, note, counts)][day].append(held)
    return found


def practised_days(client: Client, *, today: date, days: int = DAYS) -> list[tuple[date, bool]]:
    """Return the last days up to today, each with whether the client practised: finished a task,
    or made a trial of a session that has not ended yet."""
    first = today - timedelta(days=days - 1)
    since = timezone.now() - timedelta(days=days + 1)
    sessions = client.sessions.filter(items_done__gt=0, begun_at__gte=since)
    trials = client.trials.counted().filter(performed_at__gte=since)
    times = [
        *sessions.values_list("begun_at", flat=True),
        *trials.values_list("performed_at", flat=True),
    ]
    on = {at.astimezone(client.zone).date() for at in times}
    return [(day, day in on) for day in (first + timedelta(days=n) for n in range(days))]


def next_day(programme: ProgrammeVersion, *, today: date) -> date | None:
    """Return the next day with a session, today if one is still due; None without dated ones."""
    prescribed = programme.prescribed
    if prescribed is None or not prescribed.dose.a_day:
        return None
    done = sessions_today(programme.client, now=timezone.now())
    times = sum(done.get(sort, 0) for sort in (prescribed.sort, "short"))
    if not is_rest_day(prescribed.dose, today) and times < prescribed.dose.a_day:
        return today
    ahead = (today + timedelta(days=n) for n in range(1, AHEAD + 1))
    return next((day for day in ahead if not is_rest_day(prescribed.dose, day)), None)


def weeks_picture(progress: HeldProgress) -> WeeksPicture:
    """Return the drawing of a held sound's weeks."""
    tallest = max([1.0, progress.target or 0, *(week.seconds for week in progress.weeks)])
    scale = Scale(ground=_GROUND, px_per_s=(_GROUND - _TOP) / (tallest * 1.1))
    step = _WIDTH / max(1, len(progress.weeks))
    return WeeksPicture(
        width=_WIDTH,
        height=_HEIGHT,
        ground=_GROUND,
        surface=scale.y(progress.target) if progress.target else None,
        stems=tuple(
            Stem(
                x=round(step * (n + 0.5), 1),
                y=scale.y(week.seconds),
                seconds=week.seconds,
                monday=week.monday,
                is_labelled=(len(progress.weeks) - 1 - n) % _LABEL_EVERY == 0,
            )
            for n, week in enumerate(progress.weeks)
        ),
    )
