"""Codes of safety, baseline and targets, in sentences."""

from __future__ import annotations

from typing import Any

from reedcore.devices.bores import BORES
from reedcore.safety import Caution
from web.ui.marked import Words, gettext_noop

CAUTION_NAMES = Words(
    {
        Caution.VOCAL_FOLD_SURGERY: gettext_noop(
            "vocal-fold surgery, haemorrhage, injection, intubation or granuloma"
        ),
        Caution.PRESSURE_ACUTE: gettext_noop(
            "aneurysm, stroke, pneumothorax, hernia or recent surgery"
        ),
        Caution.PRESSURE: gettext_noop("high blood pressure, heart disease or glaucoma"),
        Caution.PREGNANCY: gettext_noop("pregnancy"),
        Caution.LUNG_DISEASE: gettext_noop("lung disease"),
        Caution.BREATHING_ATTACKS: gettext_noop("laryngeal breathing attacks, panic or epilepsy"),
        Caution.AIRWAY: gettext_noop("tracheostomy or laryngectomy"),
        Caution.NECK_SURGERY: gettext_noop("thyroid or neck surgery, or neck radiotherapy"),
        Caution.NECK_JAW: gettext_noop("neck disorder, carotid disease or osteoporosis"),
        Caution.JAW_DISORDER: gettext_noop("jaw disorder"),
        Caution.BLOOD_THINNERS: gettext_noop("blood thinners"),
        Caution.ABDOMINAL: gettext_noop("abdominal or pelvic-floor trouble"),
        Caution.ASPIRATION: gettext_noop("risk of aspiration"),
        Caution.FAINTING: gettext_noop("fainting"),
        Caution.FALLS: gettext_noop("falls or poor balance"),
        Caution.LYING: gettext_noop("late pregnancy, or breathless lying flat"),
        Caution.TREMOR: gettext_noop("tremor"),
        Caution.LATEX: gettext_noop("latex allergy"),
        Caution.REFLUX: gettext_noop("reflux"),
        Caution.INHALER: gettext_noop("inhaler"),
        Caution.HEARING: gettext_noop("hearing loss"),
        Caution.CHILD: gettext_noop("a child"),
    }
)


PROPS = Words(
    {
        "straw_6mm": gettext_noop("straw, 6 mm × 20 cm"),
        "straw_5mm": gettext_noop("straw, 5 mm × 20 cm"),
        "straw_4mm": gettext_noop("straw, 4 mm × 15 cm"),
        "straw_3mm": gettext_noop("straw, 3 mm × 12 cm"),
        "tube": gettext_noop("resistance tube, 10 mm × 35 cm"),
        "tube_soft": gettext_noop("soft tube, 10 mm × 35 cm"),
        "bottle": gettext_noop("bottle or cup of water"),
        "mirror": gettext_noop("mirror"),
        "metronome": gettext_noop("metronome"),
        "book": gettext_noop("book, for lying down"),
        "balloon": gettext_noop("balloon"),
    }
)
#: Props that go into the mouth: personal, and washed after use.
IN_THE_MOUTH = {*BORES, "bottle", "balloon"}


def join_words(names: Any) -> str:
    """Return ``a, b and c``."""
    names = list(names)
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
