"""Notes as arguments of a command."""

from __future__ import annotations

import argparse

from reedcore.errors import Refusal
from reedcore.pitch import Note

from .wording import line


def note(text: str) -> Note:
    """Return the note named by an argument, for example ``F4``."""
    try:
        return Note.named(text)
    except Refusal as refusal:
        raise argparse.ArgumentTypeError(line(refusal)) from refusal
