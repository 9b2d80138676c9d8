"""Codes of safety, baseline and targets, in sentences."""

from reedcore.baseline import AgainstReference
from reedcore.devices.bores import BORES
from reedcore.safety import BY_SAY_SO, Block, Caution, Flag, Hazard, Tier
from reedcore.targets.proposing import Kind, Missing, Rule

#: Asked at screening, word for word.
FLAG_QUESTIONS = {
    Flag.BREATHING: "Is breathing difficult, or noisy when breathing in?",
    Flag.CHOKING: "Choking?",
    Flag.CHEST_PAIN: "Pain in the chest?",
    Flag.FAINTING_NOW: "Fainted, or close to it, today?",
    Flag.BLEEDING: "Coughed or spat out blood, more than streaks?",
    Flag.STROKE_SIGNS: "One side of the face newly drooping, new weakness, or slurred speech?",
    Flag.VOICE_LOST: "Voice lost all at once?",
    Flag.NEW_PAIN: "New pain when voicing or swallowing?",
    Flag.BLOOD_STREAKS: "Streaks of blood?",
    Flag.LIGHT_HEADED: "Light-headed?",
    Flag.STRAIN: "Scratchy, tight or sore?",
    Flag.HOARSER: "Hoarser, or the voice clearly changed, since the larynx was last looked at?",
    Flag.SWALLOWING: "Trouble swallowing?",
    Flag.NECK_LUMP: "A lump in the neck?",
    Flag.EAR_PAIN: "Pain in one ear?",
    Flag.WEIGHT_LOSS: "Weight lost without meaning to?",
}
FLAG_NAMES = {
    Flag.BREATHING: "difficult or noisy breathing",
    Flag.CHOKING: "choking",
    Flag.CHEST_PAIN: "chest pain",
    Flag.FAINTING_NOW: "fainting",
    Flag.BLEEDING: "more than streaks of blood",
    Flag.STROKE_SIGNS: "drooping face, weakness or slurred speech",
    Flag.VOICE_LOST: "sudden loss of voice",
    Flag.NEW_PAIN: "new pain on voicing or swallowing",
    Flag.BLOOD_STREAKS: "streaks of blood",
    Flag.LIGHT_HEADED: "light-headedness",
    Flag.STRAIN: "strain",
    Flag.HOARSER: "new or worse hoarseness since the last examination",
    Flag.SWALLOWING: "trouble swallowing",
    Flag.NECK_LUMP: "a lump in the neck",
    Flag.EAR_PAIN: "one-sided ear pain",
    Flag.WEIGHT_LOSS: "unexplained weight loss",
    Flag.UNKNOWN_REASON: "reason unknown: what the device kept could not be opened",
}
TIER_ADVICE = {
    Tier.EMERGENCY: "An emergency: call {emergency_number} now. No voicing.",
    Tier.NO_MORE_VOICING: "No more voicing. See or speak to a laryngologist the same day.",
    Tier.END_SESSION: "End today’s session; sit and breathe normally.",
    Tier.TELL_CLINICIAN: "Needs looking into before any exercise is prescribed.",
}
CAUTION_QUESTIONS = {
    Caution.VOCAL_FOLD_SURGERY: "Surgery on the vocal folds, or bleeding into one?",
    Caution.PRESSURE_ACUTE: "Aneurysm, recent stroke, pneumothorax, hernia, or recent surgery of eye, "
    "ear, sinus, belly or chest?",
    Caution.PRESSURE: "High blood pressure, heart disease, glaucoma, or pregnancy?",
    Caution.LUNG_DISEASE: "Lung disease?",
    Caution.ASPIRATION: "Food or drink going down the wrong way?",
    Caution.FAINTING: "Tends to faint?",
    Caution.LYING: "Late pregnancy, or breathless when lying flat?",
    Caution.NECK_JAW: "Neck or jaw disorder, blood thinners, carotid disease, osteoporosis, or "
    "radiotherapy to the neck?",
    Caution.TREMOR: "Tremor?",
    Caution.LATEX: "Allergic to latex?",
    Caution.REFLUX: "Reflux?",
    Caution.INHALER: "Uses an inhaler?",
    Caution.HEARING: "Hearing loss?",
}
CAUTION_NAMES = {
    Caution.VOCAL_FOLD_SURGERY: "vocal-fold surgery or haemorrhage",
    Caution.PRESSURE_ACUTE: "pressure must not rise (aneurysm, stroke, lung, hernia, recent surgery)",
    Caution.PRESSURE: "pressure is to be watched (blood pressure, heart, glaucoma, pregnancy)",
    Caution.LUNG_DISEASE: "lung disease",
    Caution.ASPIRATION: "risk of aspiration",
    Caution.FAINTING: "faints",
    Caution.LYING: "not lying flat",
    Caution.NECK_JAW: "neck or jaw: no massage or stretch without say-so",
    Caution.TREMOR: "tremor",
    Caution.LATEX: "latex allergy",
    Caution.REFLUX: "reflux",
    Caution.INHALER: "inhaler",
    Caution.HEARING: "hearing loss",
}
CAUTION_MEANS = {
    Caution.VOCAL_FOLD_SURGERY: "nothing loud and nothing high until the surgeon’s date",
    Caution.PRESSURE_ACUTE: "no breath holds, no emptying of the lungs, no hard blow, no back pressure over about 5 cmH₂O",
    Caution.PRESSURE: "no breath holds, no emptying of the lungs, no hard blow, little back pressure, but for what whoever treats it allows",
    Caution.LUNG_DISEASE: "no breath holds, no emptying of the lungs; holds at most 80 % of the best, rests of 15 seconds; stop at breathlessness",
    Caution.ASPIRATION: "no water in tasks, sips or aftercare; blow, never suck",
    Caution.FAINTING: "seated; no breath holds, panting, strong puffs or long out-breaths",
    Caution.LYING: "nothing lying flat",
    Caution.NECK_JAW: "no self-massage or stretch without say-so",
    Caution.TREMOR: "a soft tube, never glass",
    Caution.LATEX: "no latex balloon or mask",
    Caution.REFLUX: "noted",
    Caution.INHALER: "noted",
    Caution.HEARING: "noted",
}


def caution_means(client, caution):
    """What a caution means for this client, with who allowed what where somebody has."""
    means = CAUTION_MEANS[caution]
    if caution not in BY_SAY_SO:
        return means
    if caution not in client.said_so:
        return f"{means}; nobody’s say-so is on record"
    entry = client.caution_entries[caution]
    return f"{means}. Allowed by {entry['who']} on {entry['on']}: {entry['what']}"


HAZARDS = {
    Hazard.EMPTIES_LUNGS: "emptying the lungs",
    Hazard.HARD_BLOW: "a hard blow",
    Hazard.BREATH_HOLD: "a breath hold",
    Hazard.LONG_BREATH: "a long out-breath",
    Hazard.LOUD: "loud",
    Hazard.HIGH: "high",
    Hazard.BACK_PRESSURE: "back pressure",
    Hazard.WATER: "water",
    Hazard.SUCK: "sucking",
    Hazard.LYING_FLAT: "lying flat",
    Hazard.NECK: "massage or stretch of neck and shoulders",
    Hazard.JAW: "massage or stretch of the jaw",
    Hazard.LATEX: "latex",
    Hazard.GLASS: "glass",
    Hazard.PANTING: "panting",
}
BLOCKS = {
    Block.RED_FLAG: "A red flag is open. Write why it is safe to go on, or refer.",
    Block.UNEXAMINED: "The voice has been different for longer than the clinic’s limit and the "
    "larynx has not been looked at since. Have it examined first and enter the date.",
    Block.VOICE_REST: "The surgeon’s voice rest is not over.",
    Block.SURGERY_UNDATED: "Vocal-fold surgery or haemorrhage is on record without the date from "
    "which the surgeon allows loud and high voice. Enter it on the record.",
}

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

PROPS = {
    "straw_6mm": "straw, 6 mm × 20 cm",
    "straw_5mm": "straw, 5 mm × 20 cm",
    "straw_4mm": "straw, 4 mm × 15 cm",
    "straw_3mm": "straw, 3 mm × 12 cm",
    "tube": "resistance tube, 10 mm × 35 cm",
    "tube_soft": "soft tube, 10 mm × 35 cm",
    "bottle": "bottle or cup of water",
    "mirror": "mirror",
    "metronome": "metronome",
    "book": "book, for lying down",
    "balloon": "balloon",
}
#: What is put into the mouth is one's own, and washed.
IN_THE_MOUTH = {*BORES, "bottle", "balloon"}

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


def listed(names):
    """``a, b and c``."""
    names = list(names)
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


#: Why a stop has not reached anybody by mail.
DELIVERY_TROUBLE = {
    "nobody": "nobody who is to be told has an e-mail address: give the clinician and the deputy one",
    "mail_away": "the mail server took no letter; it is asked again every minute",
    "": "its letter is about to go out",
}


def delivery_words(stop):
    """Whom a stop has reached by mail, or why it has not."""
    if not stop.tells:
        return ""
    if stop.delivered_at is not None:
        return f"Mailed: {', '.join(stop.told)}."
    return f"Not yet delivered: {DELIVERY_TROUBLE[stop.trouble]}."


#: Pages of a record whose own name says too little.
PAGES = {
    "clients:summary": "record",
    "clients:record": "record, changed",
    "results:client": "results",
    "results:task": "results of a task",
    "programmes:compose": "programme",
    "programmes:edit": "programme, edited",
    "programmes:version": "programme, a version",
    "exports:client": "export",
    "exports:practice_json": "all of it, JSON",
    "exports:fhir_json": "all of it, FHIR",
}
#: What a record holds, one and many.
BELONGS = {
    "Trial": ("try", "tries"),
    "SelfReport": ("answer", "answers"),
    "Session": ("session", "sessions"),
    "Programme": ("version of a programme", "versions of the programme"),
    "Decision": ("decision", "decisions"),
    "Screen": ("screen", "screens"),
    "Stop": ("stop", "stops"),
    "Note": ("note", "notes"),
    "Message": ("message", "messages"),
    "Baseline": ("baseline sheet", "baseline sheets"),
    "BaselineTrial": ("baseline trial", "baseline trials"),
    "Target": ("target", "targets"),
}


def page_words(page: str) -> str:
    """What a page of a record is called in the list of who opened what."""
    return PAGES.get(page) or page.partition(":")[2].replace("_", " ") or page


def what_belongs(rows) -> list[str]:
    """What a record holds, in words: by model, its rows' keys."""
    counts = {model.__name__: len(keys) for model, keys in rows.items() if keys}
    said = [
        f"{counts[name]} {one if counts[name] == 1 else many}"
        for name, (one, many) in BELONGS.items()
        if name in counts
    ]
    others = sum(count for name, count in counts.items() if name not in BELONGS)
    return [*said, f"{others} rows of drafts, traces, earlier states and the account"]
