"""Figures of the baseline and rules of targets, in sentences."""

from reedcore.baseline import AgainstReference
from reedcore.targets.proposing import Missing, Rule, TargetKind

KINDS = {
    TargetKind.NOTES: "Notes",
    TargetKind.HOLD: "Hold",
    TargetKind.STEADINESS: "Steadiness",
    TargetKind.SOFT_LEVEL: "Level of soft work",
    TargetKind.LOUD_LEVEL: "Level of loud work",
    TargetKind.TALK_LEVEL: "Level of talk",
}


RULES = {
    Rule.SET_BY_VOICE: "standard set for this voice",
    Rule.SET_MOVED: "standard set, transposed into the comfortable range",
    Rule.COMFORTABLE_MIDDLE: "note nearest to the comfortable pitch",
    Rule.VOLUME_80: "phonation volume ÷ 80 mL/s; first stage ÷ 100; at most 45 s",
    Rule.CAPACITY_80: "vital capacity ÷ 80 mL/s, an over-estimate; first stage ÷ 100; at most 45 s",
    Rule.LONGEST_S: "longest /s/, because no volume was measured; at most 45 s",
    Rule.SPREAD_OF_COMFORT: "1.5 × the pitch spread of the comfortable voice, 20 to 50 cents",
    Rule.COMFORT_CEILING: "at most 3 dB above the comfortable voice on the same device",
    Rule.HALFWAY_FLOOR: "halfway from comfortable to loud; ceiling 10 dB above, at most 95 dB SPL at 30 cm",
    Rule.COMFORT_BAND: "within 3 dB of the comfortable voice on the same device",
}


MISSING = {
    Missing.NO_COMFORTABLE_NOTE: "no comfortable pitch or range was measured",
    Missing.NO_HOLD: "no maximum phonation time was measured",
    Missing.NO_GOAL: "neither a volume nor a longest /s/ was measured",
    Missing.NO_SPREAD: "the steadiness of the comfortable voice could not be judged",
    Missing.NO_COMFORTABLE_LEVEL: "the level of the comfortable voice could not be judged",
    Missing.NO_LOUD_LEVEL: "no loud voice above the comfortable level was measured on the same device",
    Missing.LOUD_FORBIDDEN: "a caution on record stops loud tasks",
}


#: Inputs and values of targets, with their units: (label, unit, decimals).
FIGURES = {
    "comfortable_low_hz": ("lowest comfortable pitch", "Hz", 1),
    "comfortable_high_hz": ("highest comfortable pitch", "Hz", 1),
    "comfortable_hz": ("comfortable pitch", "Hz", 1),
    "volume_ml": ("volume", "mL", 0),
    "longest_s_s": ("longest /s/", "s", 1),
    "best_s": ("maximum phonation time", "s", 1),
    "comfortable_spread_cents": ("spread of the comfortable voice", "cents", 0),
    "comfortable_level_db": ("comfortable level as recorded", "dBFS", 1),
    "loud_level_db": ("loud level as recorded", "dBFS", 1),
    "goal_s": ("goal", "s", 1),
    "stage_s": ("first stage", "s", 1),
    "today_s": ("today", "s", 1),
    "spread_cents": ("pitch spread at most", "cents", 0),
    "level_spread_db": ("level spread at most", "dB", 1),
    "end_fall_db": ("fall at the end at most", "dB", 1),
    "ceiling_db": ("ceiling, relative to comfortable", "dB", 0),
    "floor_db": ("floor, relative to comfortable", "dB", 0),
    "moved_st": ("moved by", "semitones", 0),
    "warm_up_midi": ("warm-up note", "", 0),
}


#: Measures of the reference table: (label, unit).
MEASURES = {
    "longest_vowel_s": ("maximum phonation time", "s"),
    "longest_s_s": ("longest /s/", "s"),
    "longest_z_s": ("longest /z/", "s"),
    "quotient": ("phonation quotient", "mL/s"),
    "volume_ml": ("vital capacity", "mL"),
    "span_st": ("glide range", "semitones"),
    "speaking_hz": ("usual speaking pitch", "Hz"),
}


AGAINST_REFERENCE = {
    AgainstReference.UNDER: "below the clinic’s reference range",
    AgainstReference.WITHIN: "within the clinic’s reference range",
    AgainstReference.OVER: "above the clinic’s reference range",
}


RATIO_CAUTION = "Above 1.4: a reason for a laryngeal examination."


RATIO_NO_CLEARANCE = "A value of 1.4 or less does not exclude a laryngeal cause."


ODD = {
    "hold_s": "{value:g} s is an unusual length for a hold",
    "volume_ml": "{value:g} mL is an unusual volume",
    "pitch_hz": "{value:g} Hz is an unusual pitch",
    "level_db_spl": "{value:g} dB SPL is an unusual level",
    "distance_m": "{value:g} m is an unusual distance",
    "questionnaire": "{value:g} is an unusual total",
    "span_st": "a range of {value:.0f} semitones is unusual",
}


IMPOSSIBLE = {
    "hold_s": "A hold of {value:g} s is not possible. Enter {lowest:g} to {highest:g} seconds.",
    "volume_ml": "A volume of {value:g} mL is not possible. Enter {lowest:g} to {highest:g} mL.",
    "pitch_hz": "{value:g} Hz is not a possible voice pitch. Enter {lowest:g} to {highest:g} Hz.",
    "level_db_spl": "{value:g} dB SPL is not possible. Enter {lowest:g} to {highest:g} dB SPL.",
    "distance_m": "{value:g} m is not possible. Enter a microphone distance of {lowest:g} to {highest:g} m.",
    "effort": "Enter effort as a number from {lowest:g} to {highest:g}.",
    "rating": "Enter a rating from {lowest:g} to {highest:g}.",
    "questionnaire": "A total of {value:g} is not possible. Enter {lowest:g} to {highest:g}.",
}
