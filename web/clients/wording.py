"""Codes of safety, baseline and targets, in sentences."""

from __future__ import annotations

from typing import Any

from reedcore.devices.bores import BORES
from reedcore.safety import Caution

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


def listed(names: Any) -> str:
    """``a, b and c``."""
    names = list(names)
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
