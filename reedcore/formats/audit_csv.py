"""Practice of a whole clinic without anybody's name or date, for audit and research.

People are numbered anew in every file and days are counted from each person's own first one, so
that no two files can be joined and no calendar gives anybody away. A small clinic's people may
still be known by what is unusual about them: the file goes out under the clinic's own rules.
"""

from __future__ import annotations

from dataclasses import dataclass

from .table_csv import column


@dataclass(frozen=True, slots=True)
class AuditRow:
    """One try."""

    person: int = column("number of the person, drawn anew for each file")
    age_band: str = column("age band; empty where it is not on record")
    voice: str = column("low or high voice, or the person’s own, as their targets are set by")
    diagnosis: str = column("kind of diagnosis; empty where it is not on record")
    school: str = column("how the programme works: soft, loud or mixed")
    day: int = column("days since the person’s first try", "d")
    part_of_day: str = column("morning, afternoon or evening by the person’s own clock")
    programme_version: int = column("which version of the programme it was done under")
    task: str = column("code of the task in the catalogue")
    measure: str = column("kind of measure")
    note_midi: int | None = column("note asked for, as a MIDI number; empty where any would do")
    source: str = column("what it was measured from: microphone, recording, stopwatch, paper …")
    target_s: float | None = column("seconds asked for", "s")
    total_s: float | None = column("seconds held; empty where nothing was measured", "s")
    steady_s: float | None = column("seconds held steadily; empty where it was not judged", "s")
    pitch_error_cents: float | None = column("median distance from the note asked for", "cent")
    pitch_spread_cents: float | None = column("spread of the pitch around its own middle", "cent")
    breaks: int | None = column("breaks in the voice; empty where it was not heard")
    level_db: float | None = column("level against the comfortable voice on the same device", "dB")
    outcome: str = column("on target, not on target or not judged, against that day’s target")
