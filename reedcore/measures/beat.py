"""A start on its beat, where the device says when that was."""

from __future__ import annotations

from dataclasses import replace

from reedcore.acoustics import Analysis
from reedcore.targets import Judgement, Part
from reedcore.targets.judging import Why

from . import hold
from .common import Against, Columns, Wanted, nothing


def figures(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    hold = analysis.longest
    if hold is None:
        return {}, nothing(Part.START)
    lasted: Columns = {"total_s": round(hold.duration_s, 3)}
    return lasted, nothing(Part.START, Why.NO_BEAT)


KIND = replace(hold.KIND, code="on_the_beat", figures=figures)
