"""Rules about the person: range, props, breath."""

from __future__ import annotations

from collections.abc import Iterator

from reedcore.pitch import Note, note_nearest
from reedcore.safety import Caution

from .hazards import HARD_TUBE, SOFT_TUBE
from .plan import CheckedItem, Finding, Fix, FixKind, Person, Plan, Severity
from .registry import rule

#: How far light glides may exceed the comfortable range; not after surgery.
GLIDE_PAST_ST = 2.0
#: A quiet breath hold above the first value needs a written choice; above the second, none allows
#: it.
BREATH_HOLD_CAP_S, BREATH_HOLD_MOST_S = 30.0, 90.0
PANT_CAP_S = 10.0
#: Age-related hearing loss begins above about 1 kHz (ISO 7029:2017); keep tones lower.
HEARD_UNDER_HZ = 1000.0


@rule
def outside_held_range(plan: Plan, person: Person) -> Iterator[Finding]:
    """A held note, or the end of a pattern, is outside the range that the voice has held."""
    if person.held is None and person.comfortable is None:
        return
    for item in plan.items:
        if not item.notes or item.glides:
            continue
        outside = [note for note in item.all_notes if not _reaches(person, note)]
        if outside:
            yield Finding(
                Severity.STOP,
                "outside_held_range",
                item.id,
                {"note": outside[0]},
                _inside(item, person),
            )


@rule
def outside_comfortable_range(plan: Plan, person: Person) -> Iterator[Finding]:
    """A held note, or the end of a pattern, is reachable but not comfortable."""
    comfortable = person.comfortable
    if comfortable is None:
        return
    for item in plan.items:
        if item.glides:
            continue
        notes = item.all_notes
        outside = [note for note in notes if not comfortable.includes(note, a4_hz=person.a4_hz)]
        if outside and all(_reaches(person, note) for note in notes):
            facts = {"note": outside[0]}
            yield Finding(
                Severity.WARN, "outside_comfortable_range", item.id, facts, _inside(item, person)
            )


def _reaches(person: Person, note: Note) -> bool:
    ranges = [each for each in (person.held, person.comfortable) if each is not None]
    return any(each.includes(note, a4_hz=person.a4_hz) for each in ranges)


def _inside(item: CheckedItem, person: Person) -> Fix | None:
    """Return the same notes moved as a block into the comfortable range, if they fit."""
    comfortable = person.comfortable
    if comfortable is None:
        return None
    low, _ = note_nearest(comfortable.low_hz, a4_hz=person.a4_hz)
    high, _ = note_nearest(comfortable.high_hz, a4_hz=person.a4_hz)
    first, last = min(item.all_notes), max(item.all_notes)
    if last.midi - first.midi > high.midi - low.midi:
        return None
    shift = max(0, low.midi - first.midi) - max(0, last.midi - high.midi)
    return Fix(FixKind.SET_NOTES, tuple(note.transpose(shift) for note in item.notes))


@rule
def glide_too_far(plan: Plan, person: Person) -> Iterator[Finding]:
    """A glide leaves the comfortable range by more than a light one may."""
    comfortable = person.comfortable
    if comfortable is None:
        return
    allowed = 0.5 if person.after_surgery else GLIDE_PAST_ST + 0.5
    for item in plan.items:
        if not item.glides:
            continue
        outside = [
            note
            for note in item.notes
            if not comfortable.includes(note, a4_hz=person.a4_hz, slack_st=allowed)
        ]
        if outside:
            yield Finding(
                Severity.WARN, "glide_too_far", item.id, {"note": outside[0]}, _inside(item, person)
            )


@rule
def prop_not_named(plan: Plan, person: Person) -> Iterator[Finding]:
    """A task needs a prop, and none is named."""
    for item in plan.items:
        if item.needs_prop and not item.props:
            yield Finding(Severity.WARN, "prop_not_named", item.id)


@rule
def prop_not_owned(plan: Plan, person: Person) -> Iterator[Finding]:
    """The named prop is not among the client's props on record."""
    if person.props is None:  # Not asked yet: the handout lists what is needed.
        return
    owned = person.props | ({HARD_TUBE} if SOFT_TUBE in person.props else set())
    for item in plan.items:
        missing = [prop for prop in item.props if prop not in owned]
        if missing:
            yield Finding(Severity.WARN, "prop_not_owned", item.id, {"prop": missing[0]})


@rule
def breath_hold_too_long(plan: Plan, person: Person) -> Iterator[Finding]:
    """A quiet breath hold is longer than 30 s without a written choice, or longer than 90 s."""
    for item in plan.items:
        held = item.held_breath_s
        if held is None or held <= BREATH_HOLD_CAP_S:
            continue
        if item.is_intended and held <= BREATH_HOLD_MOST_S:
            continue
        yield Finding(
            Severity.STOP,
            "breath_hold_too_long",
            item.id,
            {"seconds": held, "cap": BREATH_HOLD_CAP_S},
            Fix(FixKind.SET_SECONDS, BREATH_HOLD_CAP_S),
        )


@rule
def panting_too_long(plan: Plan, person: Person) -> Iterator[Finding]:
    """Panting makes light-headed: at most 10 s."""
    for item in plan.items:
        if item.pant_s is not None and item.pant_s > PANT_CAP_S:
            yield Finding(
                Severity.STOP,
                "panting_too_long",
                item.id,
                {"seconds": item.pant_s, "cap": PANT_CAP_S},
                Fix(FixKind.SET_SECONDS, PANT_CAP_S),
            )


@rule
def breath_too_slow(plan: Plan, person: Person) -> Iterator[Finding]:
    """Under four breaths a minute for over two minutes has to be meant."""
    for item in plan.items:
        if item.breath and item.breath.needs_confirmation(item.cycles) and not item.is_intended:
            facts = {"per_minute": item.breath.breaths_per_min}
            yield Finding(Severity.WARN, "breath_too_slow", item.id, facts)


@rule
def breath_too_fast(plan: Plan, person: Person) -> Iterator[Finding]:
    """Over twenty breaths a minute for more than half a minute makes light-headed."""
    for item in plan.items:
        if item.breath and item.breath.is_fast_for_long(item.cycles) and not item.is_intended:
            facts = {
                "per_minute": item.breath.breaths_per_min,
                "seconds": item.breath.total_s(item.cycles),
            }
            yield Finding(Severity.STOP, "breath_too_fast", item.id, facts)


@rule
def cue_not_seen(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: with hearing loss, breath and beat must be shown, not only sounded."""
    for item in plan.items:
        if Caution.HEARING in person.cautions and item.has_cue_off:
            yield Finding(Severity.WARN, "cue_not_seen", item.id)


@rule
def tone_too_high(plan: Plan, person: Person) -> Iterator[Finding]:
    """Finding: with hearing loss, the tone is above the range that is usually preserved."""
    if Caution.HEARING not in person.cautions:
        return
    for item in plan.items:
        high = [note for note in item.notes if note.hz(a4_hz=person.a4_hz) > HEARD_UNDER_HZ]
        if high and item.part.tone_s > 0:
            yield Finding(Severity.WARN, "tone_too_high", item.id, {"note": max(high)})
