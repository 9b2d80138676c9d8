"""What a try is held against, and how it did: met, not met, or not judged."""

from .judging import (
    HoldTarget,
    Judgement,
    Part,
    PartJudgement,
    SecondsKind,
    TrialMeasures,
    Verdict,
    judge,
)

__all__ = [
    "HoldTarget",
    "Judgement",
    "Part",
    "PartJudgement",
    "SecondsKind",
    "TrialMeasures",
    "Verdict",
    "judge",
]
