"""Rules about what is on record: the screen, the larynx, and each caution by itself."""

from __future__ import annotations

from collections.abc import Iterator

from reedcore.ladders import rung_at_or_under_s
from reedcore.safety.cautions import LUNG_SHARE, Caution, Forbidden

from .hazards import hazards_of
from .plan import Finding, Fix, FixKind, Level, Person, Plan
from .registry import rule


@rule
def not_screened(plan: Plan, person: Person) -> Iterator[Finding]:
    """Nobody has asked about red flags and cautions."""
    if plan.items and not person.screened:
        yield Finding(Level.STOP, "not_screened")


@rule
def larynx_not_seen(plan: Plan, person: Person) -> Iterator[Finding]:
    """A voice complaint, and the larynx has not been looked at, or nobody knows whether it has.

    Guideline: Otolaryngol Head Neck Surg 2018;158(1 suppl):S1–S42, before a course of therapy.
    """
    if plan.items and person.screened and not person.larynx_seen:
        yield Finding(Level.STOP, "larynx_not_seen")


@rule
def caution_on_record(plan: Plan, person: Person) -> Iterator[Finding]:
    """A task does what a caution forbids: each caution speaks for itself, of each task.

    Where somebody who knows has allowed it, that is said as a warning instead.
    """
    for item in plan.items:
        hazards = hazards_of(item, person)
        hits: dict[Caution, list[Forbidden]] = {}
        for each in person.forbidden:
            if each.hazard in hazards:
                hits.setdefault(each.because, []).append(each)
        for caution, found in hits.items():
            allowed = all(each.allowed for each in found)
            facts = {"hazards": tuple(each.hazard for each in found), "because": caution}
            yield Finding(
                Level.WARN if allowed else Level.STOP,
                "caution_allowed" if allowed else "caution_on_record",
                item.id,
                facts,
                None if allowed else Fix(FixKind.REMOVE),
                about=caution.value,
            )


@rule
def over_lung_share(plan: Plan, person: Person) -> Iterator[Finding]:
    """With lung disease a hold or a hiss takes at most 80 % of the best."""
    if Caution.LUNG_DISEASE not in person.cautions:
        return
    for item in plan.items:
        asked, best = item.seconds, item.best_s
        if asked is not None and best is not None and asked > LUNG_SHARE * best:
            most = LUNG_SHARE * best
            facts = {"seconds": asked, "best": best, "most": most}
            fix = Fix(FixKind.SET_SECONDS, rung_at_or_under_s(most))
            yield Finding(Level.STOP, "over_lung_share", item.id, facts, fix)
