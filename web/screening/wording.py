"""Flags, cautions, hazards and stops in sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.safety import BY_SAY_SO, Block, Caution, Flag, Hazard, Tier
from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from web.clients.models import Client
    from web.screening.models import Stop

#: Screening questions.
FLAG_QUESTIONS = Words(
    {
        Flag.BREATHING: gettext_noop("Is breathing difficult, or noisy when breathing in?"),
        Flag.CHOKING: gettext_noop("Choking?"),
        Flag.CHEST_PAIN: gettext_noop("Pain in the chest?"),
        Flag.FAINTING_NOW: gettext_noop("Fainted, or close to it, today?"),
        Flag.BLEEDING: gettext_noop("Coughed or spat out blood, more than streaks?"),
        Flag.STROKE_SIGNS: gettext_noop(
            "One side of the face newly drooping, new weakness, or slurred speech?"
        ),
        Flag.VOICE_LOST: gettext_noop("Voice lost all at once?"),
        Flag.NEW_PAIN: gettext_noop("New pain when voicing or swallowing?"),
        Flag.BLOOD_STREAKS: gettext_noop("Streaks of blood?"),
        Flag.LIGHT_HEADED: gettext_noop("Light-headed?"),
        Flag.STRAIN: gettext_noop("Scratchy, tight or sore?"),
        Flag.HOARSER: gettext_noop(
            "Hoarser, or the voice clearly changed, since the larynx was last looked at?"
        ),
        Flag.SWALLOWING: gettext_noop("Trouble swallowing?"),
        Flag.NECK_LUMP: gettext_noop("A lump in the neck?"),
        Flag.EAR_PAIN: gettext_noop("Pain in one ear?"),
        Flag.WEIGHT_LOSS: gettext_noop("Weight lost without meaning to?"),
    }
)


FLAG_NAMES = Words(
    {
        Flag.BREATHING: gettext_noop("difficult or noisy breathing"),
        Flag.CHOKING: gettext_noop("choking"),
        Flag.CHEST_PAIN: gettext_noop("chest pain"),
        Flag.FAINTING_NOW: gettext_noop("fainting"),
        Flag.BLEEDING: gettext_noop("more than streaks of blood"),
        Flag.STROKE_SIGNS: gettext_noop("drooping face, weakness or slurred speech"),
        Flag.VOICE_LOST: gettext_noop("sudden loss of voice"),
        Flag.NEW_PAIN: gettext_noop("new pain on voicing or swallowing"),
        Flag.BLOOD_STREAKS: gettext_noop("streaks of blood"),
        Flag.LIGHT_HEADED: gettext_noop("light-headedness"),
        Flag.STRAIN: gettext_noop("strain"),
        Flag.HOARSER: gettext_noop("new or worse hoarseness since the last examination"),
        Flag.SWALLOWING: gettext_noop("trouble swallowing"),
        Flag.NECK_LUMP: gettext_noop("a lump in the neck"),
        Flag.EAR_PAIN: gettext_noop("one-sided ear pain"),
        Flag.WEIGHT_LOSS: gettext_noop("unexplained weight loss"),
        Flag.UNKNOWN_REASON: gettext_noop(
            "reason unknown: the device’s data could not be decrypted"
        ),
    }
)


TIER_ADVICE = Words(
    {
        Tier.EMERGENCY: gettext_noop("Emergency: call {emergency_number} now. No voice use."),
        Tier.NO_MORE_VOICING: gettext_noop("No voice use. Contact a laryngologist the same day."),
        Tier.END_SESSION: gettext_noop("End today’s session. Sit and breathe normally."),
        Tier.TELL_CLINICIAN: gettext_noop("Clarify before you prescribe any exercise."),
    }
)


CAUTION_QUESTIONS = Words(
    {
        Caution.VOCAL_FOLD_SURGERY: gettext_noop(
            "Have you had vocal-fold surgery, bleeding, an injection or a contact granuloma, or recently a breathing tube?"
        ),
        Caution.PRESSURE_ACUTE: gettext_noop(
            "Do you have an aneurysm or a hernia? Or recently a stroke, a collapsed lung, or surgery on eye, ear, sinuses, belly or chest?"
        ),
        Caution.PRESSURE: gettext_noop(
            "Do you have high blood pressure, heart disease or glaucoma?"
        ),
        Caution.PREGNANCY: gettext_noop("Are you pregnant?"),
        Caution.LUNG_DISEASE: gettext_noop("Do you have a lung disease, such as asthma or COPD?"),
        Caution.BREATHING_ATTACKS: gettext_noop(
            "Do you have breathing attacks that start in the throat, panic attacks or epilepsy?"
        ),
        Caution.AIRWAY: gettext_noop(
            "Do you breathe through an opening in the neck (tracheostomy or laryngectomy)?"
        ),
        Caution.NECK_SURGERY: gettext_noop(
            "Have you had an operation on the thyroid or the neck, or radiotherapy to the neck?"
        ),
        Caution.NECK_JAW: gettext_noop(
            "Do you have a neck disorder, narrowed neck arteries or osteoporosis?"
        ),
        Caution.JAW_DISORDER: gettext_noop("Does your jaw hurt, click or lock?"),
        Caution.BLOOD_THINNERS: gettext_noop("Do you take blood thinners?"),
        Caution.ABDOMINAL: gettext_noop(
            "Do you have trouble with the belly wall or the pelvic floor, such as leaking "
            "when you cough?"
        ),
        Caution.ASPIRATION: gettext_noop("Does food or drink go down the wrong way?"),
        Caution.FAINTING: gettext_noop("Do you faint easily?"),
        Caution.FALLS: gettext_noop("Have you fallen in the last year, or is your balance poor?"),
        Caution.LYING: gettext_noop(
            "Are you late in pregnancy, or short of breath when you lie flat?"
        ),
        Caution.TREMOR: gettext_noop("Do your hands, head or voice shake?"),
        Caution.LATEX: gettext_noop("Are you allergic to latex?"),
        Caution.REFLUX: gettext_noop("Do you have reflux or heartburn?"),
        Caution.INHALER: gettext_noop("Do you use an inhaler?"),
        Caution.HEARING: gettext_noop("Do you have hearing loss?"),
    }
)


#: For clinicians: what each caution forbids or requires.
CAUTION_MEANS = Words(
    {
        Caution.VOCAL_FOLD_SURGERY: gettext_noop(
            "until the surgeon’s date: nothing loud or high, no hard onsets, no swells, no hold over 60 % of best"
        ),
        Caution.PRESSURE_ACUTE: gettext_noop(
            "no strong voice, breath holds, emptying of the lungs or hard blow; back pressure up to about 5 cmH₂O"
        ),
        Caution.PRESSURE: gettext_noop(
            "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor allows them"
        ),
        Caution.PREGNANCY: gettext_noop(
            "strong voice, breath holds, emptying the lungs, hard blows and back pressure over 5 cmH₂O only if the treating doctor or midwife allows them"
        ),
        Caution.LUNG_DISEASE: gettext_noop(
            "no breath holds, panting or emptying of the lungs; holds and hisses up to 80 % of best, rests of 15 seconds; stop at breathlessness"
        ),
        Caution.BREATHING_ATTACKS: gettext_noop(
            "breath holds, fast breathing and long out-breaths only if the treating doctor allows them"
        ),
        Caution.AIRWAY: gettext_noop(
            "the catalogue’s breath and voice tasks do not apply: create your own tasks"
        ),
        Caution.NECK_SURGERY: gettext_noop(
            "no self-massage of the neck; loud and high voice only if the surgeon allows it; hoarseness since then is a red flag"
        ),
        Caution.NECK_JAW: gettext_noop(
            "self-massage and stretches only if the treating doctor allows them"
        ),
        Caution.JAW_DISORDER: gettext_noop(
            "strong voice on rounded vowels, not on a wide “ah”; jaw massage and stretches only if the treating doctor or dentist allows them"
        ),
        Caution.BLOOD_THINNERS: gettext_noop(
            "loud or high voice and self-massage only if the treating doctor allows them"
        ),
        Caution.ABDOMINAL: gettext_noop(
            "hard blows, emptying the lungs and strong voice only if the treating doctor allows them"
        ),
        Caution.ASPIRATION: gettext_noop(
            "no water in tasks, breaks or aftercare; blow, never suck; not lying flat"
        ),
        Caution.FAINTING: gettext_noop(
            "seated; no breath holds, panting, strong puffs or long out-breaths"
        ),
        Caution.FALLS: gettext_noop("seated"),
        Caution.LYING: gettext_noop("not lying flat"),
        Caution.TREMOR: gettext_noop("a soft tube, never glass"),
        Caution.LATEX: gettext_noop("no latex balloon or mask"),
        Caution.REFLUX: gettext_noop(
            "not lying flat and no strong blowing within two hours of a meal"
        ),
        Caution.INHALER: gettext_noop("rinse the mouth and wait 10 minutes after the inhaler"),
        Caution.HEARING: gettext_noop("tones low and loud enough to hear; the visual cue stays on"),
        Caution.CHILD: gettext_noop(
            "sessions up to 10 minutes with a named adult; no maximal loudness, no breath hold over 10 seconds"
        ),
    }
)


#: For clients, on the handout and before a session. Cautions that only limit the choice of tasks
#: have no line.
CAUTION_ADVICE = Words(
    {
        Caution.VOCAL_FOLD_SURGERY: gettext_noop(
            "Keep your voice soft and easy until your surgeon allows more."
        ),
        Caution.PRESSURE_ACUTE: gettext_noop("Never push, strain or hold your breath."),
        Caution.PRESSURE: gettext_noop("Never push, strain or hold your breath."),
        Caution.PREGNANCY: gettext_noop("Never push, strain or hold your breath."),
        Caution.LUNG_DISEASE: gettext_noop("Stop and rest when you are short of breath."),
        Caution.BREATHING_ATTACKS: gettext_noop(
            "Stop and breathe normally if your throat or chest feels tight."
        ),
        Caution.NECK_SURGERY: gettext_noop("Do not press or rub your neck."),
        Caution.FAINTING: gettext_noop("Sit down to practise."),
        Caution.FALLS: gettext_noop("Sit down to practise."),
        Caution.ASPIRATION: gettext_noop(
            "Practise without water. Blow through a straw; never suck."
        ),
        Caution.LYING: gettext_noop("Do not lie flat to practise."),
        Caution.REFLUX: gettext_noop(
            "Wait two hours after a meal before you lie down or blow hard."
        ),
        Caution.INHALER: gettext_noop("After your inhaler, rinse your mouth and wait 10 minutes."),
        Caution.HEARING: gettext_noop("Watch the screen for the note and the breath."),
        Caution.CHILD: gettext_noop("Practise with your grown-up."),
    }
)


def caution_advice(cautions: frozenset[Any]) -> list[str]:
    """Return the lines for a client with these cautions, each once."""
    lines = [
        CAUTION_ADVICE[each] for each in Caution if each in cautions and each in CAUTION_ADVICE
    ]
    return list(dict.fromkeys(lines))


def caution_means(client: Client, caution: Caution) -> str:
    """Return the meaning of a caution for this client, with any permission: person, content and
    date."""
    means = CAUTION_MEANS[caution]
    if caution not in BY_SAY_SO:
        return means
    if caution not in client.said_so:
        return gettext("{means}; no permission is on record").format(means=means)
    entry = client.caution_entries[caution]
    return gettext("{means}. Allowed by {who} on {on}: {what}").format(
        means=means, who=entry["who"], on=entry["on"], what=entry["what"]
    )


HAZARDS = Words(
    {
        Hazard.EMPTIES_LUNGS: gettext_noop("emptying the lungs"),
        Hazard.HARD_BLOW: gettext_noop("a hard blow"),
        Hazard.BREATH_HOLD: gettext_noop("a breath hold"),
        Hazard.LONG_BREATH: gettext_noop("a long out-breath"),
        Hazard.LONG_BREATH_HOLD: gettext_noop("a breath hold of over 10 seconds"),
        Hazard.LOUD: gettext_noop("strong voice"),
        Hazard.MAXIMAL_LOUDNESS: gettext_noop(
            "strong voice without a ceiling of 10 dB over comfortable"
        ),
        Hazard.HIGH: gettext_noop("high"),
        Hazard.MAXIMAL_HOLD: gettext_noop(
            "a hold over 60 % of best, or over 5 s with no best known"
        ),
        Hazard.HARD_ONSET: gettext_noop("hard onsets"),
        Hazard.SWELL: gettext_noop("a swell"),
        Hazard.WIDE_VOWEL: gettext_noop("a wide-open vowel with strong voice"),
        Hazard.BACK_PRESSURE: gettext_noop("back pressure"),
        Hazard.STANDING: gettext_noop("standing"),
        Hazard.UPPER_AIRWAY: gettext_noop("breath or voice through mouth and larynx"),
        Hazard.WATER: gettext_noop("water"),
        Hazard.SUCK: gettext_noop("sucking"),
        Hazard.LYING_FLAT: gettext_noop("lying flat"),
        Hazard.NECK: gettext_noop("massage or stretch of neck and shoulders"),
        Hazard.JAW: gettext_noop("massage or stretch of the jaw"),
        Hazard.LATEX: gettext_noop("latex"),
        Hazard.GLASS: gettext_noop("glass"),
        Hazard.PANTING: gettext_noop("fast breathing"),
    }
)


BLOCKS = Words(
    {
        Block.RED_FLAG: gettext_noop(
            "A red flag is open. Enter why it is safe to continue, or refer."
        ),
        Block.UNEXAMINED: gettext_noop(
            "The voice change has lasted longer than the clinic’s limit without a laryngeal examination. Arrange an examination and enter the date."
        ),
        Block.VOICE_REST: gettext_noop("The surgeon’s voice rest has not ended."),
        Block.SURGERY_UNDATED: gettext_noop(
            "Vocal-fold surgery or haemorrhage is on record. Enter the date from which the surgeon allows loud and high voice."
        ),
    }
)


#: Why a stop was not delivered by email.
DELIVERY_TROUBLE = Words(
    {
        "nobody": gettext_noop(
            "no recipient has an email address. Add one for the clinician and the deputy"
        ),
        "mail_away": gettext_noop(
            "the mail server refused the email. Sending is retried every minute"
        ),
        "": gettext_noop("the email is waiting to be sent"),
    }
)


def delivery_words(stop: Stop) -> str:
    """Return who has received a stop by email, or why no one has."""
    if not stop.needs_alert:
        return ""
    if stop.delivered_at is not None:
        return gettext("Mailed: {told}.").format(told=", ".join(stop.recipients))
    return gettext("Not yet delivered: {value}.").format(
        value=DELIVERY_TROUBLE[stop.delivery_problem]
    )
