"""The thresholds of the rules: conventions, all of them editable for a programme (DOMAIN §6)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields

from reedcore.errors import ValueOutOfRange


@dataclass(frozen=True, slots=True)
class Settings:
    """Defaults as the reference gives them. Shares are 0 to 1, days whole days.

    Attributes:
        worse_share: the 7-day mean lies so far under the usual of the 28 days before.
        worse_days: days of the 7 that must have been practised.
        effort_rise: of effort (up on a soft task, down on a loud one) or of the weekly question.
        effort_from: effort of a soft task that has risen lies at least here.
        level_drop_db: of a loud task.
        ease_share, ease_sessions: share on target below which to ease, and over how many sessions.
        hard_effort: on a soft task.
        strains: reports of strain in seven days, or sessions stopped for it.
        cannot: reports of "can't do it".
        unfelt: consecutive felt checks without a yes.
        advance_share, advance_sessions, advance_days, advance_trials: share on target needed, over
            how many sessions on how many days, with how many trials in each.
        few_trials, few_days: the same where fewer are prescribed.
        soft_effort: at most this on a soft task.
        loud_effort: at least this on a loud one.
        weekly_cap: no more within any seven days.
        missed_days, low_adherence, tired_share: when to check in.
        stuck_days, stuck_sessions: days under one target, and the sessions needed in them.
        unheard_sessions: consecutive sessions without a trial that could be judged.
        keep_share: of the peak, to go on with the taper.
    """

    worse_share: float = 0.15
    worse_days: int = 3
    effort_rise: float = 2.0
    effort_from: int = 5
    level_drop_db: float = 3.0
    ease_share: float = 0.5
    ease_sessions: int = 2
    hard_effort: int = 7
    strains: int = 2
    cannot: int = 2
    unfelt: int = 6
    advance_share: float = 0.8
    advance_sessions: int = 3
    advance_days: int = 2
    advance_trials: int = 4
    few_trials: int = 12
    few_days: int = 3
    soft_effort: int = 4
    loud_effort: int = 8
    weekly_cap: float = 0.2
    missed_days: int = 3
    low_adherence: float = 0.6
    tired_share: float = 0.5
    stuck_days: int = 28
    stuck_sessions: int = 8
    unheard_sessions: int = 3
    keep_share: float = 0.85


#: Allowed range of each setting: a share, points of effort, dB, or a number of days or trials.
RANGES: Mapping[str, tuple[float, float]] = {
    "worse_share": (0.05, 0.5),
    "worse_days": (1, 7),
    "effort_rise": (1, 5),
    "effort_from": (1, 10),
    "level_drop_db": (1, 12),
    "ease_share": (0.1, 0.9),
    "ease_sessions": (1, 10),
    "hard_effort": (3, 10),
    "strains": (1, 10),
    "cannot": (1, 10),
    "unfelt": (3, 20),
    "advance_share": (0.5, 1.0),
    "advance_sessions": (1, 14),
    "advance_days": (1, 14),
    "advance_trials": (1, 20),
    "few_trials": (3, 60),
    "few_days": (1, 28),
    "soft_effort": (1, 10),
    "loud_effort": (1, 10),
    "weekly_cap": (0.05, 0.5),
    "missed_days": (1, 28),
    "low_adherence": (0.1, 1.0),
    "tired_share": (0.2, 1.0),
    "stuck_days": (14, 90),
    "stuck_sessions": (3, 60),
    "unheard_sessions": (2, 20),
    "keep_share": (0.5, 1.0),
}


_DEFAULTS = Settings()
_KINDS = {each.name: type(getattr(_DEFAULTS, each.name)) for each in fields(Settings)}


def changed_settings(changed: Mapping[str, float]) -> Settings:
    """Return the defaults with some of them changed.

    Raises:
        ValueOutOfRange: a value lies outside what it may be.
    """
    for name, value in changed.items():
        low, high = RANGES[name]
        if not low <= value <= high:
            raise ValueOutOfRange(what=name, value=value, lowest=low, highest=high)
    return Settings(**{name: _KINDS[name](value) for name, value in changed.items()})
