"""Findings of the programme check, in sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER
from reedcore.dose.today import Day, Voice
from reedcore.pitch import Spelling
from web.clients.wording import CAUTION_NAMES, PROPS, listed
from web.screening.wording import HAZARDS

if TYPE_CHECKING:
    from reedcore.checks.plan import Finding, Fix
    from reedcore.programme.document import Problem

#: The sort of a programme, as it is chosen.
SORTS = {
    "full": "full session",
    "reset": "reset on a trigger",
    "event": "before an event",
    "maintenance": "maintenance without an end",
    "extra": "extra practice",
}
DOSE_KINDS = {
    "slots": "dated sessions",
    "rolling": "without an end, recheck after",
    "on_demand": "on a trigger",
}
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
#: For whom the instructions are worded.
WORDINGS = {ADULT: "for adults", TEENAGER: "for teenagers", CHILD: "for children"}
SCHOOLS = {
    "soft": "soft and steady",
    "loud": "strong and purposeful",
    "mixed": "both, soft before loud",
}
FEEDBACK = {
    "live": "live, while sounding",
    "trial": "after each try",
    "block": "after the block",
    "none": "none: feel it",
}
LEVELS = {"stop": "Stop", "warn": "Warn", "hint": "Hint"}
FINDINGS = {
    "not_screened": "Nobody has asked this client about red flags and cautions yet.",
    "larynx_not_seen": "The client complains of the voice, and no examination of the larynx since is on record.",
    "caution_on_record": "{because}: this is {hazards}.",
    "caution_allowed": "{because}: this is {hazards}. The record says who allowed it.",
    "caution_after_meals": "{because}: this is {hazards}. Not within two hours of a meal.",
    "cautions_not_asked": "{count} safety questions are new since the last screening, beginning with: {first}.",
    "no_grown_up": "A child practises with an adult. Name one on the record, or add a helper.",
    "over_lung_share": "Lung disease: {seconds:g} s is over 80 % of the best, {best:.1f} s.",
    "lung_best_unknown": "Lung disease, and no best is known: begin with a short trial of {most:g} s, not {seconds:g} s.",
    "breath_too_fast": "{per_minute:.0f} breaths a minute for {seconds:.0f} s makes light-headed: over 20 a minute for at most 30 s, or write that you mean it.",
    "cue_not_seen": "Hearing loss: the visual cue to breathe is off.",
    "tone_too_high": "Hearing loss: a tone of {note} may not be heard. Choose a lower one.",
    "pressure_step_too_large": "Back pressure of about {now:.0f} cmH₂O after {before:.0f} last week: more than 20 %.",
    "loud_step_too_large": "{minutes:.1f} min of strong voice a day after {before_min:.1f} last week: more than 20 %.",
    "event_full_effort": "Before an event the voice stays under full effort: this is strong or maximal.",
    "loud_without_level": "It is loud work, and nothing says how loud at least and at most.",
    "outside_held_range": "{note} lies outside what the client has held.",
    "outside_comfortable_range": "{note} can be held but is not comfortable.",
    "glide_too_far": "The glide goes to {note}, too far past the comfortable range.",
    "prop_not_named": "Something has to be in the hand here, and nothing is named.",
    "prop_not_owned": "It needs a {prop}; the record does not say that the client has one.",
    "breath_hold_too_long": "A breath held for {seconds:.0f} s: over {cap:.0f} s only if you write that you mean it.",
    "panting_too_long": "Panting for {seconds:.0f} s makes light-headed: at most {cap:.0f} s.",
    "breath_too_slow": "{per_minute:.1f} breaths a minute for over two minutes: write that you mean it.",
    "over_best": "{seconds:g} s is {share:.0%} of the best so far, {best:.1f} s; at most 120 %.",
    "step_too_large": "{seconds:g} s after {before:g} s last week: more than 20 %.",
    "floor_without_ceiling": "A floor of {floor:+.0f} dB has no safety ceiling.",
    "ceiling_too_high": "The ceiling of {ceiling:+.0f} dB lies over the safe {most:+.0f} dB.",
    "loud_and_soft_at_once": "It is asked to be loud and to stay soft at once.",
    "no_reason": "It has no reason yet: the client may ask.",
    "loud_without_warming": "Loud work comes with no release or semi-occluded work before it.",
    "loud_without_cooling": "Loud work is followed by {seconds:.0f} s of cool-down; at least {least:.0f} s.",
    "soft_after_loud": "Soft work after loud work: soft first, then loud, then cool-down.",
    "cooldown_not_last": "Voice work follows the cool-down.",
    "no_sip": "No sip of water after it.",
    "session_over_cap": "The session takes {minutes:.0f} min; the cap is {cap_min:.0f}.",
    "session_unusual": "The session takes {minutes:.0f} min; usual is {from_min:.0f} to {to_min:.0f}.",
    "no_rest_day": "No rest day in the week.",
    "too_much_voice_a_day": "{minutes:.1f} voiced min a day; the cap is {cap_min:.0f}.",
    "no_short_day": "There is no short day: mark what is left of it on a bad day.",
}
FIXES = {
    "remove": "take it out",
    "set_seconds": "make it {value:g} s",
    "set_notes": "move to {value}",
    "set_ceiling": "ceiling {value:+.0f} dB",
    "drop_floor": "drop the floor",
    "sip_after": "a sip after it",
    "move_last": "move it to the end",
    "move_first": "move it before the loud work",
    "add_task": "add {value}",
    "mark_short": "mark the first voiced task",
    "drop_day": "leave Sunday out",
}


def finding_words(finding: Finding, *, spelling: Spelling) -> str:
    """One finding as a sentence with its figures."""
    facts = dict(finding.facts)
    if "because" in facts:
        facts["because"] = CAUTION_NAMES[facts["because"]].capitalize()
    if "first" in facts:
        facts["first"] = CAUTION_NAMES[facts["first"]]
    if "hazards" in facts:
        facts["hazards"] = listed(HAZARDS[each] for each in facts["hazards"])
    if "note" in facts:
        facts["note"] = facts["note"].name(spelling)
    if "prop" in facts:
        facts["prop"] = PROPS.get(facts["prop"], facts["prop"])
    for name, minutes in (
        ("seconds", "minutes"),
        ("cap", "cap_min"),
        ("from", "from_min"),
        ("to", "to_min"),
        ("before", "before_min"),
    ):
        if name in facts:
            facts[minutes] = facts[name] / 60.0
    return FINDINGS[finding.code].format(**facts)


def fix_words(fix: Fix, *, tasks: Any, spelling: Spelling) -> str:
    """What the one key would do."""
    value = fix.value
    if fix.kind == "set_notes":
        value = " ".join(note.name(spelling) for note in value)
    elif fix.kind == "add_task":
        value = tasks[value].name if value in tasks else value
    return FIXES[fix.kind].format(value=value)


#: What each answer to "how is your voice today?" leads to, as the composer asks it.
VOICE_WORDS = {
    Voice.TIRED: "Tired or dry today",
    Voice.HOARSE: "Hoarse today",
    Voice.ILL: "Ill today",
}
DAY_WORDS = {
    Day.USUAL.value: "the usual session",
    Day.GENTLER.value: "a gentler one, not loud",
    Day.REST.value: "a rest day",
}


PROBLEMS = {
    "not_a_programme": "This is not a programme.",
    "too_many_items": "{items} items are more than a session can hold: at most {most}.",
    "does_not_fit": "{where}: {message}",
    "too_many_names": "this holds more than an item has",
    "same_id": "two items have the same id",
    "no_such_dose": "dose: no such start, days or weeks",
    "too_many_a_day": "dose: at most 5 a day; for resets choose “on a trigger”",
    "no_such_task": "there is no task “{task}” in this catalogue",
    "no_such_setting": "{name}: “{task}” has no such setting",
    "not_a_number": "{name}: a number is wanted, not “{value}”",
    "outside": "{name}: {value:g} lies outside {lowest:g} to {highest:g} {unit}",
}


def problem_words(problem: Problem) -> str:
    """What does not fit, in a sentence that begins with its place."""
    where = f"Item {problem.item}: " if problem.item else ""
    return where + PROBLEMS[problem.code].format(**problem.facts).lstrip(": ")
