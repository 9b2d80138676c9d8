"""Rules about how much and how often."""

from __future__ import annotations

from collections.abc import Iterator

from reedcore.dose import DoseKind, session_time
from reedcore.safety import CHILD_SESSION_S, LUNG_SHARE

from .plan import Finding, Fix, FixKind, Person, Plan, ProgrammeType, School, Severity
from .registry import rule

#: Usual session length by type (conventions): soft block, mixed or loud session, reset, before an
#: event.
BLOCK_S, MIXED_S = (10 * 60.0, 20 * 60.0), (15 * 60.0, 30 * 60.0)
RESET_S, EVENT_S = (0.0, 60.0), (10 * 60.0, 20 * 60.0)


@rule
def session_over_cap(plan: Plan, person: Person) -> Iterator[Finding]:
    """Longer than the cap; a child's session has a lower one."""
    seconds = session_time(item.part for item in plan.items).seconds
    cap_s = _cap_s(plan, person)
    if seconds > cap_s:
        facts = {"seconds": seconds, "cap": cap_s}
        yield Finding(Severity.STOP, "session_over_cap", None, facts)


@rule
def session_unusual(plan: Plan, person: Person) -> Iterator[Finding]:
    """Shorter or longer than sessions of its kind usually are."""
    usual = None if person.is_child else _usual_s(plan)
    seconds = session_time(item.part for item in plan.items).seconds
    if usual is None:
        return
    shortest, longest = usual
    if plan.items and seconds <= _cap_s(plan, person) and not shortest <= seconds <= longest:
        facts = {"seconds": seconds, "from": shortest, "to": longest}
        yield Finding(Severity.HINT, "session_unusual", None, facts)


def _cap_s(plan: Plan, person: Person) -> float:
    return min(plan.session_cap_s, CHILD_SESSION_S) if person.is_child else plan.session_cap_s


def _usual_s(plan: Plan) -> tuple[float, float] | None:
    """Return the usual length, from and to; None for types without one."""
    if plan.sort is ProgrammeType.FULL:
        return BLOCK_S if plan.school is School.SOFT else MIXED_S
    return {ProgrammeType.RESET: RESET_S, ProgrammeType.EVENT: EVENT_S}.get(plan.sort)


@rule
def no_rest_day(plan: Plan, person: Person) -> Iterator[Finding]:
    """There is no weekly rest day, and the programme is not a daily one."""
    dated = plan.dose.kind is DoseKind.SLOTS
    if dated and plan.dose.rest_days == 0 and not plan.daily_for_life:
        yield Finding(Severity.WARN, "no_rest_day", None, {}, Fix(FixKind.DROP_DAY, 6))


@rule
def too_much_voice_a_day(plan: Plan, person: Person) -> Iterator[Finding]:
    """More voiced minutes a day than the cap, all programmes in force together."""
    voiced = plan.day_voiced_s + plan.beside_voiced_s
    if voiced > plan.day_voiced_cap_s:
        facts = {"seconds": voiced, "cap": plan.day_voiced_cap_s}
        yield Finding(Severity.WARN, "too_much_voice_a_day", None, facts)


@rule
def no_short_day(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: there is no short version for a bad day."""
    whole = plan.sort in (ProgrammeType.FULL, ProgrammeType.MAINTENANCE)
    if whole and plan.items and not any(item.is_in_short_day for item in plan.items):
        first = next((item.id for item in plan.items if item.part.is_voiced), None)
        fix = Fix(FixKind.MARK_SHORT, first) if first else None
        yield Finding(Severity.HINT, "no_short_day", None, {}, fix)


@rule
def event_full_effort(plan: Plan, person: Person) -> Iterator[Finding]:
    """Shortly before an event the voice works under full effort."""
    if plan.sort is not ProgrammeType.EVENT:
        return
    for item in plan.items:
        seconds, best = item.seconds, item.best_s
        maximal = seconds is not None and best is not None and seconds > LUNG_SHARE * best
        if item.is_loud or item.all_the_air or maximal:
            yield Finding(Severity.WARN, "event_full_effort", item.id)
