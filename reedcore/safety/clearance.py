"""Clearance: whether practice may be prescribed at all."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum

from .cautions import Caution
from .flags import Flag

#: Limit for an unexamined voice change; the clinic can set it within this range (Otolaryngol Head
#: Neck Surg 2018;158(1 suppl):S1–S42: 4 weeks, at once if a serious cause is suspected).
UNEXAMINED_LIMIT_DAYS = (14, 28)


class Block(StrEnum):
    """A reason why nothing may be prescribed, most urgent first."""

    RED_FLAG = "red_flag"
    UNEXAMINED = "unexamined"
    VOICE_REST = "voice_rest"
    SURGERY_UNDATED = "surgery_undated"


@dataclass(frozen=True, slots=True)
class SafetyCase:
    """The safety-related part of the record.

    Attributes:
        open_flags: red flags that were said and neither explained nor referred and seen.
        complaint: whether there is a voice complaint; None if not asked yet, which counts as
            yes. Clients who only warm up, perform or prevent have none.
        voice_changed_on: since when the voice has been different; None if it is not, or unknown.
        examined_on: when the larynx was last looked at.
        voice_rest_until: the last day of the surgeon's voice rest.
        loud_from: the day from which the surgeon allows loud and high.
        limit_days: the clinic's limit for an unexamined voice change.
    """

    cautions: frozenset[Caution] = field(default_factory=frozenset)
    open_flags: frozenset[Flag] = field(default_factory=frozenset)
    complaint: bool | None = None
    voice_changed_on: date | None = None
    examined_on: date | None = None
    voice_rest_until: date | None = None
    loud_from: date | None = None
    limit_days: int = UNEXAMINED_LIMIT_DAYS[1]


def larynx_seen(case: SafetyCase) -> bool:
    """Return whether the larynx was looked at before a course of therapy for a voice complaint.

    Not known counts as not seen, and an examination before the voice changed as none
    (Otolaryngol Head Neck Surg 2018;158(1 suppl):S1–S42).
    """
    if case.complaint is False:
        return True
    examined, changed = case.examined_on, case.voice_changed_on
    return examined is not None and (changed is None or examined >= changed)


def clearance(case: SafetyCase, *, on: date) -> tuple[Block, ...]:
    """Return the reasons against prescribing on this day; empty if there are none."""
    changed, examined = case.voice_changed_on, case.examined_on
    unexamined = (
        changed is not None
        and (examined is None or examined < changed)
        and (on - changed).days > case.limit_days
    )
    surgery = Caution.VOCAL_FOLD_SURGERY in case.cautions
    found = {
        Block.RED_FLAG: bool(case.open_flags),
        Block.UNEXAMINED: unexamined,
        Block.VOICE_REST: case.voice_rest_until is not None and on <= case.voice_rest_until,
        Block.SURGERY_UNDATED: surgery and case.loud_from is None,
    }
    return tuple(block for block, stands in found.items() if stands)
