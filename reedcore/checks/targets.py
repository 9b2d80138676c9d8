"""Rules about what is asked for."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from reedcore.devices.levels import CEILING_ABOVE_FLOOR_DB
from reedcore.ladders import rung_at_or_under_s

from .plan import Finding, Fix, FixKind, Item, Level, Person, Plan
from .registry import rule

#: Not over this share of the best, and not more than this in a week (conventions).
OF_BEST, A_WEEK = 1.20, 1.20
#: Rungs are whole: a step that rounding makes a little larger is still that step.
SLACK = 1e-6
#: What the weekly step does not cover: breath counts and hisses.
FREE_FAMILIES = ("breath",)


@rule
def over_best(plan: Plan, person: Person) -> Iterator[Finding]:
    """A hold is asked for that lies over 120 % of the client's best."""
    for item in plan.items:
        best = item.best_s
        if best is not None and _exceeds(item, OF_BEST * best):
            facts = {"seconds": item.seconds, "best": best, "share": (item.seconds or 0.0) / best}
            yield _too_long("over_best", item, facts, OF_BEST * best)


@rule
def step_too_large(plan: Plan, person: Person) -> Iterator[Finding]:
    """More than 20 % over last week's target."""
    for item in plan.items:
        before = item.before_s
        if before is not None and _exceeds(item, A_WEEK * before):
            facts = {"seconds": item.seconds, "before": before}
            yield _too_long("step_too_large", item, facts, A_WEEK * before)


def _exceeds(item: Item, most_s: float) -> bool:
    asked = item.seconds
    return asked is not None and item.family not in FREE_FAMILIES and asked > most_s + SLACK


def _too_long(code: str, item: Item, facts: dict[str, Any], most_s: float) -> Finding:
    fix = Fix(FixKind.SET_SECONDS, rung_at_or_under_s(most_s))
    return Finding(Level.WARN, code, item.id, facts, fix)


@rule
def floor_without_ceiling(plan: Plan, person: Person) -> Iterator[Finding]:
    """A floor always has a safety ceiling."""
    for item in plan.items:
        if item.floor_db is not None and item.ceiling_db is None:
            ceiling = item.floor_db + CEILING_ABOVE_FLOOR_DB
            yield Finding(
                Level.STOP,
                "floor_without_ceiling",
                item.id,
                {"floor": item.floor_db},
                Fix(FixKind.SET_CEILING, ceiling),
            )


@rule
def ceiling_too_high(plan: Plan, person: Person) -> Iterator[Finding]:
    """A safety ceiling lies at most 10 dB above its floor."""
    for item in plan.items:
        floor, ceiling = item.floor_db, item.ceiling_db
        if floor is not None and ceiling is not None and ceiling > floor + CEILING_ABOVE_FLOOR_DB:
            yield Finding(
                Level.STOP,
                "ceiling_too_high",
                item.id,
                {"ceiling": ceiling, "most": floor + CEILING_ABOVE_FLOOR_DB},
                Fix(FixKind.SET_CEILING, floor + CEILING_ABOVE_FLOOR_DB),
            )


@rule
def loud_and_soft_at_once(plan: Plan, person: Person) -> Iterator[Finding]:
    """One task is asked to be loud and to stay soft."""
    for item in plan.items:
        if (
            item.is_loud
            and item.ceiling_db is not None
            and item.ceiling_db <= (item.floor_db or 3.0)
        ):
            yield Finding(Level.STOP, "loud_and_soft_at_once", item.id, {}, Fix(FixKind.DROP_FLOOR))


@rule
def no_reason(plan: Plan, person: Person) -> Iterator[Finding]:
    """Every task has a reason, or the client is right to ask."""
    for item in plan.items:
        if not item.reason.strip():
            yield Finding(Level.HINT, "no_reason", item.id)
