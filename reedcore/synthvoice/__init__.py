"""The simulated microphone: a made-up voice whose every figure is known.

It serves the demo, the tests and the practice screen's simulated source. It shares no code with
:mod:`reedcore.acoustics`, so that neither can hide the other's mistakes.
"""

from .voice import VOWELS, Clip, HeldVoice, Truth, speak

__all__ = ["VOWELS", "Clip", "HeldVoice", "Truth", "speak"]
