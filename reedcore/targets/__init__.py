"""What a try is held against, and how it did: met, not met, or not judged."""

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
