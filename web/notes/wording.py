"""The headings of what is written."""

from .models import ClinicalNote

#: The parts of what is written, by kind: code, heading.
PARTS = {
    ClinicalNote.Kind.SESSION: (
        ("said", "Client report"),
        ("measured", "Measurements"),
        ("meaning", "Assessment"),
        ("next", "Plan"),
    ),
    ClinicalNote.Kind.PROGRESS: (
        ("course", "Practice"),
        ("measured", "Measurements"),
        ("meaning", "Assessment"),
        ("next", "Plan"),
    ),
    ClinicalNote.Kind.DISCHARGE: (
        ("goals", "Goals"),
        ("course", "Practice"),
        ("measured", "Initial and final status"),
        ("outcome", "Outcome against the goals"),
        ("next", "Maintenance programme"),
    ),
    ClinicalNote.Kind.SPECIALIST: (
        ("question", "Referral question"),
        ("course", "Recent course"),
        ("measured", "Measurements, by the clock and the medication"),
        ("meaning", "Key findings"),
    ),
}
