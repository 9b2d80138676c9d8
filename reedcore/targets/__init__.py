"""What a try is held against, and how it did: met, not met, or not judged."""

from .judging import (
    HoldTarget,
    Judgement,
    Measured,
    Part,
    PartJudgement,
    SecondsKind,
    Verdict,
    judge,
)

__all__ = [
    "HoldTarget",
    "Judgement",
    "Measured",
    "Part",
    "PartJudgement",
    "SecondsKind",
    "Verdict",
    "judge",
]
