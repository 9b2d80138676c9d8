"""Findings of the programme check, in sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER
from reedcore.dose.today import Day, Voice
from reedcore.pitch import Spelling
from web.clients.wording import CAUTION_NAMES, PROPS, join_words
from web.screening.wording import HAZARDS
from web.ui.marked import WordList, Words, gettext_noop

if TYPE_CHECKING:
    from reedcore.checks.plan import Finding, Fix

#: Names of the session types.
SORTS = Words(
    {
        "full": gettext_noop("full session"),
        "reset": gettext_noop("reset on a trigger"),
        "event": gettext_noop("before an event"),
        "maintenance": gettext_noop("open-ended maintenance"),
        "extra": gettext_noop("extra practice"),
    }
)
DOSE_KINDS = Words(
    {
        "slots": gettext_noop("dated sessions"),
        "rolling": gettext_noop("open-ended, recheck after"),
        "on_demand": gettext_noop("on a trigger"),
    }
)
WEEKDAYS = WordList(
    (
        gettext_noop("Mon"),
        gettext_noop("Tue"),
        gettext_noop("Wed"),
        gettext_noop("Thu"),
        gettext_noop("Fri"),
        gettext_noop("Sat"),
        gettext_noop("Sun"),
    )
)
#: Reader of the instructions.
WORDINGS = Words(
    {
        ADULT: gettext_noop("for adults"),
        TEENAGER: gettext_noop("for teenagers"),
        CHILD: gettext_noop("for children"),
    }
)
SCHOOLS = Words(
    {
        "soft": gettext_noop("soft and steady"),
        "loud": gettext_noop("strong and purposeful"),
        "mixed": gettext_noop("both, soft before loud"),
    }
)
FEEDBACK = Words(
    {
        "live": gettext_noop("live, while sounding"),
        "trial": gettext_noop("after each trial"),
        "block": gettext_noop("after the block"),
        "none": gettext_noop("none (by feel)"),
    }
)
LEVELS = Words(
    {"stop": gettext_noop("Stop"), "warn": gettext_noop("Warn"), "hint": gettext_noop("Hint")}
)
FINDINGS = Words(
    {
        "not_screened": gettext_noop(
            "This client has not been screened for red flags and cautions."
        ),
        "larynx_not_seen": gettext_noop(
            "The client has a voice complaint and no laryngeal examination since then on record."
        ),
        "caution_on_record": gettext_noop("{because}: this is {hazards}."),
        "caution_allowed": gettext_noop(
            "{because}: this is {hazards}. The record says who allowed it."
        ),
        "caution_after_meals": gettext_noop(
            "{because}: this is {hazards}. Not within two hours of a meal."
        ),
        "cautions_not_asked": gettext_noop(
            "{count} safety questions are new since the last screening, starting with: {first}."
        ),
        "no_grown_up": gettext_noop(
            "A child needs an adult for practice. Enter one on the record, or add a helper."
        ),
        "over_lung_share": gettext_noop(
            "Lung disease: {seconds:g} s is over 80 % of the best, {best:.1f} s."
        ),
        "lung_best_unknown": gettext_noop(
            "Lung disease without a known best: start with a short trial of {most:g} s, not {seconds:g} s."
        ),
        "breath_too_fast": gettext_noop(
            "{per_minute:.0f} breaths a minute for {seconds:.0f} s can cause light-headedness. Over 20 a minute, use at most 30 s or give a reason."
        ),
        "cue_not_seen": gettext_noop("Hearing loss: the visual cue to breathe is off."),
        "tone_too_high": gettext_noop(
            "Hearing loss: a tone of {note} may not be heard. Choose a lower one."
        ),
        "pressure_step_too_large": gettext_noop(
            "Back pressure of about {now:.0f} cmH₂O after {before:.0f} last week: more than 20 %."
        ),
        "loud_step_too_large": gettext_noop(
            "{minutes:.1f} min of strong voice a day after {before_min:.1f} last week: more than 20 %."
        ),
        "event_full_effort": gettext_noop(
            "Before an event, avoid full effort: this task is strong or maximal."
        ),
        "loud_without_level": gettext_noop("This loud task has no floor and ceiling."),
        "outside_held_range": gettext_noop("{note} is outside the range the client has held."),
        "outside_comfortable_range": gettext_noop(
            "{note} is within the range but outside the comfortable range."
        ),
        "glide_too_far": gettext_noop(
            "The glide goes to {note}, too far past the comfortable range."
        ),
        "prop_not_named": gettext_noop("This task needs equipment, and none is chosen."),
        "prop_not_owned": gettext_noop("This task needs: {prop}. The record does not list it."),
        "breath_hold_too_long": gettext_noop(
            "A breath hold of {seconds:.0f} s: over {cap:.0f} s needs a reason."
        ),
        "panting_too_long": gettext_noop(
            "Panting for {seconds:.0f} s can cause light-headedness. Use at most {cap:.0f} s."
        ),
        "breath_too_slow": gettext_noop(
            "{per_minute:.1f} breaths a minute for more than 2 minutes needs a reason."
        ),
        "over_best": gettext_noop(
            "{seconds:g} s is {share:.0%} of the best so far, {best:.1f} s; at most 120 %."
        ),
        "step_too_large": gettext_noop(
            "{seconds:g} s after {before:g} s last week: more than 20 %."
        ),
        "floor_without_ceiling": gettext_noop("A floor of {floor:+.0f} dB has no safety ceiling."),
        "ceiling_too_high": gettext_noop(
            "The ceiling of {ceiling:+.0f} dB is above the safe limit of {most:+.0f} dB."
        ),
        "loud_and_soft_at_once": gettext_noop(
            "This task asks for loud and soft voice at the same time."
        ),
        "no_reason": gettext_noop("This task has no reason for the client yet."),
        "loud_without_warming": gettext_noop(
            "No release or semi-occluded task comes before the loud task."
        ),
        "loud_without_cooling": gettext_noop(
            "Cool-down after loud tasks is {seconds:.0f} s. Use at least {least:.0f} s."
        ),
        "soft_after_loud": gettext_noop(
            "A soft task follows a loud task. Use the order soft, loud, cool-down."
        ),
        "cooldown_not_last": gettext_noop("A voice task follows the cool-down."),
        "no_start_note": gettext_noop(
            "No start note: no tones are played, and any easy note counts. Set the start note to judge the pitch."
        ),
        "no_sip": gettext_noop("No sip of water after this task."),
        "session_over_cap": gettext_noop(
            "The session takes {minutes:.0f} min. The limit is {cap_min:.0f} min."
        ),
        "session_unusual": gettext_noop(
            "The session takes {minutes:.0f} min. {from_min:.0f} to {to_min:.0f} min are usual."
        ),
        "no_rest_day": gettext_noop("No rest day in the week."),
        "too_much_voice_a_day": gettext_noop(
            "{minutes:.1f} min of voicing a day. The limit is {cap_min:.0f} min."
        ),
        "no_short_day": gettext_noop("No short day: mark the tasks for a bad day."),
    }
)
FIXES = Words(
    {
        "remove": gettext_noop("remove it"),
        "set_seconds": gettext_noop("make it {value:g} s"),
        "set_notes": gettext_noop("move to {value}"),
        "set_ceiling": gettext_noop("ceiling {value:+.0f} dB"),
        "drop_floor": gettext_noop("drop the floor"),
        "sip_after": gettext_noop("add a sip after it"),
        "move_last": gettext_noop("move it to the end"),
        "move_first": gettext_noop("move it before the loud work"),
        "add_task": gettext_noop("add {value}"),
        "mark_short": gettext_noop("mark the first voiced task"),
        "drop_day": gettext_noop("exclude Sunday"),
    }
)


def finding_words(finding: Finding, *, spelling: Spelling) -> str:
    """Return one finding as a sentence with its figures."""
    facts = dict(finding.facts)
    if "because" in facts:
        facts["because"] = CAUTION_NAMES[facts["because"]].capitalize()
    if "first" in facts:
        facts["first"] = CAUTION_NAMES[facts["first"]]
    if "hazards" in facts:
        facts["hazards"] = join_words(HAZARDS[each] for each in facts["hazards"])
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
    """Return the label of a fix."""
    value = fix.value
    if fix.kind == "set_notes":
        value = " ".join(note.name(spelling) for note in value)
    elif fix.kind == "add_task":
        value = tasks[value].name if value in tasks else value
    return FIXES[fix.kind].format(value=value)


#: “How is your voice today?”: names of the answers in the composer.
VOICE_WORDS = Words(
    {
        Voice.TIRED: gettext_noop("Tired or dry today"),
        Voice.HOARSE: gettext_noop("Hoarse today"),
        Voice.ILL: gettext_noop("Ill today"),
    }
)
DAY_WORDS = Words(
    {
        Day.USUAL.value: gettext_noop("the usual session"),
        Day.GENTLER.value: gettext_noop("a gentler session, nothing loud"),
        Day.REST.value: gettext_noop("a rest day"),
    }
)
