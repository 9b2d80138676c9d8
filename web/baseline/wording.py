"""Figures of the baseline and rules of targets, in sentences."""

from django.utils.translation import gettext_lazy

from reedcore.baseline import AgainstReference
from reedcore.targets.proposing import Missing, Rule, TargetKind
from web.ui.marked import Words, gettext_noop

KINDS = Words(
    {
        TargetKind.NOTES: gettext_noop("Notes"),
        TargetKind.HOLD: gettext_noop("Hold"),
        TargetKind.STEADINESS: gettext_noop("Steadiness"),
        TargetKind.SOFT_LEVEL: gettext_noop("Level of soft work"),
        TargetKind.LOUD_LEVEL: gettext_noop("Level of loud work"),
        TargetKind.TALK_LEVEL: gettext_noop("Level of talk"),
    }
)


RULES = Words(
    {
        Rule.SET_BY_VOICE: gettext_noop("standard set for this voice"),
        Rule.SET_MOVED: gettext_noop("standard set, transposed into the comfortable range"),
        Rule.COMFORTABLE_MIDDLE: gettext_noop("note nearest to the comfortable pitch"),
        Rule.VOLUME_80: gettext_noop("phonation volume ÷ 80 mL/s; first stage ÷ 100; at most 45 s"),
        Rule.CAPACITY_80: gettext_noop(
            "vital capacity ÷ 80 mL/s, an over-estimate; first stage ÷ 100; at most 45 s"
        ),
        Rule.LONGEST_S: gettext_noop("longest /s/, because no volume was measured; at most 45 s"),
        Rule.SPREAD_OF_COMFORT: gettext_noop(
            "1.5 × the pitch spread of the comfortable voice, 20 to 50 cents"
        ),
        Rule.COMFORT_CEILING: gettext_noop(
            "at most 3 dB above the comfortable voice on the same device"
        ),
        Rule.HALFWAY_FLOOR: gettext_noop(
            "halfway from comfortable to loud; ceiling 10 dB above, at most 95 dB SPL at 30 cm"
        ),
        Rule.COMFORT_BAND: gettext_noop("within 3 dB of the comfortable voice on the same device"),
    }
)


MISSING = Words(
    {
        Missing.NO_COMFORTABLE_NOTE: gettext_noop("no comfortable pitch or range was measured"),
        Missing.NO_HOLD: gettext_noop("no maximum phonation time was measured"),
        Missing.NO_GOAL: gettext_noop("neither a volume nor a longest /s/ was measured"),
        Missing.NO_SPREAD: gettext_noop(
            "the steadiness of the comfortable voice could not be judged"
        ),
        Missing.NO_COMFORTABLE_LEVEL: gettext_noop(
            "the level of the comfortable voice could not be judged"
        ),
        Missing.NO_LOUD_LEVEL: gettext_noop(
            "no loud voice above the comfortable level was measured on the same device"
        ),
        Missing.LOUD_FORBIDDEN: gettext_noop("a caution on record stops loud tasks"),
    }
)


#: Inputs and values of targets, with their units: (label, unit, decimals).
FIGURES = Words(
    {
        "comfortable_low_hz": (gettext_noop("lowest comfortable pitch"), "Hz", 1),
        "comfortable_high_hz": (gettext_noop("highest comfortable pitch"), "Hz", 1),
        "comfortable_hz": (gettext_noop("comfortable pitch"), "Hz", 1),
        "volume_ml": (gettext_noop("volume"), "mL", 0),
        "longest_s_s": (gettext_noop("longest /s/"), "s", 1),
        "best_s": (gettext_noop("maximum phonation time"), "s", 1),
        "comfortable_spread_cents": (
            gettext_noop("spread of the comfortable voice"),
            gettext_noop("cents"),
            0,
        ),
        "comfortable_level_db": (
            gettext_noop("comfortable level as recorded"),
            "dBFS",
            1,
        ),
        "loud_level_db": (gettext_noop("loud level as recorded"), "dBFS", 1),
        "goal_s": (gettext_noop("goal"), "s", 1),
        "stage_s": (gettext_noop("first stage"), "s", 1),
        "today_s": (gettext_noop("today"), "s", 1),
        "spread_cents": (gettext_noop("pitch spread at most"), gettext_noop("cents"), 0),
        "level_spread_db": (gettext_noop("level spread at most"), "dB", 1),
        "end_fall_db": (gettext_noop("fall at the end at most"), "dB", 1),
        "ceiling_db": (gettext_noop("ceiling, relative to comfortable"), "dB", 0),
        "floor_db": (gettext_noop("floor, relative to comfortable"), "dB", 0),
        "moved_st": (gettext_noop("moved by"), gettext_noop("semitones"), 0),
        "warm_up_midi": (gettext_noop("warm-up note"), "", 0),
    }
)


#: Measures of the reference table: (label, unit).
MEASURES = Words(
    {
        "longest_vowel_s": (gettext_noop("maximum phonation time"), "s"),
        "longest_s_s": (gettext_noop("longest /s/"), "s"),
        "longest_z_s": (gettext_noop("longest /z/"), "s"),
        "quotient": (gettext_noop("phonation quotient"), "mL/s"),
        "volume_ml": (gettext_noop("vital capacity"), "mL"),
        "span_st": (gettext_noop("glide range"), gettext_noop("semitones")),
        "speaking_hz": (gettext_noop("usual speaking pitch"), "Hz"),
    }
)


AGAINST_REFERENCE = Words(
    {
        AgainstReference.UNDER: gettext_noop("below the clinic’s reference range"),
        AgainstReference.WITHIN: gettext_noop("within the clinic’s reference range"),
        AgainstReference.OVER: gettext_noop("above the clinic’s reference range"),
    }
)


RATIO_CAUTION = gettext_lazy("Above 1.4: a reason for a laryngeal examination.")


RATIO_NO_CLEARANCE = gettext_lazy("A value of 1.4 or less does not exclude a laryngeal cause.")


ODD = Words(
    {
        "hold_s": gettext_noop("{value:g} s is an unusual length for a hold"),
        "volume_ml": gettext_noop("{value:g} mL is an unusual volume"),
        "pitch_hz": gettext_noop("{value:g} Hz is an unusual pitch"),
        "level_db_spl": gettext_noop("{value:g} dB SPL is an unusual level"),
        "distance_m": gettext_noop("{value:g} m is an unusual distance"),
        "questionnaire": gettext_noop("{value:g} is an unusual total"),
        "span_st": gettext_noop("a range of {value:.0f} semitones is unusual"),
    }
)


IMPOSSIBLE = Words(
    {
        "hold_s": gettext_noop(
            "A hold of {value:g} s is not possible. Enter {lowest:g} to {highest:g} seconds."
        ),
        "volume_ml": gettext_noop(
            "A volume of {value:g} mL is not possible. Enter {lowest:g} to {highest:g} mL."
        ),
        "pitch_hz": gettext_noop(
            "{value:g} Hz is not a possible voice pitch. Enter {lowest:g} to {highest:g} Hz."
        ),
        "level_db_spl": gettext_noop(
            "{value:g} dB SPL is not possible. Enter {lowest:g} to {highest:g} dB SPL."
        ),
        "distance_m": gettext_noop(
            "{value:g} m is not possible. Enter a microphone distance of {lowest:g} to {highest:g} m."
        ),
        "effort": gettext_noop("Enter effort as a number from {lowest:g} to {highest:g}."),
        "rating": gettext_noop("Enter a rating from {lowest:g} to {highest:g}."),
        "questionnaire": gettext_noop(
            "A total of {value:g} is not possible. Enter {lowest:g} to {highest:g}."
        ),
    }
)
