"""The steps of the baseline sheet, in the order people work."""

from dataclasses import dataclass
from enum import StrEnum

from reedcore.acoustics import Task
from reedcore.safety import Hazard


class Capture(StrEnum):
    """What is listened for at a step."""

    HOLD = "hold"
    HISS = "hiss"
    GLIDE = "glide"
    SPEECH = "speech"
    LEVEL = "level"
    VOLUME = "volume"
    NOTHING = "nothing"

    @property
    def task(self) -> Task:
        """As the analyser is told."""
        return Task(self.value)

    @property
    def is_heard(self) -> bool:
        """Whether sound is recorded at all."""
        return self not in (Capture.VOLUME, Capture.NOTHING)


@dataclass(frozen=True)
class Step:
    """One step.

    Attributes:
        code: stable, kept with each trial.
        title: as the list names it.
        say: what to ask of the client, in words to read out.
        capture: what is listened for.
        wanted: trials wanted.
        best: the figure whose largest value makes the best trial, with a minus for the smallest;
            empty where the middle of all counts.
        ends_itself: whether a silence ends the take (a held voice does).
        hazards: what a caution may test.
    """

    code: str
    title: str
    say: str
    capture: Capture = Capture.NOTHING
    wanted: int = 0
    best: str = ""
    ends_itself: bool = False
    hazards: tuple[Hazard, ...] = ()


_HEARD = (Hazard.UPPER_AIRWAY,)
_FULL_BREATH = (*_HEARD, Hazard.EMPTIES_LUNGS, Hazard.LONG_BREATH)
_FULL_VOICE = (*_FULL_BREATH, Hazard.MAXIMAL_HOLD)
STEPS: tuple[Step, ...] = (
    Step("taken", "Taken before", "What did you eat, drink or take in the last hours? How long ago?"),
    Step(
        "calibration", "Level",
        "Sound a steady tone or hold a vowel; read the sound-level meter beside the microphone.",
        Capture.LEVEL, 1, ends_itself=True,
    ),
    Step(
        "comfortable", "Comfortable voice",
        "Hold “ah” for about five seconds, as easily as you would say it.",
        Capture.HOLD, 3, ends_itself=True, hazards=_HEARD,
    ),
    Step("habitual", "Usual speaking pitch", "Count from one to ten as you usually speak.", Capture.SPEECH, 1, hazards=_HEARD),
    Step("easiest", "Easiest speaking pitch", "Say “mm-hm” as if you agreed, then count on from there.", Capture.SPEECH, 1, hazards=_HEARD),
    Step(
        "vowel", "Maximum phonation time", "Breathe in fully and hold “ah” for as long as you can.",
        Capture.HOLD, 3, "total_s", True, _FULL_VOICE,
    ),
    Step("s", "Longest /s/", "Breathe in fully and hold “sss” for as long as you can.", Capture.HISS, 2, "total_s", False, _FULL_BREATH),
    Step("z", "Longest /z/", "Breathe in fully and hold “zzz” for as long as you can.", Capture.HOLD, 2, "total_s", True, _FULL_VOICE),
    Step("glide_up", "Glide up", "Glide from low to as high as is comfortable.", Capture.GLIDE, 2, "high_hz", True, (*_HEARD, Hazard.HIGH)),
    Step("glide_down", "Glide down", "Glide from high to as low as is comfortable.", Capture.GLIDE, 2, "-low_hz", True, (*_HEARD, Hazard.HIGH)),
    Step("range", "Comfortable range", "Decide together which part of the glides was easy."),
    Step(
        "loud", "Loud voice", "Hold “ah” as strongly as you would call across a room. Not a shout.",
        Capture.HOLD, 1, "level_dbfs", True,
        (*_HEARD, Hazard.LOUD, Hazard.MAXIMAL_LOUDNESS, Hazard.WIDE_VOWEL),
    ),
    Step("reading", "Reading", "Read the lines aloud as you would to a friend.", Capture.SPEECH, 1, hazards=_HEARD),
    Step("talk", "Talk", "Tell me how you came here today.", Capture.SPEECH, 1, hazards=_HEARD),
    Step("effort", "Effort", "From 0 to 10: how much effort does your voice take in an ordinary day?"),
    Step(
        "volume", "Volume", "Blow all your air out through the spirometer, steadily.",
        Capture.VOLUME, 1, "volume_ml", False,
        (*_HEARD, Hazard.EMPTIES_LUNGS, Hazard.HARD_BLOW),
    ),
    Step("rating", "Rating and questionnaire", "Your own ear, and the total of the questionnaire."),
)  # fmt: skip
BY_CODE = {step.code: step for step in STEPS}

#: Read aloud at “reading”: about twenty seconds.
PASSAGE = (
    "At low water the sandbars rise out of the bay like sleeping animals. The ferry takes the long "
    "way round then, past the lighthouse and the old net sheds, and whoever knows the tide can walk "
    "dry-shod to the island and be home before the bread is out of the oven."
)
