"""Rules about the order of a session: ready, loud, cooled down."""

from __future__ import annotations

from collections.abc import Iterator

from .plan import CheckedItem, Finding, Fix, FixKind, Person, Plan, School, Severity
from .registry import rule

#: Warm-up for loud work: release (posture alone is not enough) or semi-occluded voicing. In strong
#: voice training, a chain of syllables too.
NO_WARMING_TASKS = ("sit_tall",)
CHAIN_TASKS = ("nasal_chain",)
#: Families whose tasks are soft even without a ceiling.
SOFT_FAMILIES = ("block",)
#: Minimum cool-down after loud work.
COOL_S = 60.0
#: Longer voicing without water gets a hint to drink.
DRY_S = 180.0


def _sounds_loud(item: CheckedItem) -> bool:
    """Return whether strong voice is used in the session itself, not in a task for the day
    afterwards."""
    return item.is_loud and item.part.is_voiced


def _soft_level(plan: Plan) -> Severity:
    """Return how serious the order is: one school requires it, the other only prefers it."""
    return Severity.HINT if plan.school is School.LOUD else Severity.WARN


@rule
def loud_without_warming(plan: Plan, person: Person) -> Iterator[Finding]:
    """The first loud task has no warm-up before it."""
    for place, item in enumerate(plan.items):
        if not _sounds_loud(item):
            continue
        before = plan.items[:place]
        chain = plan.school is School.LOUD and item.task in CHAIN_TASKS
        if not chain and not any(_is_warm_up(each, plan.school) for each in before):
            yield Finding(
                _soft_level(plan),
                "loud_without_warming",
                item.id,
                {},
                Fix(FixKind.ADD_TASK, "straw_hold"),
            )
        return


def _is_warm_up(item: CheckedItem, school: School) -> bool:
    if item.family == "occluded":
        return item.part.is_voiced
    released = item.family == "release" and item.task not in NO_WARMING_TASKS
    return released or (school is School.LOUD and item.task in CHAIN_TASKS)


@rule
def loud_without_cooling(plan: Plan, person: Person) -> Iterator[Finding]:
    """The cool-down after the last loud task is missing or too short."""
    loud = [place for place, item in enumerate(plan.items) if _sounds_loud(item)]
    if not loud:
        return
    after = [item for item in plan.items[loud[-1] + 1 :] if item.family == "cooldown"]
    seconds = sum(item.part.seconds for item in after)
    if seconds < COOL_S:
        yield Finding(
            _soft_level(plan),
            "loud_without_cooling",
            plan.items[loud[-1]].id,
            {"seconds": seconds, "least": COOL_S},
            Fix(FixKind.ADD_TASK, "descending_hum"),
        )


@rule
def soft_after_loud(plan: Plan, person: Person) -> Iterator[Finding]:
    """A session with soft and loud tasks does not go from soft to loud to cool-down."""
    loud = [place for place, item in enumerate(plan.items) if _sounds_loud(item)]
    if not loud:
        return
    for item in plan.items[loud[0] + 1 :]:
        meant_soft = item.ceiling_db is not None or item.family in SOFT_FAMILIES
        soft = meant_soft and not item.is_loud
        if soft and item.family not in ("cooldown", "release", "breath"):
            yield Finding(Severity.WARN, "soft_after_loud", item.id, {}, Fix(FixKind.MOVE_FIRST))


@rule
def cooldown_not_last(plan: Plan, person: Person) -> Iterator[Finding]:
    """Voice work follows the cool-down."""
    for place, item in enumerate(plan.items):
        voiced_after = any(
            each.part.is_voiced and each.family != "cooldown" for each in plan.items[place + 1 :]
        )
        if item.family == "cooldown" and voiced_after:
            yield Finding(Severity.HINT, "cooldown_not_last", item.id, {}, Fix(FixKind.MOVE_LAST))


@rule
def no_sip(plan: Plan, person: Person) -> Iterator[Finding]:
    """A loud block, or three minutes of voice, is not followed by a drink of water."""
    dry = 0.0
    for item in plan.items:
        dry += item.part.voiced_s
        if item.part.has_sip_after:
            dry = 0.0
        elif _sounds_loud(item) or dry > DRY_S:
            facts = {"seconds": dry}
            yield Finding(Severity.HINT, "no_sip", item.id, facts, Fix(FixKind.SIP_AFTER))
            dry = 0.0
