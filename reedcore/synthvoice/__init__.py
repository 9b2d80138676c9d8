"""The simulated microphone: a synthetic voice with known figures.

It serves the demo, the tests and the practice screen's simulated source. It shares no code with
:mod:`reedcore.acoustics`, so that neither can hide the other's mistakes.
"""

from .parts import VOWELS, BreathIn, Cough, Hiss, Part, Room, Silence, Talk, Tone, VoicedPart
from .scene import Clip, Span, render
from .voice import HeldVoice, speak

__all__ = [
    "VOWELS",
    "BreathIn",
    "Clip",
    "Cough",
    "HeldVoice",
    "Hiss",
    "Part",
    "Room",
    "Silence",
    "Span",
    "Talk",
    "Tone",
    "VoicedPart",
    "render",
    "speak",
]
