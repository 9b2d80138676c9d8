"""Answers of the commands, each with its JSON Schema."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class FindingAnswer:
    """A finding; the codes are those of the programme check."""

    level: str
    code: str
    item: str | None
    about: str
    facts: dict[str, Any]


@dataclass(frozen=True, slots=True)
class CheckAnswer:
    """Findings of a check; empty if there are none."""

    findings: list[FindingAnswer]


@dataclass(frozen=True, slots=True)
class PartAnswer:
    """A part of a target: met, not met or not judged, with its reason."""

    part: str
    verdict: str
    reason: str


@dataclass(frozen=True, slots=True)
class JudgeAnswer:
    """The verdict on one recording, as the command line prints it.

    Attributes:
        figures: by name; what could not be measured is null or missing.
    """

    outcome: str
    parts: list[PartAnswer]
    figures: dict[str, Any]


@dataclass(frozen=True, slots=True)
class PlanItem:
    """An item; ``sounds`` are its reference tones as [MIDI note or null, seconds]."""

    id: str
    task: str
    tries: int
    seconds_a_try: float
    total_s: float
    voiced_s: float
    sounds: list[list[float | None]]


@dataclass(frozen=True, slots=True)
class PlanAnswer:
    """A session, in seconds."""

    total_s: float
    voiced_s: float
    items: list[PlanItem]
