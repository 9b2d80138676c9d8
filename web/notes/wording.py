"""The headings of what is written."""

from .models import Note

#: The parts of what is written, by kind: code, heading.
PARTS = {
    Note.Kind.SESSION: (
        ("said", "What the client reports"),
        ("measured", "What was measured"),
        ("meaning", "What it means"),
        ("next", "What is next"),
    ),
    Note.Kind.PROGRESS: (
        ("course", "What was practised"),
        ("measured", "What was measured"),
        ("meaning", "What it means"),
        ("next", "What is planned"),
    ),
    Note.Kind.DISCHARGE: (
        ("goals", "The goals"),
        ("course", "What was practised"),
        ("measured", "Where it began and where it ended"),
        ("outcome", "Outcome against the goals"),
        ("next", "What the client goes on with"),
    ),
    Note.Kind.SPECIALIST: (
        ("question", "What is asked"),
        ("course", "The last weeks"),
        ("measured", "What was measured, by the clock and the medication"),
        ("meaning", "What stands out"),
    ),
}
