"""Figures of the baseline and rules of targets, in sentences."""

from reedcore.baseline import AgainstReference
from reedcore.targets.proposing import Kind, Missing, Rule

KINDS = {
    Kind.NOTES: "Notes",
    Kind.HOLD: "Hold",
    Kind.STEADINESS: "Steadiness",
    Kind.SOFT_LEVEL: "Level of soft work",
    Kind.LOUD_LEVEL: "Level of loud work",
    Kind.TALK_LEVEL: "Level of talk",
}


RULES = {
    Rule.SET_BY_VOICE: "the usual set for this voice",
    Rule.SET_MOVED: "the usual set, moved as a block into the comfortable range",
    Rule.COMFORTABLE_MIDDLE: "the note nearest the comfortable voice",
    Rule.VOLUME_80: "phonation volume ÷ 80 mL/s; first stage ÷ 100; at most 45 s",
    Rule.CAPACITY_80: "vital capacity ÷ 80 mL/s, an over-estimate; first stage ÷ 100; at most 45 s",
    Rule.LONGEST_S: "the longest /s/, for want of a volume; at most 45 s",
    Rule.SPREAD_OF_COMFORT: "half as much again as the comfortable voice spreads, 20 to 50 cents",
    Rule.COMFORT_CEILING: "not more than 3 dB over the comfortable voice on the same device",
    Rule.HALFWAY_FLOOR: "halfway from comfortable to loud; the ceiling 10 dB above, at most 95 dB SPL at 30 cm",
    Rule.COMFORT_BAND: "within 3 dB of the comfortable voice on the same device",
}


MISSING = {
    Missing.NO_COMFORTABLE_NOTE: "no comfortable pitch or range was taken",
    Missing.NO_HOLD: "no vowel was held for as long as possible",
    Missing.NO_GOAL: "neither a volume nor a longest /s/ was taken",
    Missing.NO_SPREAD: "the steadiness of the comfortable voice could not be judged",
    Missing.NO_COMFORTABLE_LEVEL: "the level of the comfortable voice could not be judged",
    Missing.NO_LOUD_LEVEL: "no loud voice stronger than the comfortable one was taken on the same device",
    Missing.LOUD_FORBIDDEN: "a caution on record forbids loud work",
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
    AgainstReference.UNDER: "under the clinic’s usual range",
    AgainstReference.WITHIN: "within the clinic’s usual range",
    AgainstReference.OVER: "over the clinic’s usual range",
}


RATIO_CAUTION = "Above 1.4: a reason to have the larynx looked at."


RATIO_NO_CLEARANCE = "At or under 1.4 does not exclude a laryngeal cause."


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
    "hold_s": "A hold of {value:g} s cannot be: it lies between {lowest:g} and {highest:g} seconds.",
    "volume_ml": "A volume of {value:g} mL cannot be: it lies between {lowest:g} and {highest:g} mL.",
    "pitch_hz": "{value:g} Hz cannot be a voice’s pitch: it lies between {lowest:g} and {highest:g} Hz.",
    "level_db_spl": "{value:g} dB SPL cannot be: a reading lies between {lowest:g} and {highest:g}.",
    "distance_m": "{value:g} m cannot be: the microphone stands between {lowest:g} and {highest:g} m away.",
    "effort": "Effort is a number from {lowest:g} to {highest:g}.",
    "rating": "A rating is a number from {lowest:g} to {highest:g}.",
    "questionnaire": "A total of {value:g} cannot be: it lies between {lowest:g} and {highest:g}.",
}
