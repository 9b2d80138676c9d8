"""Flags, cautions, hazards and stops in sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reedcore.safety import BY_SAY_SO, Block, Caution, Flag, Hazard, Tier

if TYPE_CHECKING:
    from web.clients.models import Client
    from web.screening.models import Stop

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
    Flag.UNKNOWN_REASON: "reason unknown: the device’s data could not be decrypted",
}


TIER_ADVICE = {
    Tier.EMERGENCY: "Emergency: call {emergency_number} now. No voice use.",
    Tier.NO_MORE_VOICING: "No voice use. Contact a laryngologist the same day.",
    Tier.END_SESSION: "End today’s session. Sit and breathe normally.",
    Tier.TELL_CLINICIAN: "Clarify before you prescribe any exercise.",
}


CAUTION_QUESTIONS = {
    Caution.VOCAL_FOLD_SURGERY: "Have you had vocal-fold surgery, bleeding, an injection or a contact granuloma, or recently a breathing tube?",
    Caution.PRESSURE_ACUTE: "Do you have an aneurysm or a hernia? Or recently a stroke, a collapsed lung, or surgery on eye, ear, sinuses, belly or chest?",
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


#: For clinicians: what each caution forbids or asks for.
CAUTION_MEANS = {
    Caution.VOCAL_FOLD_SURGERY: "until the surgeon’s date: nothing loud or high, no hard onsets, no swells, no hold over 60 % of best",
    Caution.PRESSURE_ACUTE: "no strong voice, breath holds, emptying of the lungs or hard blow; back pressure up to about 5 cmH₂O",
    Caution.PRESSURE: "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor allows them",
    Caution.PREGNANCY: "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor or midwife allows them",
    Caution.LUNG_DISEASE: "no breath holds, panting or emptying of the lungs; holds and hisses up to 80 % of best, rests of 15 seconds; stop at breathlessness",
    Caution.BREATHING_ATTACKS: "breath holds, fast breathing and long out-breaths only if the treating doctor allows them",
    Caution.AIRWAY: "the catalogue’s breath and voice tasks do not apply: create your own tasks",
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


def caution_advice(cautions: frozenset[Any]) -> list[str]:
    """The lines for a client with these cautions, each once."""
    lines = [
        CAUTION_ADVICE[each] for each in Caution if each in cautions and each in CAUTION_ADVICE
    ]
    return list(dict.fromkeys(lines))


def caution_means(client: Client, caution: Caution) -> str:
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
    Block.RED_FLAG: "A red flag is open. Enter why it is safe to continue, or refer.",
    Block.UNEXAMINED: "The voice change has lasted longer than the clinic’s limit without a laryngeal examination. Arrange an examination and enter the date.",
    Block.VOICE_REST: "The surgeon’s voice rest has not ended.",
    Block.SURGERY_UNDATED: "Vocal-fold surgery or haemorrhage is on record. Enter the date from which the surgeon allows loud and high voice.",
}


#: Why a stop has not reached anybody by mail.
DELIVERY_TROUBLE = {
    "nobody": "no recipient has an email address. Add one for the clinician and the deputy",
    "mail_away": "the mail server refused the email. Sending is retried every minute",
    "": "the email is waiting to be sent",
}


def delivery_words(stop: Stop) -> str:
    """Whom a stop has reached by mail, or why it has not."""
    if not stop.tells:
        return ""
    if stop.delivered_at is not None:
        return f"Mailed: {', '.join(stop.told)}."
    return f"Not yet delivered: {DELIVERY_TROUBLE[stop.trouble]}."
