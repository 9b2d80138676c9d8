"""Headings of notes."""

from web.ui.marked import Words, gettext_noop

from .models import ClinicalNote

#: Parts by kind of note: (code, heading).
PARTS = Words(
    {
        ClinicalNote.Kind.SESSION: (
            ("said", gettext_noop("Client report")),
            ("measured", gettext_noop("Measurements")),
            ("meaning", gettext_noop("Assessment")),
            ("next", gettext_noop("Plan")),
        ),
        ClinicalNote.Kind.PROGRESS: (
            ("course", gettext_noop("Practice")),
            ("measured", gettext_noop("Measurements")),
            ("meaning", gettext_noop("Assessment")),
            ("next", gettext_noop("Plan")),
        ),
        ClinicalNote.Kind.DISCHARGE: (
            ("goals", gettext_noop("Goals")),
            ("course", gettext_noop("Practice")),
            ("measured", gettext_noop("Initial and final status")),
            ("outcome", gettext_noop("Outcome against the goals")),
            ("next", gettext_noop("Maintenance programme")),
        ),
        ClinicalNote.Kind.SPECIALIST: (
            ("question", gettext_noop("Referral question")),
            ("course", gettext_noop("Recent course")),
            (
                gettext_noop("measured"),
                gettext_noop("Measurements, by the clock and the medication"),
            ),
            ("meaning", gettext_noop("Key findings")),
        ),
    }
)
