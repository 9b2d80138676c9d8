"""A held vowel in a room: the usual trial of the simulated client."""

from __future__ import annotations

from dataclasses import dataclass

from .parts import BreathIn, Part, Room, Silence, VoicedPart
from .scene import Clip, render


@dataclass(frozen=True, slots=True)
class HeldVoice:
    """The held vowel of the simulated client.

    Attributes:
        voice: the hold itself.
        lead_s, tail_s: room before and after.
        breath_in: an audible breath that ends a tenth of a second before the hold.
        room: what else is heard.
        seed: the same seed gives the same samples.
    """

    voice: VoicedPart
    lead_s: float = 1.2
    tail_s: float = 1.0
    breath_in: bool = False
    room: Room = Room()  # noqa: RUF009 - frozen
    seed: int = 1


def speak(held: HeldVoice, *, rate_hz: int = 48_000) -> Clip:
    """Return the sound of one hold in its room.

    Raises:
        ValueOutOfRange: a pitch, length or vowel that no voice has.
    """
    breath = BreathIn(level_dbfs=held.voice.level_dbfs - 22)
    before: tuple[Part, ...] = (Silence(held.lead_s),)
    if held.breath_in and held.lead_s >= breath.seconds + 0.2:
        gap_s = 0.1
        before = (Silence(held.lead_s - breath.seconds - gap_s), breath, Silence(gap_s))
    parts = (*before, held.voice, Silence(held.tail_s))
    return render(parts, room=held.room, rate_hz=rate_hz, seed=held.seed)
