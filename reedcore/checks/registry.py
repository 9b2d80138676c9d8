"""The rules, in the order in which they were written down; findings come most serious first."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from .plan import Finding, Person, Plan, Severity

Rule = Callable[[Plan, Person], Iterator[Finding]]
RULES: dict[str, Rule] = {}
_ORDER = {Severity.STOP: 0, Severity.WARN: 1, Severity.HINT: 2}


def rule(function: Rule) -> Rule:
    """Add a rule to the registry under its own name."""
    RULES[function.__name__] = function
    return function


def check(plan: Plan, person: Person) -> tuple[Finding, ...]:
    """Return the findings of every rule, the most serious first, then in session order."""
    found = [finding for each in RULES.values() for finding in each(plan, person)]
    places = {item.id: place for place, item in enumerate(plan.items)}
    return tuple(
        sorted(
            found,
            key=lambda each: (_ORDER[each.level], places.get(each.item or "", len(places))),
        )
    )
