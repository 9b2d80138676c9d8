"""A start on its beat, where the device says when that was."""

from __future__ import annotations

from dataclasses import replace

from reedcore.acoustics import Analysis
from reedcore.targets import Judgement, Part
from reedcore.targets.judging import Why

from . import hold
from .common import Against, Columns, Wanted, nothing


def figures(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    """How long it sounded; when it began cannot be held against a beat that nobody heard."""
    sounded = analysis.longest
    if sounded is None:
        return {}, nothing(Part.START)
    lasted: Columns = {"total_s": round(sounded.duration_s, 3)}
    return lasted, nothing(Part.START, Why.NO_BEAT)


KIND = replace(hold.KIND, code="on_the_beat", figures=figures)
