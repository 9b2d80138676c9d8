"""Rules about targets."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from reedcore.devices.levels import CEILING_ABOVE_FLOOR_DB, HIGHEST_CEILING_DB_SPL
from reedcore.ladders import rung_at_or_under_s

from .plan import CheckedItem, Finding, Fix, FixKind, Person, Plan, Severity
from .registry import rule

#: Limits (conventions): share of the best that warns, share that stops, and the largest increase in
#: a week.
OF_BEST, FAR_OF_BEST, A_WEEK = 1.20, 1.50, 1.20
#: Maximum ceiling above the comfortable voice without a calibrated device.
HIGHEST_ABOVE_COMFORT_DB = 20.0
#: Rungs are rounded: a slightly larger step is still one rung.
SLACK = 1e-6
#: Exempt from the weekly step: breath counts and hisses.
FREE_OF_STEPS = ("breath",)
#: Smallest increase that is checked: one centimetre of water, one minute of loud voice.
SMALLEST_CMH2O, SMALLEST_LOUD_S = 1.0, 60.0


@rule
def over_best(plan: Plan, person: Person) -> Iterator[Finding]:
    """A hold is longer than 120 % of the client's best (warning) or 150 % (stop)."""
    for item in plan.items:
        best = item.best_s
        if best is not None and not item.glides and _exceeds(item, OF_BEST * best):
            facts = {"seconds": item.seconds, "best": best, "share": (item.seconds or 0.0) / best}
            far = _exceeds(item, FAR_OF_BEST * best)
            level = Severity.STOP if far else Severity.WARN
            yield _too_long_finding("over_best", item, facts, OF_BEST * best, level)


@rule
def step_too_large(plan: Plan, person: Person) -> Iterator[Finding]:
    """More than 20 % over last week's target."""
    for item in plan.items:
        before = item.before_s
        free = item.family in FREE_OF_STEPS
        if before is not None and not free and _exceeds(item, A_WEEK * before):
            facts = {"seconds": item.seconds, "before": before}
            yield _too_long_finding("step_too_large", item, facts, A_WEEK * before)


@rule
def pressure_step_too_large(plan: Plan, person: Person) -> Iterator[Finding]:
    """More than 20 % over last week's back pressure: a deeper or narrower straw."""
    for item in plan.items:
        now, before = item.pressure_cmh2o, item.before_cmh2o
        if now is None or before is None:
            continue
        if now > max(A_WEEK * before, before + SMALLEST_CMH2O) + SLACK:
            yield Finding(
                Severity.WARN, "pressure_step_too_large", item.id, {"now": now, "before": before}
            )


@rule
def loud_step_too_large(plan: Plan, person: Person) -> Iterator[Finding]:
    """More than 20 % over last week's strong voice a day, all programmes in force together."""
    now, before = plan.day_loud_s + plan.beside_loud_s, plan.before_loud_s
    if before and now > max(A_WEEK * before, before + SMALLEST_LOUD_S) + SLACK:
        facts = {"seconds": now, "before": before}
        yield Finding(Severity.WARN, "loud_step_too_large", None, facts)


def _exceeds(item: CheckedItem, most_s: float) -> bool:
    seconds = item.seconds
    return seconds is not None and seconds > most_s + SLACK


def _too_long_finding(
    code: str,
    item: CheckedItem,
    facts: dict[str, Any],
    most_s: float,
    level: Severity = Severity.WARN,
) -> Finding:
    fix = Fix(FixKind.SET_SECONDS, rung_at_or_under_s(most_s))
    return Finding(level, code, item.id, facts, fix)


@rule
def floor_without_ceiling(plan: Plan, person: Person) -> Iterator[Finding]:
    """A floor has no safety ceiling."""
    for item in plan.items:
        if item.floor_db is not None and item.ceiling_db is None:
            ceiling = min(item.floor_db + CEILING_ABOVE_FLOOR_DB, _highest_db(person))
            yield Finding(
                Severity.STOP,
                "floor_without_ceiling",
                item.id,
                {"floor": item.floor_db},
                Fix(FixKind.SET_CEILING, ceiling),
            )


@rule
def ceiling_too_high(plan: Plan, person: Person) -> Iterator[Finding]:
    """A safety ceiling is more than 10 dB above its floor, or above the absolute limit."""
    for item in plan.items:
        floor, ceiling = item.floor_db, item.ceiling_db
        most = _highest_db(person)
        if floor is not None:
            most = min(most, floor + CEILING_ABOVE_FLOOR_DB)
        if ceiling is not None and ceiling > most + SLACK:
            yield Finding(
                Severity.STOP,
                "ceiling_too_high",
                item.id,
                {"ceiling": ceiling, "most": most},
                Fix(FixKind.SET_CEILING, most),
            )


def _highest_db(person: Person) -> float:
    """Return the upper limit of every ceiling relative to the comfortable voice: 95 dB SPL at 30 cm
    on a calibrated device, else 20 dB above it."""
    if person.comfortable_db_spl is None:
        return HIGHEST_ABOVE_COMFORT_DB
    return min(HIGHEST_ABOVE_COMFORT_DB, HIGHEST_CEILING_DB_SPL - person.comfortable_db_spl)


@rule
def loud_without_level(plan: Plan, person: Person) -> Iterator[Finding]:
    """A loud task has neither a floor nor a ceiling."""
    for item in plan.items:
        levelled = item.floor_db is not None or item.ceiling_db is not None
        if item.is_loud and item.part.is_voiced and not levelled:
            fix = Fix(FixKind.SET_CEILING, _highest_db(person))
            yield Finding(Severity.WARN, "loud_without_level", item.id, {}, fix)


@rule
def loud_and_soft_at_once(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: a task must be loud and soft at once."""
    for item in plan.items:
        if (
            item.is_loud
            and item.ceiling_db is not None
            and item.ceiling_db <= (item.floor_db or 3.0)
        ):
            yield Finding(
                Severity.STOP, "loud_and_soft_at_once", item.id, {}, Fix(FixKind.DROP_FLOOR)
            )


@rule
def no_start_note(plan: Plan, person: Person) -> Iterator[Finding]:
    """A scale or pattern has no start note, so its tones cannot be played nor its pitch judged."""
    for item in plan.items:
        if item.lacks_start:
            yield Finding(Severity.HINT, "no_start_note", item.id)


@rule
def no_reason(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: a task has no reason that the client could be given."""
    for item in plan.items:
        if not item.reason.strip():
            yield Finding(Severity.HINT, "no_reason", item.id)
