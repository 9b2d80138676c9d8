"""Judge a trial against its target: met, not met, or not judged."""

from .judging import (
    Aspect,
    HoldTarget,
    Judgement,
    PartJudgement,
    SecondsKind,
    TrialMeasures,
    Verdict,
    judge,
)

__all__ = [
    "Aspect",
    "HoldTarget",
    "Judgement",
    "PartJudgement",
    "SecondsKind",
    "TrialMeasures",
    "Verdict",
    "judge",
]
