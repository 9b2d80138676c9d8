"""Targets proposed from a baseline: each with its rule, its inputs and where they came from.

A proposal decides nothing. Where the baseline does not bear a target, none is proposed, and why not
is said.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from math import ceil

from reedcore.baseline import (
    GoalSource,
    HoldGoal,
    PitchRange,
    goal_from_s,
    goal_from_volume,
)
from reedcore.baseline.goals import todays_target_s
from reedcore.devices.levels import CEILING_ABOVE_FLOOR_DB
from reedcore.pitch import Note, note_nearest
from reedcore.pitch.note_sets import USUAL_SETS, NoteSet, fit_to_range

#: Spread limit: 1.5 times the comfortable voice's, rounded to 5 cents, within these bounds
#: (convention).
SPREAD_SHARE, SPREAD_STEP_CENTS, SPREAD_CENTS = 1.5, 5.0, (20.0, 50.0)
#: Limits for level spread and end fall of a steady hold (convention).
LEVEL_SPREAD_DB, END_FALL_DB = 2.0, 3.0
#: Soft work stays below the comfortable voice plus this; talk within ± this (convention).
SOFT_ABOVE_DB, TALK_WITHIN_DB = 3.0, 3.0
#: Floor for loud work, as a share of the way from comfortable to loud (convention).
FLOOR_SHARE = 0.5


class TargetKind(StrEnum):
    """The quantity of a target."""

    NOTES = "notes"
    HOLD = "hold"
    STEADINESS = "steadiness"
    SOFT_LEVEL = "soft_level"
    LOUD_LEVEL = "loud_level"
    TALK_LEVEL = "talk_level"


class Rule(StrEnum):
    """The rule a proposal follows."""

    SET_BY_VOICE = "set_by_voice"
    SET_MOVED = "set_moved"
    COMFORTABLE_MIDDLE = "comfortable_middle"
    VOLUME_80 = "volume_80"
    CAPACITY_80 = "capacity_80"
    LONGEST_S = "longest_s"
    SPREAD_OF_COMFORT = "spread_of_comfort"
    COMFORT_CEILING = "comfort_ceiling"
    HALFWAY_FLOOR = "halfway_floor"
    COMFORT_BAND = "comfort_band"


class Missing(StrEnum):
    """Why there is no proposal of a kind."""

    NO_COMFORTABLE_NOTE = "no_comfortable_note"
    NO_HOLD = "no_hold"
    NO_GOAL = "no_goal"
    NO_SPREAD = "no_spread"
    NO_COMFORTABLE_LEVEL = "no_comfortable_level"
    NO_LOUD_LEVEL = "no_loud_level"
    LOUD_FORBIDDEN = "loud_forbidden"


@dataclass(frozen=True, slots=True)
class Figures:
    """The figures of a baseline. None is "not measured".

    Attributes:
        voice: treble, bass or own.
        longest_vowel_s, longest_steady_s, longest_s_s: of the vowel in all, the vowel while even,
            and /s/.
        comfortable_hz: pitch of the comfortable vowel.
        comfortable_range: marked easy by client and clinician.
        comfortable_spread_cents: the median spread of the comfortable vowels.
        comfortable_db, loud_db: levels on one scale; only their difference is used.
        phonation_volume_ml, vital_capacity_ml: volumes.
        may_be_loud: False where a caution forbids loud work.
    """

    voice: str
    on: date
    longest_vowel_s: float | None = None
    longest_steady_s: float | None = None
    longest_s_s: float | None = None
    comfortable_hz: float | None = None
    comfortable_range: PitchRange | None = None
    comfortable_spread_cents: float | None = None
    comfortable_db: float | None = None
    loud_db: float | None = None
    phonation_volume_ml: float | None = None
    vital_capacity_ml: float | None = None
    may_be_loud: bool = True
    a4_hz: float = 440.0


@dataclass(frozen=True, slots=True)
class TargetProposal:
    """One target. Levels are relative to the client's comfortable voice, in dB.

    Attributes:
        values: (name with its unit, value), what would be set.
        inputs: (name with its unit, value), what went in.
    """

    kind: TargetKind
    rule: Rule
    values: tuple[tuple[str, float], ...]
    inputs: tuple[tuple[str, float], ...]
    notes: NoteSet | None = None

    def value(self, name: str) -> float | None:
        """Return one of its values; None without one of this name."""
        return dict(self.values).get(name)


HistoryProposals = TargetProposal | Missing


def proposed_targets(figures: Figures) -> dict[TargetKind, HistoryProposals]:
    """Return a proposal for each kind of target, or the reason why there is none."""
    rules: dict[TargetKind, Callable[[Figures], HistoryProposals]] = {
        TargetKind.NOTES: _notes,
        TargetKind.HOLD: _hold,
        TargetKind.STEADINESS: _steadiness,
        TargetKind.SOFT_LEVEL: _soft_level,
        TargetKind.LOUD_LEVEL: _loud_level,
        TargetKind.TALK_LEVEL: _talk_level,
    }
    return {kind: rule(figures) for kind, rule in rules.items()}


def _notes(figures: Figures) -> HistoryProposals:
    usual = USUAL_SETS.get(figures.voice)
    comfort = figures.comfortable_range
    if usual is not None and comfort is None:
        return _note_proposal(Rule.SET_BY_VOICE, usual, ())
    if comfort is None:
        if figures.comfortable_hz is None:
            return Missing.NO_COMFORTABLE_NOTE
        return _comfortable_note(figures, figures.comfortable_hz)
    inputs = (("comfortable_low_hz", comfort.low_hz), ("comfortable_high_hz", comfort.high_hz))
    if usual is not None:
        lowest, highest = _notes_inside(comfort, figures.a4_hz)
        moved = fit_to_range(usual, lowest=lowest, highest=highest) if lowest <= highest else None
        if moved is not None:
            rule = Rule.SET_MOVED if moved.moved_st else Rule.SET_BY_VOICE
            return _note_proposal(rule, moved, inputs)
    middle_hz = (comfort.low_hz * comfort.high_hz) ** 0.5
    return _comfortable_note(figures, figures.comfortable_hz or middle_hz, inputs)


def _notes_inside(comfort: PitchRange, a4_hz: float) -> tuple[Note, Note]:
    """Return the lowest and highest whole note inside a range; a quarter tone beyond
    still counts."""
    low, cents_over = note_nearest(comfort.low_hz, a4_hz=a4_hz)
    high, cents_under = note_nearest(comfort.high_hz, a4_hz=a4_hz)
    return (
        low.transpose(1) if cents_over > 50 else low,
        high.transpose(-1) if cents_under < -50 else high,
    )


def _comfortable_note(
    figures: Figures, hz: float, inputs: tuple[tuple[str, float], ...] = ()
) -> HistoryProposals:
    """Return the target of one held note at the comfortable pitch."""
    note, _ = note_nearest(hz, a4_hz=figures.a4_hz)
    return _note_proposal(
        Rule.COMFORTABLE_MIDDLE, NoteSet(note, (note,)), (*inputs, ("comfortable_hz", hz))
    )


def _note_proposal(
    rule: Rule, notes: NoteSet, inputs: tuple[tuple[str, float], ...]
) -> TargetProposal:
    values = (
        ("warm_up_midi", float(notes.warm_up.midi)),
        *((f"power_{at}_midi", float(note.midi)) for at, note in enumerate(notes.power, 1)),
        ("moved_st", float(notes.moved_st)),
    )
    return TargetProposal(TargetKind.NOTES, rule, values, inputs, notes)


def _hold(figures: Figures) -> HistoryProposals:
    best = figures.longest_vowel_s
    if best is None:
        return Missing.NO_HOLD
    found = _goal(figures)
    if found is None:
        return Missing.NO_GOAL
    rule, goal = found
    values = [("goal_s", goal.seconds)]
    if goal.stage_s is not None:
        values.append(("stage_s", goal.stage_s))
    values.append(("today_s", todays_target_s(best_s=best, goal_s=goal.seconds)))
    return TargetProposal(TargetKind.HOLD, rule, tuple(values), (*goal.inputs, ("best_s", best)))


def _goal(figures: Figures) -> tuple[Rule, HoldGoal] | None:
    """Return the goal from phonation volume, else vital capacity, else the longest /s/."""
    for volume, source, rule in (
        (figures.phonation_volume_ml, GoalSource.PHONATION_VOLUME, Rule.VOLUME_80),
        (figures.vital_capacity_ml, GoalSource.VITAL_CAPACITY, Rule.CAPACITY_80),
    ):
        if volume is not None:
            return rule, goal_from_volume(volume, source=source, on=figures.on)
    if figures.longest_s_s is not None:
        return Rule.LONGEST_S, goal_from_s(figures.longest_s_s, on=figures.on)
    return None


def _steadiness(figures: Figures) -> HistoryProposals:
    spread = figures.comfortable_spread_cents
    if spread is None:
        return Missing.NO_SPREAD
    lowest, highest = SPREAD_CENTS
    limit_cents = SPREAD_STEP_CENTS * ceil(SPREAD_SHARE * spread / SPREAD_STEP_CENTS)
    return TargetProposal(
        TargetKind.STEADINESS,
        Rule.SPREAD_OF_COMFORT,
        (
            ("spread_cents", min(highest, max(lowest, limit_cents))),
            ("level_spread_db", LEVEL_SPREAD_DB),
            ("end_fall_db", END_FALL_DB),
        ),
        (("comfortable_spread_cents", spread),),
    )


def _soft_level(figures: Figures) -> HistoryProposals:
    if figures.comfortable_db is None:
        return Missing.NO_COMFORTABLE_LEVEL
    return TargetProposal(
        TargetKind.SOFT_LEVEL,
        Rule.COMFORT_CEILING,
        (("ceiling_db", SOFT_ABOVE_DB),),
        (("comfortable_level_db", figures.comfortable_db),),
    )


def _loud_level(figures: Figures) -> HistoryProposals:
    if not figures.may_be_loud:
        return Missing.LOUD_FORBIDDEN
    if figures.comfortable_db is None:
        return Missing.NO_COMFORTABLE_LEVEL
    if figures.loud_db is None or figures.loud_db <= figures.comfortable_db:
        return Missing.NO_LOUD_LEVEL
    floor = float(round(FLOOR_SHARE * (figures.loud_db - figures.comfortable_db)))
    return TargetProposal(
        TargetKind.LOUD_LEVEL,
        Rule.HALFWAY_FLOOR,
        (("floor_db", floor), ("ceiling_db", floor + CEILING_ABOVE_FLOOR_DB)),
        (("comfortable_level_db", figures.comfortable_db), ("loud_level_db", figures.loud_db)),
    )


def _talk_level(figures: Figures) -> HistoryProposals:
    if figures.comfortable_db is None:
        return Missing.NO_COMFORTABLE_LEVEL
    return TargetProposal(
        TargetKind.TALK_LEVEL,
        Rule.COMFORT_BAND,
        (("floor_db", -TALK_WITHIN_DB), ("ceiling_db", TALK_WITHIN_DB)),
        (("comfortable_level_db", figures.comfortable_db),),
    )
