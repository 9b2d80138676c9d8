"""Export the practice of a whole clinic without names or dates, for audit and research.

People get new numbers in every file, weeks are counted from each person's own first one and
figures are rounded, so that files cannot be joined and weeks identify no one. Each
person shares age band, voice and diagnosis with at least four others, or is shown with fewer of
them, or is left out. The file still goes out under the clinic's own rules.
"""

from __future__ import annotations

from dataclasses import dataclass

from .table_csv import column


@dataclass(frozen=True, slots=True)
class AuditRow:
    """A trial."""

    person: int = column("number of the person, different in each file")
    age_band: str = column("age band; empty where it is not on record, or is held back")
    voice: str = column("low or high voice, or the person’s own; empty where it is held back")
    diagnosis: str = column("kind of diagnosis; empty where it is not on record, or is held back")
    school: str = column("how the programme works: soft, loud or mixed")
    week: int = column("weeks since the person’s first try, from 0", "wk")
    part_of_day: str = column("morning, afternoon or evening by the person’s own clock")
    programme_version: int = column("which version of the programme it was done under")
    task: str = column("code of the task in the catalogue")
    measure: str = column("kind of measure")
    note_midi: int | None = column("note asked for, as a MIDI number; empty where any would do")
    source: str = column("what it was measured from: microphone, recording, stopwatch, paper …")
    target_s: float | None = column("seconds asked for", "s")
    total_s: float | None = column("seconds held, to a half; empty where nothing was measured", "s")
    steady_s: float | None = column("seconds held steadily, to a half; empty where not judged", "s")
    pitch_error_cents: float | None = column("median distance from the note, to 5", "cent")
    pitch_spread_cents: float | None = column("spread of the pitch about its middle, to 5", "cent")
    breaks: int | None = column("breaks in the voice; empty where it was not heard")
    level_db: float | None = column("level against the comfortable voice there, to 1", "dB")
    outcome: str = column("on target, not on target or not judged, against that day’s target")
