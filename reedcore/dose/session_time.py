"""The length of a session, and the part of it with voice.

Session = Σ set-up + tries × (tone + breath + target + rest) + sips.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

#: A session above 45 minutes is excessive; limit of voiced minutes a day (both conventions).
SESSION_CAP_S, DAY_VOICED_CAP_S = 45 * 60.0, 20 * 60.0
SIP_S = 15.0


@dataclass(frozen=True, slots=True)
class SessionPart:
    """One task's share of a session, in seconds; ``tries`` counts each repetition of each set.

    Attributes:
        target_s: length of one try.
        is_voiced: whether the voice sounds in it.
        has_sip_after: a sip of water follows.
    """

    tries: int
    target_s: float
    is_voiced: bool
    setup_s: float = 10.0
    tone_s: float = 0.0
    breath_s: float = 3.0
    rest_s: float = 5.0
    has_sip_after: bool = False

    @property
    def seconds(self) -> float:
        """Return the whole duration, without the drink."""
        each = self.tone_s + self.breath_s + self.target_s + self.rest_s
        return self.setup_s + self.tries * each

    @property
    def voiced_s(self) -> float:
        """Return the seconds of voice."""
        return self.tries * self.target_s if self.is_voiced else 0.0


@dataclass(frozen=True, slots=True)
class SessionTime:
    """The length of a session and of its parts.

    Attributes:
        seconds: from first to last.
        voiced_s: seconds of voice.
        tries: repetitions in all.
        starts_s: when each part begins, in order.
    """

    seconds: float
    voiced_s: float
    tries: int
    starts_s: tuple[float, ...]


def session_time(parts: Iterable[SessionPart]) -> SessionTime:
    """Return the whole session."""
    at, voiced, tries, starts = 0.0, 0.0, 0, []
    for part in parts:
        starts.append(at)
        at += part.seconds + (SIP_S if part.has_sip_after else 0.0)
        voiced += part.voiced_s
        tries += part.tries
    return SessionTime(at, voiced, tries, tuple(starts))
