"""Tries as CSV (RFC 4180, UTF-8): one row a try, units in the column names, unknown left empty."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class TrialRow:
    """A trial. Times have an offset; None means not measured."""

    try_id: str
    performed_at: datetime
    client: str
    programme_version: int
    task: str
    note: str | None
    source: str
    target_s: float | None
    seconds_counted: str
    total_s: float | None
    steady_s: float | None
    pitch_median_hz: float | None
    pitch_error_cents: float | None
    pitch_spread_cents: float | None
    pitch_drift_cents: float | None
    on_pitch_share: float | None
    breaks: int | None
    level_relative_dbfs: float | None
    snr_db: float | None
    outcome: str
    not_judged_because: str
    span_semitones: float | None = None
    jumps: int | None = None
    gap_s: float | None = None
    notes_on_pitch: int | None = None
    notes_asked: int | None = None
    voiced_s: float | None = None
    pauses: int | None = None
    pulses: int | None = None
    pulse_unevenness: float | None = None
    repetitions: int | None = None
    minutes: float | None = None
    breaths: int | None = None
    count: float | None = None
    lines: int | None = None
    ticks: str = ""
    voice_s: float | None = None
    vibrations: int | None = None
    round: int | None = None
    late_ms: int | None = None
    breaths_inside: int | None = None
    circles: int | None = None
    z_hz: float | None = None
    z_onset_ms: float | None = None
    set_aside: str = ""
