"""Records of a client's practice as plain values. None means unknown, never zero."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, Literal
from uuid import UUID

from reedcore.dose import Dose
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.programme import Programme

Outcome = Literal["met", "not_met", "not_judged"]


@dataclass(frozen=True, slots=True)
class TrialRecord:
    """A trial as it was measured and judged that day.

    Attributes:
        task: key of the prescribed task.
        on: the day it was where the client lives.
        set_s: what was asked in this session where it was not what the task asks.
        role: "poor" or "good" of a contrast pair, else empty; a poor one enters nothing.
        level_db: against the comfortable voice on the same device.
        breaks, parts: as plain mappings; ``parts`` are verdicts with their reasons.
        figures: what only one kind of measure has.
        capture: device and settings as reported by the browser.
        since_medication_h: hours, where the session says so.
    """

    key: UUID
    task: int
    session: UUID | None
    at: datetime
    on: date
    outcome: Outcome
    source: str = ""
    role: str = ""
    set_s: float | None = None
    total_s: float | None = None
    steady_s: float | None = None
    median_hz: float | None = None
    error_cents: float | None = None
    end_error_cents: float | None = None
    spread_cents: float | None = None
    drift_cents: float | None = None
    share_on_pitch: float | None = None
    level_db: float | None = None
    level_mean_dbfs: float | None = None
    snr_db: float | None = None
    breaks: list[dict[str, Any]] = field(default_factory=list)
    parts: list[dict[str, Any]] = field(default_factory=list)
    figures: dict[str, Any] = field(default_factory=dict)
    reasons: list[str] = field(default_factory=list)
    capture: dict[str, Any] = field(default_factory=dict)
    since_medication_h: float | None = None

    @property
    def device(self) -> str:
        """Return the microphone and browser of the recording; empty if unknown."""
        return device_named(self.capture)


def device_named(capture: Mapping[str, Any]) -> str:
    """Return microphone and browser from a browser's report."""
    named = (capture.get("device", ""), capture.get("browser", ""))
    return ", ".join(part for part in named if part)


@dataclass(frozen=True, slots=True)
class LongestOfDay:
    """The longest counted hold of one series on one day, with the target of that day."""

    on: date
    held_s: float
    asked_s: float | None = None


@dataclass(frozen=True, slots=True)
class SessionRecord:
    """A session, started on a device under one version of the programme."""

    key: UUID
    at: datetime
    on: date
    sort: str
    day: str
    ending: str
    done: int
    planned: int
    version: int | None = None
    voice: str = ""
    place: str = ""
    ended_at: datetime | None = None
    device: str = ""
    hours_since_medication: float | None = None
    helped_by: str = ""


@dataclass(frozen=True, slots=True)
class Report:
    """A self-report: effort, strain, a felt check, why a task was skipped …"""

    key: UUID
    kind: str
    value: Any
    at: datetime
    on: date
    session: UUID | None = None
    task: int | None = None


@dataclass(frozen=True, slots=True)
class StopRecord:
    """A reported problem."""

    key: UUID
    flags: tuple[str, ...]
    tier: str
    pauses: bool
    said_at: datetime
    received_at: datetime
    cleared_at: datetime | None = None
    cancelled_at: datetime | None = None
    session: UUID | None = None
    comment: str = ""
    cleared_because: str = ""


@dataclass(frozen=True, slots=True)
class Screening:
    """The red flags of a screening; ``open_flags`` are those not declared safe."""

    asked_at: datetime
    flags: tuple[str, ...] = ()
    open_flags: tuple[str, ...] = ()
    safe_at: datetime | None = None
    note: str = ""
    safe_because: str = ""
    referred_at: datetime | None = None
    referred_to: str = ""


@dataclass(frozen=True, slots=True)
class DecisionRecord:
    """An accepted or refused proposal."""

    step: str
    reason: str
    at: datetime
    task: int | None = None
    accepted: bool = True
    refusal_reason: str = ""
    undone_at: datetime | None = None
    facts: dict[str, Any] = field(default_factory=dict)
    evidence: tuple[str, ...] = ()
    created_version: int | None = None


@dataclass(frozen=True, slots=True)
class Version:
    """One version of the programme.

    Attributes:
        doses: of all programmes in force together, by id, the main one's first.
        programme: None where one held sound was prescribed alone, and where it was not read (of old
            versions only the doses and the tasks are needed).
        is_withdrawn: whether it was withdrawn; practice under it still counts.
    """

    number: int
    at: datetime
    on: date
    doses: Mapping[str, Dose] = field(default_factory=dict)
    programme: Programme | None = None
    tasks: tuple[PrescribedItem, ...] = ()
    is_withdrawn: bool = False
    reason: str = ""
