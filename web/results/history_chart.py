"""The reed chart and the plain line: two drawings of the same summaries."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

from django.utils.safestring import SafeString
from django.utils.translation import gettext

from reedcore.history import Figure
from reedcore.history.series import SessionSummary
from reedcore.progress import Course, Trend
from reedcore.targets import Aspect
from reedcore.targets.judging import VerdictReason
from web.practice.presenters import HEADS
from web.record.models import Trial
from web.ui.dates import month_day, short_day
from web.ui.reeds import Scale, small_stem, water_steps

from . import reed_marks

WIDTH, LEFT, RIGHT, TOP = 1216, 52, 1208, 26
#: Below the ground: days, missed days and effort.
BELOW = 66
#: Practice days of a typical week before the first practice.
DAYS_A_WEEK = 5
#: Space for the label of a break, so that labels do not overlap.
LABEL_PX = 250
SESSION_STEP_PX, LEAN_PX = 15.0, 5.0


@dataclass(frozen=True)
class BedReed:
    key: str
    x: float
    #: Area that reacts to a press.
    reach: str
    path: str
    state: str
    head: str | None
    tip: tuple[float, float]
    title: str
    link: str
    is_chosen: bool
    effort_r: float | None
    effort_words: str

    @property
    def y(self) -> float:
        """Return where the plain line has its point."""
        return self.tip[1]


@dataclass(frozen=True)
class SeriesBreak:
    """Across which something is not joined."""

    x: float
    words: str
    is_level_only: bool


@dataclass(frozen=True)
class HistoryChart:
    """The data of the drawing, and a sentence that describes it."""

    title: str
    height: int
    ground: float
    water: str
    surface: str
    band: tuple[float, float] | None
    ticks: list[tuple[str, float]]
    days: list[tuple[float, str]]
    reeds: list[BedReed]
    breaks: list[SeriesBreak]
    versions: list[tuple[float, str]]
    missed: list[float]
    line: str
    trend: str
    spoken: str
    width: int = WIDTH
    left: int = LEFT
    right: int = RIGHT
    top: int = TOP

    @property
    def stems(self) -> SafeString:
        """Return its reeds."""
        return reed_marks.stems(self.reeds)

    @property
    def points(self) -> SafeString:
        """Return the same as points of a line."""
        return reed_marks.points(self.reeds)

    @property
    def chosen_height(self) -> float:
        """Return the height of the frame around the chosen reed."""
        return self.ground - self.top + 10

    @property
    def has_links(self) -> bool:
        """Return whether its reeds are links."""
        return any(reed.link for reed in self.reeds)

    @property
    def has_effort(self) -> bool:
        """Return whether any of them has a reported effort."""
        return any(reed.effort_r for reed in self.reeds)


@dataclass(frozen=True)
class ChartedSession:
    """A session of a chart with its annotations."""

    first: date
    last: date
    figure: Figure
    course: Course | None
    chosen: str = ""
    titles: dict[str, str] = field(default_factory=dict)
    links: dict[str, str] = field(default_factory=dict)
    efforts: dict[str, float] = field(default_factory=dict)
    breaks: list[tuple[date, str, bool]] = field(default_factory=list)
    versions: list[tuple[date, str]] = field(default_factory=list)
    missed: list[date] = field(default_factory=list)
    #: Right edge of the chart, and a common scale for charts to compare.
    right: int = RIGHT
    below: int = BELOW
    top_value: float = 0.0


def chart_of(
    summaries: list[SessionSummary], shown: ChartedSession, *, title: str, height: int = 300
) -> HistoryChart | None:
    """Return the drawing of the summaries in the period; None if none was measured."""
    within = [each for each in summaries if shown.first <= each.on <= shown.last]
    drawn = [each for each in within if each.value is not None]
    if not drawn:
        return None
    ground = height - shown.below
    band = _band(shown.course)
    top = max(
        [1.0, shown.top_value, *(max(each.value or 0.0, each.asked_s or 0.0) for each in drawn)]
    )
    top = max(top, band[1] if band and band[1] < 1.5 * top else top) * 1.1
    scale = Scale(ground=ground, px_per_s=(ground - TOP) / top)
    places = _places(within, shown)
    surface = water_steps(_targets(drawn, places, shown), left=LEFT, right=shown.right, scale=scale)
    return HistoryChart(
        title=title,
        height=height,
        ground=ground,
        water=f"{surface}L{shown.right} {ground}L{LEFT} {ground}Z" if surface else "",
        surface=surface,
        band=(scale.y(band[0]), scale.y(min(band[1], top))) if band else None,
        ticks=_ticks(top, scale, shown.figure),
        days=_days(shown),
        reeds=[_reed(each, places[each.key], scale, shown) for each in drawn],
        breaks=_breaks(shown),
        versions=[(_x(day, shown), words) for day, words in shown.versions if day >= shown.first],
        missed=[_x(day, shown) for day in shown.missed if shown.first <= day <= shown.last],
        line="M" + "L".join(f"{places[each.key]:.1f} {scale.y(each.value)}" for each in drawn),
        trend=_trend(shown.course.trend if shown.course else None, summaries, scale, shown),
        spoken=_chart_words(drawn, shown, title),
        width=shown.right + WIDTH - RIGHT,
        right=shown.right,
    )


def _x(day: date, shown: ChartedSession) -> float:
    count = (shown.last - shown.first).days + 1
    return round(LEFT + (day - shown.first).days * (shown.right - LEFT) / count, 1)


def _places(summaries: list[SessionSummary], shown: ChartedSession) -> dict[str, float]:
    """Return the position of each: summaries of one day are next to each other."""
    by_day: dict[date, list[SessionSummary]] = {}
    for each in summaries:
        by_day.setdefault(each.on, []).append(each)
    wide = (shown.right - LEFT) / ((shown.last - shown.first).days + 1)
    found = {}
    for day, todays in by_day.items():
        step = min(SESSION_STEP_PX, wide / len(todays))
        for place, each in enumerate(todays):
            found[each.key] = round(_x(day, shown) + step * (place + 0.5), 1)
    return found


def _targets(drawn: list[SessionSummary], places: Any, shown: ChartedSession) -> list[Any]:
    if shown.figure.unit != "s":
        return []
    found: list[tuple[float, float]] = []
    for each in drawn:
        if each.asked_s and (not found or found[-1][1] != each.asked_s):
            found.append((places[each.key] - 6, each.asked_s))
    return found


def _band(course: Course | None) -> tuple[float, float] | None:
    """Return the range of the baseline, and the change of a week's mean that is more than
    chance."""
    baseline = course.baseline if course else None
    if course is None or baseline is None:
        return None
    usual = baseline.limit(days=DAYS_A_WEEK, trials=baseline.trials, is_monitored=True)
    limit = course.change.limit if course.change else usual
    return max(0.0, baseline.mean - limit), baseline.mean + limit


def _reed(summary: SessionSummary, x: float, scale: Scale, shown: ChartedSession) -> BedReed:
    path = small_stem(
        x=x, seconds=summary.value, lean_cents=summary.lean_cents,
        spread_cents=summary.spread_cents, breaks=_gaps(summary, shown.figure), scale=scale,
        lean_px=LEAN_PX,
    )  # fmt: skip
    effort = shown.efforts.get(summary.key)
    lean = max(-1.0, min(1.0, (summary.lean_cents or 0.0) / 50.0)) * LEAN_PX
    return BedReed(
        key=summary.key,
        x=x,
        reach=f"M{x - 6:.1f} {TOP}h12v{scale.ground - 20 - TOP:.1f}h-12z",
        path=path,
        state=summary.outcome,
        head=head_of(summary.shown),
        tip=(round(x + lean, 1), scale.y(summary.value)),
        title=shown.titles.get(summary.key, ""),
        link=shown.links.get(summary.key, ""),
        is_chosen=summary.key == shown.chosen,
        effort_r=None if effort is None else round(1.2 + 0.55 * effort, 2),
        effort_words="" if effort is None else f"{effort:g}",
    )


def _gaps(summary: SessionSummary, figure: Figure) -> list[Any]:
    """Return the breaks; only a reed of seconds has a time axis for them."""
    if figure.unit != "s":
        return []
    return [(gap["start_s"], gap["end_s"]) for gap in summary.shown.breaks]


def _breaks(shown: ChartedSession) -> list[Any]:
    found, free_from = [], 0.0
    for day, words, level_only in shown.breaks:
        if shown.first <= day <= shown.last:
            x = _x(day, shown)
            found.append(SeriesBreak(x, words if x >= free_from else "", level_only))
            if x >= free_from:
                free_from = x + LABEL_PX
    return found


def _ticks(top: float, scale: Scale, figure: Figure) -> list[tuple[str, float]]:
    every = next(step for step in (1, 2, 5, 10, 20, 50, 100) if top / step <= 6 or step == 100)
    values = list(range(every, int(top) + 1, every))
    unit = f" {figure.short_unit}"
    return [(f"{value}{unit if value == values[-1] else ''}", scale.y(value)) for value in values]


def _days(shown: ChartedSession) -> list[tuple[float, str]]:
    """Return the Mondays; where there are many, every second or fourth."""
    days = (shown.last - shown.first).days + 1
    every = 1 if days <= 20 else 7 if days <= 112 else 28
    day = shown.first
    if every > 1:
        day += timedelta(days=-day.weekday() % 7)
    found, month = [], None
    while day <= shown.last:
        label = short_day(day) if day.month != month else f"{day.day}"
        found.append((_x(day, shown), label))
        month, day = day.month, day + timedelta(days=every)
    return found


def _trend(
    trend: Trend | None, summaries: list[SessionSummary], scale: Scale, shown: ChartedSession
) -> str:
    """Return the Theil–Sen line over the days shown, with the days of the whole series under it."""
    if trend is None:
        return ""
    origin = min(each.on for each in summaries if each.value is not None)
    first, last = max(origin, shown.first), max(each.on for each in summaries)
    ends = [
        (_x(day, shown), scale.y(max(0.0, trend.intercept + trend.per_day * (day - origin).days)))
        for day in (first, min(last, shown.last))
    ]
    return "M" + "L".join(f"{x} {y}" for x, y in ends)


def _chart_words(drawn: list[SessionSummary], shown: ChartedSession, title: str) -> str:
    met = sum(each.outcome == Trial.Outcome.MET for each in drawn)
    unit = {"s": "seconds", "%": gettext("per cent")}.get(shown.figure.unit, shown.figure.unit)
    return gettext(
        "{title}: {drawn} from {on} to {on_2}, first {value:.1f}, "
        "last {value_2:.1f} {unit}, {met} on target."
    ).format(
        title=title,
        drawn=len(drawn),
        on=month_day(drawn[0].on),
        on_2=month_day(drawn[-1].on),
        value=drawn[0].value,
        value_2=drawn[-1].value,
        unit=unit,
        met=met,
    )


def head_of(trial: Any) -> str | None:
    """Return level as the head of the reed: full, half, open, or none."""
    for part in trial.parts:
        if part["part"] == Aspect.LEVEL:
            return HEADS.get(VerdictReason(part["why"]))
    return None
