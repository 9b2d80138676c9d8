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
    Caution.VOCAL_FOLD_SURGERY: "Have you had an operation on the vocal folds, bleeding into one, an "
    "injection or botulinum toxin there, a breathing tube lately, or a contact granuloma?",
    Caution.PRESSURE_ACUTE: "Do you have an aneurysm or a hernia, or have you lately had a stroke, a "
    "collapsed lung, or an operation on an eye, an ear, the sinuses, the belly or the chest?",
    Caution.PRESSURE: "Do you have high blood pressure, heart disease or glaucoma?",
    Caution.PREGNANCY: "Are you pregnant?",
    Caution.LUNG_DISEASE: "Do you have a lung disease, such as asthma or COPD?",
    Caution.BREATHING_ATTACKS: "Do you have breathing attacks that start in the throat, panic attacks "
    "or epilepsy?",
    Caution.AIRWAY: "Do you breathe through an opening in the neck (tracheostomy or laryngectomy)?",
    Caution.NECK_SURGERY: "Have you had an operation on the thyroid or the neck, or radiotherapy to "
    "the neck?",
    Caution.NECK_JAW: "Do you have a neck disorder, narrowed neck arteries or osteoporosis?",
    Caution.JAW_DISORDER: "Does your jaw hurt, click or lock?",
    Caution.BLOOD_THINNERS: "Do you take blood thinners?",
    Caution.ABDOMINAL: "Do you have trouble with the belly wall or the pelvic floor, such as leaking "
    "when you cough?",
    Caution.ASPIRATION: "Does food or drink go down the wrong way?",
    Caution.FAINTING: "Do you faint easily?",
    Caution.FALLS: "Have you fallen in the last year, or is your balance poor?",
    Caution.LYING: "Are you late in pregnancy, or short of breath when you lie flat?",
    Caution.TREMOR: "Do your hands, head or voice shake?",
    Caution.LATEX: "Are you allergic to latex?",
    Caution.REFLUX: "Do you have reflux or heartburn?",
    Caution.INHALER: "Do you use an inhaler?",
    Caution.HEARING: "Do you have hearing loss?",
}
CAUTION_NAMES = {
    Caution.VOCAL_FOLD_SURGERY: "vocal-fold surgery, haemorrhage, injection, intubation or granuloma",
    Caution.PRESSURE_ACUTE: "aneurysm, stroke, pneumothorax, hernia or recent surgery",
    Caution.PRESSURE: "high blood pressure, heart disease or glaucoma",
    Caution.PREGNANCY: "pregnancy",
    Caution.LUNG_DISEASE: "lung disease",
    Caution.BREATHING_ATTACKS: "laryngeal breathing attacks, panic or epilepsy",
    Caution.AIRWAY: "tracheostomy or laryngectomy",
    Caution.NECK_SURGERY: "thyroid or neck surgery, or neck radiotherapy",
    Caution.NECK_JAW: "neck disorder, carotid disease or osteoporosis",
    Caution.JAW_DISORDER: "jaw disorder",
    Caution.BLOOD_THINNERS: "blood thinners",
    Caution.ABDOMINAL: "abdominal or pelvic-floor trouble",
    Caution.ASPIRATION: "risk of aspiration",
    Caution.FAINTING: "fainting",
    Caution.FALLS: "falls or poor balance",
    Caution.LYING: "late pregnancy, or breathless lying flat",
    Caution.TREMOR: "tremor",
    Caution.LATEX: "latex allergy",
    Caution.REFLUX: "reflux",
    Caution.INHALER: "inhaler",
    Caution.HEARING: "hearing loss",
    Caution.CHILD: "a child",
}
#: For clinicians: what each caution forbids or asks for.
CAUTION_MEANS = {
    Caution.VOCAL_FOLD_SURGERY: "until the surgeon’s date: nothing loud or high, no hard onsets, no swells, no hold over 60 % of best",
    Caution.PRESSURE_ACUTE: "no strong voice, breath holds, emptying of the lungs or hard blow; back pressure up to about 5 cmH₂O",
    Caution.PRESSURE: "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor allows them",
    Caution.PREGNANCY: "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor or midwife allows them",
    Caution.LUNG_DISEASE: "no breath holds, panting or emptying of the lungs; holds and hisses up to 80 % of best, rests of 15 seconds; stop at breathlessness",
    Caution.BREATHING_ATTACKS: "breath holds, fast breathing and long out-breaths only if the treating doctor allows them",
    Caution.AIRWAY: "the catalogue’s breath and voice tasks do not apply: write the clinic’s own tasks",
    Caution.NECK_SURGERY: "no self-massage of the neck; loud and high voice only if the surgeon allows it; hoarseness since then is a red flag",
    Caution.NECK_JAW: "self-massage and stretches only if the treating doctor allows them",
    Caution.JAW_DISORDER: "strong voice on rounded vowels, not on a wide “ah”; jaw massage and stretches only if the treating doctor or dentist allows them",
    Caution.BLOOD_THINNERS: "loud or high voice and self-massage only if the treating doctor allows them",
    Caution.ABDOMINAL: "hard blows, emptying the lungs and strong voice only if the treating doctor allows them",
    Caution.ASPIRATION: "no water in tasks, breaks or aftercare; blow, never suck; not lying flat",
    Caution.FAINTING: "seated; no breath holds, panting, strong puffs or long out-breaths",
    Caution.FALLS: "seated",
    Caution.LYING: "not lying flat",
    Caution.TREMOR: "a soft tube, never glass",
    Caution.LATEX: "no latex balloon or mask",
    Caution.REFLUX: "not lying flat and no strong blowing within two hours of a meal",
    Caution.INHALER: "rinse the mouth and wait 10 minutes after the inhaler",
    Caution.HEARING: "tones low and loud enough to hear; the visual cue stays on",
    Caution.CHILD: "sessions up to 10 minutes with a named adult; no maximal loudness, no breath hold over 10 seconds",
}
#: For clients, on the handout and before a session. What only limits the choice of tasks is the
#: clinician's concern and has no line here.
CAUTION_ADVICE = {
    Caution.VOCAL_FOLD_SURGERY: "Keep your voice soft and easy until your surgeon allows more.",
    Caution.PRESSURE_ACUTE: "Never push, strain or hold your breath.",
    Caution.PRESSURE: "Never push, strain or hold your breath.",
    Caution.PREGNANCY: "Never push, strain or hold your breath.",
    Caution.LUNG_DISEASE: "Stop and rest when you are short of breath.",
    Caution.BREATHING_ATTACKS: "Stop and breathe normally if your throat or chest feels tight.",
    Caution.NECK_SURGERY: "Do not press or rub your neck.",
    Caution.FAINTING: "Sit down to practise.",
    Caution.FALLS: "Sit down to practise.",
    Caution.ASPIRATION: "Practise without water. Blow through a straw; never suck.",
    Caution.LYING: "Do not lie flat to practise.",
    Caution.REFLUX: "Wait two hours after a meal before you lie down or blow hard.",
    Caution.INHALER: "After your inhaler, rinse your mouth and wait 10 minutes.",
    Caution.HEARING: "Watch the screen for the note and the breath.",
    Caution.CHILD: "Practise with your grown-up.",
}


def caution_advice(cautions) -> list[str]:
    """The lines for a client with these cautions, each once."""
    lines = [
        CAUTION_ADVICE[each] for each in Caution if each in cautions and each in CAUTION_ADVICE
    ]
    return list(dict.fromkeys(lines))


def caution_means(client, caution):
    """What a caution means for this client, with who allowed what where somebody has."""
    means = CAUTION_MEANS[caution]
    if caution not in BY_SAY_SO:
        return means
    if caution not in client.said_so:
        return f"{means}; no permission is on record"
    entry = client.caution_entries[caution]
    return f"{means}. Allowed by {entry['who']} on {entry['on']}: {entry['what']}"


HAZARDS = {
    Hazard.EMPTIES_LUNGS: "emptying the lungs",
    Hazard.HARD_BLOW: "a hard blow",
    Hazard.BREATH_HOLD: "a breath hold",
    Hazard.LONG_BREATH: "a long out-breath",
    Hazard.LONG_BREATH_HOLD: "a breath hold of over 10 seconds",
    Hazard.LOUD: "strong voice",
    Hazard.MAXIMAL_LOUDNESS: "strong voice without a ceiling of 10 dB over comfortable",
    Hazard.HIGH: "high",
    Hazard.MAXIMAL_HOLD: "a hold over 60 % of best, or over 5 s with no best known",
    Hazard.HARD_ONSET: "hard onsets",
    Hazard.SWELL: "a swell",
    Hazard.WIDE_VOWEL: "a wide-open vowel with strong voice",
    Hazard.BACK_PRESSURE: "back pressure",
    Hazard.STANDING: "standing",
    Hazard.UPPER_AIRWAY: "breath or voice through mouth and larynx",
    Hazard.WATER: "water",
    Hazard.SUCK: "sucking",
    Hazard.LYING_FLAT: "lying flat",
    Hazard.NECK: "massage or stretch of neck and shoulders",
    Hazard.JAW: "massage or stretch of the jaw",
    Hazard.LATEX: "latex",
    Hazard.GLASS: "glass",
    Hazard.PANTING: "fast breathing",
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
