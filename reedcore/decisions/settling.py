"""Keep targets stable: a task advances if the evidence supports the next rung too, and moves back
only if the misses are more than chance (DOMAIN §6; bars in MEASURES §5.10)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from math import comb, sqrt
from statistics import fmean, stdev

from reedcore.progress import falling, variance_inflation

from .case import Case, PastTrial, is_holding_on, judged_trials, share_on_target
from .settings import Settings

#: A client who holds on shows the next rung in this many holds of a fortnight.
NEXT_SHARE = 0.47
_FORTNIGHT, _MONTH = timedelta(days=14), timedelta(days=28)
#: After each return from a rung: factor for the sessions needed, and for the misses allowed.
MORE_SESSIONS, FEWER_MISSES = 2, 0.25
#: Maximum factor for the evidence.
MOST_EVIDENCE = 8
#: The criterion “60 % on target” is tested against a client with this true share.
MEETS = 0.6
#: Below this share most trials were missed.
MOSTLY = 0.5
#: Error rates: at a first target, after an advance, and over a whole fortnight.
CHANCE_AT_FIRST, CHANCE_AFTER_CLIMB, CHANCE_OVER_ALL = 0.05, 0.001, 0.002
#: Minimum sessions overall.
ALL_SESSIONS = 6
#: Comparison with the client's earlier sessions: how many, and how many standard errors.
OWN_SESSIONS, OWN_ERRORS = 4, 3.0
#: Minimum spread between sessions, as a share.
LEAST_SPREAD = 0.15


def evidence_factor(case: Case) -> int:
    """Return the factor on the sessions an advance needs: it doubles after every return."""
    return int(min(MOST_EVIDENCE, MORE_SESSIONS**case.returns))


def share_needed(case: Case, settings: Settings) -> float:
    """Return the share on target needed: each return from the next rung allows a quarter of the
    misses."""
    return 1.0 - (1.0 - settings.advance_share) * FEWER_MISSES**case.returns


def shows_next(case: Case, trials: Sequence[PastTrial]) -> bool:
    """Return whether the holds are long enough for the next rung; unknown for a client who stops at
    the target, whose share alone counts."""
    if case.next_seconds is None or not is_holding_on(trials):
        return True
    recent = [trial for trial in case.current_trials(_FORTNIGHT) if trial.held_s is not None]
    reached = sum((trial.held_s or 0.0) >= case.next_seconds for trial in recent)
    return reached >= NEXT_SHARE * len(recent)


def is_sinking(case: Case, settings: Settings) -> bool:
    """Return whether the last week is below the usual by half of a decline, or the trend
    of 28 days falls: the task is not advanced then."""
    now = falling(
        case.daily_longest(),
        today=case.today,
        least_days=settings.worse_days,
        at_least=case.days_stopped_short(),
    )
    return (now is not None and now.half_way) or case.is_falling()


def misses_by_more_than_chance(
    case: Case, last: Sequence[Sequence[PastTrial]], earlier: Sequence[Sequence[PastTrial]]
) -> bool:
    """Return whether too few were on target for it to be chance.

    Args:
        last: the sessions of now that were judged, the ones in question at the end.
        earlier: sessions of the 28 days before those, under any target.
    """
    two = [trial for session in last[-2:] for trial in session]
    own = [
        share for each in earlier if (share := _share_under_current_target(case, each)) is not None
    ]
    if len(own) >= OWN_SESSIONS:
        spread = max(stdev(own), LEAST_SPREAD) * variance_inflation()
        error = spread * sqrt(1 / 2 + 1 / len(own))
        if fmean(own) - (share_on_target(two) or 0.0) > OWN_ERRORS * error:
            return True
    else:
        rare = CHANCE_AFTER_CLIMB if case.was_moved_before else CHANCE_AT_FIRST
        if _chance(two) <= rare:
            return True
    counts = range(ALL_SESSIONS, len(last) + 1)
    longer = ([trial for session in last[-count:] for trial in session] for count in counts)
    return any(
        (share_on_target(each) or 0.0) < MOSTLY and _chance(each) <= CHANCE_OVER_ALL
        for each in longer
    )


def _chance(trials: Sequence[PastTrial]) -> float:
    """Return the probability that a client who meets 60 % meets so few trials by chance."""
    known = judged_trials(trials)
    met = sum(bool(trial.was_on_target) for trial in known)
    return sum(
        comb(len(known), count) * MEETS**count * (1 - MEETS) ** (len(known) - count)
        for count in range(met + 1)
    )


def _share_under_current_target(case: Case, session: Sequence[PastTrial]) -> float | None:
    """Return the share of an earlier session that would meet the current target; None if it is
    unknown because the client stopped at a lower target."""
    if not any(trial.had_other_prescription for trial in session):
        return share_on_target(session)
    now = case.seconds_now
    held = [trial for trial in session if trial.held_s is not None and trial.asked_s]
    if now is None or not held:
        return None
    target_s = max(trial.asked_s or 0.0 for trial in held)
    if target_s < now and not is_holding_on(held):
        return None
    return sum((trial.held_s or 0.0) >= now for trial in held) / len(held)


def sessions_before(case: Case, sessions: int) -> list[tuple[PastTrial, ...]]:
    """Return the sessions of the 28 days before the newest ones, under any target."""
    found: dict[object, list[PastTrial]] = {}
    for trial in case.trials:
        if trial.on > case.today - _MONTH:
            found.setdefault(trial.session, []).append(trial)
    return [tuple(trials) for trials in found.values()][:-sessions]
