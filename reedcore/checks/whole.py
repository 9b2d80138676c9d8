"""The check over all programmes that are in force together."""

from __future__ import annotations

from collections.abc import Iterable

from .plan import Finding, Person, Plan
from .registry import check

#: Report findings about the client or the day once for all programmes.
OF_ALL = frozenset(
    {
        "too_much_voice_a_day",
        "loud_step_too_large",
        "larynx_not_seen",
        "not_screened",
        "cautions_not_asked",
        "no_grown_up",
    }
)


def check_all(plans: Iterable[tuple[str, Plan]], person: Person) -> tuple[tuple[str, Finding], ...]:
    """Return each finding with the name of its programme; empty for the main one.

    A programme beside the main one that holds nothing yet is nothing to speak of.
    """
    found, reported = [], set()
    for name, plan in plans:
        for each in check(plan, person) if plan.items or not name else ():
            if not (each.code in OF_ALL and each.code in reported):
                found.append((name, each))
                reported.add(each.code)
    return tuple(found)
