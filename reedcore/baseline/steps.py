"""The steps of the baseline sheet in their order."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any

import yaml

from reedcore.safety import Hazard


class Capture(StrEnum):
    """How a step is captured."""

    HOLD = "hold"
    HISS = "hiss"
    GLIDE = "glide"
    SPEECH = "speech"
    LEVEL = "level"
    VOLUME = "volume"
    NOTHING = "nothing"

    @property
    def is_heard(self) -> bool:
        """Return whether sound is recorded at all."""
        return self not in (Capture.VOLUME, Capture.NOTHING)


@dataclass(frozen=True, slots=True)
class BaselineStep:
    """A step of the baseline sheet.

    Attributes:
        code: stable, kept with each trial.
        title: as the list names it.
        say: what to ask of the client, in words to read out.
        capture: what is listened for.
        required_trials: the trials that the step needs.
        best: the figure whose largest value makes the best trial, with a minus for the smallest;
            empty where the middle of all counts.
        ends_itself: whether a silence ends the take (a held voice does).
        hazards: what a caution may test.
    """

    code: str
    title: str
    say: str
    capture: Capture = Capture.NOTHING
    required_trials: int = 0
    best: str = ""
    ends_itself: bool = False
    hazards: tuple[Hazard, ...] = ()


def _step(data: dict[str, Any]) -> BaselineStep:
    capture = Capture(data.get("capture", Capture.NOTHING))
    hazards = tuple(Hazard(code) for code in data.get("hazards", ()))
    return BaselineStep(**{**data, "capture": capture, "hazards": hazards})


_HERE = Path(__file__).parent
STEPS: tuple[BaselineStep, ...] = tuple(
    _step(data) for data in yaml.safe_load((_HERE / "steps.yaml").read_text())
)
BY_CODE = {step.code: step for step in STEPS}
#: Read aloud at the step “reading”, about twenty seconds.
PASSAGE = (_HERE / "passage.txt").read_text().strip()
