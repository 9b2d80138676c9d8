"""Rules about the record: the screening, the larynx, and each caution."""

from __future__ import annotations

from collections.abc import Iterator

from reedcore.ladders import rung_at_or_under_s
from reedcore.safety import LUNG_SHARE, Caution, Forbidden
from reedcore.safety.cautions import SHORT_TRIAL_S

from .hazards import LONG_BREATH_S, hazards_of
from .plan import CheckedItem, Finding, Fix, FixKind, Person, Plan, Severity
from .registry import rule


@rule
def not_screened(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: red flags and cautions have not been screened."""
    if plan.items and not person.is_screened:
        yield Finding(Severity.STOP, "not_screened")


@rule
def larynx_not_seen(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: a voice complaint without a known laryngeal exam.

    Guideline: Otolaryngol Head Neck Surg 2018;158(1 suppl):S1–S42, before a course of therapy.
    """
    if plan.items and person.is_screened and not person.has_larynx_exam:
        yield Finding(Severity.STOP, "larynx_not_seen")


@rule
def cautions_not_asked(plan: Plan, person: Person) -> Iterator[Finding]:
    """Questions about cautions have come into use since the client was screened."""
    if plan.items and person.is_screened and person.cautions_not_asked:
        facts = {"count": len(person.cautions_not_asked), "first": min(person.cautions_not_asked)}
        yield Finding(Severity.WARN, "cautions_not_asked", None, facts)


@rule
def no_grown_up(plan: Plan, person: Person) -> Iterator[Finding]:
    """A child has no adult on the record who practises with them."""
    if plan.items and person.is_child and not person.has_adult_helper:
        yield Finding(Severity.STOP, "no_grown_up")


@rule
def caution_on_record(plan: Plan, person: Person) -> Iterator[Finding]:
    """A task does something that a caution forbids; reported per caution and task.

    If a treating clinician has allowed it, or if it only matters after a meal,
    the finding is a warning instead.
    """
    for item in plan.items:
        hazards = hazards_of(item, person)
        hits: dict[Caution, list[Forbidden]] = {}
        for each in person.forbidden:
            if each.hazard in hazards:
                hits.setdefault(each.because, []).append(each)
        for caution, found in hits.items():
            code = _strictest_code(found)
            stops = code == "caution_on_record"
            yield Finding(
                Severity.STOP if stops else Severity.WARN,
                code,
                item.id,
                {"hazards": tuple(each.hazard for each in found), "because": caution},
                Fix(FixKind.REMOVE) if stops else None,
                about=caution.value,
            )


def _strictest_code(found: list[Forbidden]) -> str:
    """Return the most severe finding of one caution about one task."""
    if all(each.is_after_meals for each in found):
        return "caution_after_meals"
    return "caution_allowed" if all(each.is_allowed for each in found) else "caution_on_record"


@rule
def over_lung_share(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: with lung disease, a hold, hiss or out-breath exceeds 80 % of the best."""
    for item in _lung_items(plan, person):
        breath_s, best = item.longest_breath_s, item.best_s
        if breath_s is not None and best is not None and breath_s > LUNG_SHARE * best:
            most = LUNG_SHARE * best
            facts = {"seconds": breath_s, "best": best, "most": most}
            yield Finding(
                Severity.STOP,
                "over_lung_share",
                item.id,
                facts,
                _shorter(item, rung_at_or_under_s(most)),
            )


@rule
def lung_best_unknown(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: with lung disease and no known best, a short trial must come first."""
    for item in _lung_items(plan, person):
        breath_s = item.longest_breath_s
        # Counted breathing is quiet: only a long out-breath equals a hold.
        most = SHORT_TRIAL_S if item.breath is None else LONG_BREATH_S
        if breath_s is not None and item.best_s is None and breath_s > most:
            facts = {"seconds": breath_s, "most": most}
            yield Finding(Severity.STOP, "lung_best_unknown", item.id, facts, _shorter(item, most))


def _lung_items(plan: Plan, person: Person) -> tuple[CheckedItem, ...]:
    return plan.items if Caution.LUNG_DISEASE in person.cautions else ()


def _shorter(item: CheckedItem, seconds: float) -> Fix | None:
    """Return a fix with fewer seconds; counts of a breath are left to the clinician."""
    return Fix(FixKind.SET_SECONDS, seconds) if item.seconds is not None else None
