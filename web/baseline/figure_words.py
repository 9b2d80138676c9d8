"""Notes, levels and figures of a baseline, in words."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.utils.translation import gettext

from reedcore.errors import Refusal
from reedcore.pitch import Spelling, note_nearest
from web.clients.models import Client
from web.sound.queries import sound_pressure

from .wording import FIGURES, MEASURES


def note_words(hz: float, client: Client) -> str:
    """Return ``A2 +12 cents`` for a frequency, in the spelling of this client's clinician."""
    try:
        note, cents = note_nearest(hz, a4_hz=client.clinic.a4_hz)
    except Refusal:  # The note is outside the keyboard.
        return gettext("{hz:.0f} Hz").format(hz=hz)
    name = note.name(Spelling(client.spelling))
    if abs(cents) < 10:
        return name
    off = f"{cents:+.0f}".replace("-", "−")
    return gettext("{note} {off} cents").format(note=name, off=off)


def level_words(level: Any, client: Client, on: date) -> str:
    """Return dB SPL at 30 cm on a calibrated device, else the word "relative"."""
    spl = sound_pressure(client.clinic, level, on=on)
    return str(spl.at_distance(0.30)) if spl else gettext("relative: this device is not calibrated")


def figure_words(name: str, value: Any) -> str:
    """Return ``volume 3200 mL``."""
    label, unit, places = FIGURES[name]
    signed = name in ("ceiling_db", "floor_db", "moved_st")
    number = f"{value:+.{places}f}" if signed else f"{value:.{places}f}"
    return f"{label} {number.replace('-', '−')} {unit}".strip()


def measure_name(code: str) -> str:
    """Return a measure of the reference table with its unit."""
    label, unit = MEASURES[code]
    return f"{label}, {unit}"
