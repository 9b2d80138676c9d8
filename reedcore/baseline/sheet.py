"""Derived values of a baseline sheet; none is computed from a missing measure."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from statistics import median
from typing import Any, Protocol, TypeVar

from reedcore.devices.levels import LevelSetting, RecordedLevel, RelativeLevel, level_relative_to

from .phonation import Longest, SToZRatio, longest_of, phonation_quotient, s_to_z_ratio
from .ranges import PitchRange, speaking_difference_st
from .steps import BY_CODE, BaselineStep

VITAL, PHONATION = "vital", "phonation"


class SheetTrial(Protocol):
    """The figures of one trial at one step that the derived values need."""

    @property
    def step(self) -> str:
        """Return the code of its step."""

    @property
    def discarded_at(self) -> datetime | None:
        """Return when it was left out; None if it counts."""

    @property
    def chosen(self) -> bool:
        """Return whether a clinician chose it over the others, with a reason."""

    @property
    def figures(self) -> Mapping[str, float]:
        """Return its measured figures by name, each with its unit."""

    @property
    def capture(self) -> Mapping[str, Any]:
        """Return how it was recorded: device and browser."""


Trial = TypeVar("Trial", bound=SheetTrial)


@dataclass(frozen=True, slots=True)
class Sheet:
    """The entries of a sheet besides its trials.

    Attributes:
        on: the day it was begun.
        entries: typed figures and words, by their code.
        distance_m: from the mouth to the microphone.
    """

    on: date
    entries: Mapping[str, Any]
    distance_m: float


@dataclass(frozen=True, slots=True)
class BaselineSummary:
    """The figures of a sheet; None is "not measured".

    Seconds, millilitres, hertz and semitones, as the names say; levels as recorded, each with the
    setting that it was recorded with.
    """

    on: date
    longest_vowel: Longest | None
    longest_steady_s: float | None
    longest_s: Longest | None
    longest_z: Longest | None
    ratio: SToZRatio | None
    volume_ml: float | None
    volume_is: str | None
    quotient: float | None
    glide_range: PitchRange | None
    held_range: PitchRange | None
    comfortable_range: PitchRange | None
    comfortable_hz: float | None
    comfortable_spread_cents: float | None
    comfortable_level: RecordedLevel | None
    loud_level: RecordedLevel | None
    louder_by: RelativeLevel | None
    habitual_hz: float | None
    easiest_hz: float | None
    speaking_difference_st: float | None
    reading_hz: float | None
    talk_hz: float | None
    effort: float | None


def kept_trials(trials: Iterable[Trial], step: str) -> list[Trial]:
    """Return a step's trials that were not left out, in the order they were made."""
    return [trial for trial in trials if trial.step == step and trial.discarded_at is None]


def best_trial(trials: Sequence[Trial], step: BaselineStep) -> Trial | None:
    """Return the trial that was chosen with a reason, else the best by the step's figure."""
    for trial in trials:
        if trial.chosen:
            return trial
    sign, name = (-1, step.best[1:]) if step.best.startswith("-") else (1, step.best)
    with_figure = [trial for trial in trials if name in trial.figures]
    return max(with_figure, key=lambda trial: sign * trial.figures[name], default=None)


def summarise(sheet: Sheet, trials: Sequence[SheetTrial]) -> BaselineSummary:
    """Return the summary of a sheet from its current trials."""
    vowel = _longest(trials, "vowel")
    s, z = _longest(trials, "s"), _longest(trials, "z")
    volume = _best_figure(trials, "volume", "volume_ml")
    kind = sheet.entries.get("volume_is", VITAL) if volume else None
    comfortable = kept_trials(trials, "comfortable")
    comfort_level, loud_level = (
        _levels(sheet, comfortable),
        _levels(sheet, kept_trials(trials, "loud")),
    )
    habitual = _best_figure(trials, "habitual", "median_hz")
    easiest = _best_figure(trials, "easiest", "median_hz")
    steady = [
        t.figures["steady_s"] for t in kept_trials(trials, "vowel") if t.figures.get("steady_s")
    ]
    return BaselineSummary(
        on=sheet.on,
        longest_vowel=vowel,
        longest_steady_s=max(steady, default=None),
        longest_s=s,
        longest_z=z,
        ratio=s_to_z_ratio(s=s, z=z),
        volume_ml=volume,
        volume_is=kind,
        quotient=phonation_quotient(vital_capacity_ml=volume, longest_s=vowel.seconds)
        if volume and kind == VITAL and vowel
        else None,
        glide_range=_glide_range(trials),
        held_range=_held_range(trials),
        comfortable_range=_comfortable_range(sheet.entries),
        comfortable_hz=_middle(comfortable, "median_hz"),
        comfortable_spread_cents=_middle(comfortable, "spread_cents"),
        comfortable_level=comfort_level,
        loud_level=loud_level,
        louder_by=level_relative_to(comfort_level, loud_level)
        if comfort_level and loud_level
        else None,
        habitual_hz=habitual,
        easiest_hz=easiest,
        speaking_difference_st=speaking_difference_st(habitual_hz=habitual, easiest_hz=easiest)
        if habitual and easiest
        else None,
        reading_hz=_best_figure(trials, "reading", "median_hz"),
        talk_hz=_best_figure(trials, "talk", "median_hz"),
        effort=sheet.entries.get("effort"),
    )


def _longest(trials: Sequence[SheetTrial], code: str) -> Longest | None:
    step = BY_CODE[code]
    timed = [trial for trial in kept_trials(trials, code) if "total_s" in trial.figures]
    chosen = next((trial for trial in timed if trial.chosen), None)
    seconds = [trial.figures["total_s"] for trial in timed]
    if chosen is not None:
        return Longest(
            chosen.figures["total_s"], timed.index(chosen), len(timed), step.required_trials
        )
    return longest_of(seconds, required_trials=step.required_trials)


def _best_figure(trials: Sequence[SheetTrial], code: str, name: str) -> float | None:
    step = BY_CODE[code]
    kept = [trial for trial in kept_trials(trials, code) if name in trial.figures]
    if step.best or any(trial.chosen for trial in kept):
        best = best_trial(kept, step)
        return best.figures[name] if best else None
    return _middle(kept, name)


def _middle(trials: Iterable[SheetTrial], name: str) -> float | None:
    values = [trial.figures[name] for trial in trials if name in trial.figures]
    return median(values) if values else None


def _glide_range(trials: Sequence[SheetTrial]) -> PitchRange | None:
    glides = [
        PitchRange(trial.figures["low_hz"], trial.figures["high_hz"])
        for code in ("glide_up", "glide_down")
        for trial in kept_trials(trials, code)
        if {"low_hz", "high_hz"} <= set(trial.figures)
    ]
    whole: PitchRange | None = None
    for glide in glides:
        whole = whole.union(glide) if whole else glide
    return whole


def _held_range(trials: Sequence[SheetTrial]) -> PitchRange | None:
    """Return the lowest and highest pitch held for at least half a second."""
    held = [
        trial.figures["median_hz"]
        for code in ("comfortable", "vowel", "z", "loud")
        for trial in kept_trials(trials, code)
        if "median_hz" in trial.figures
    ]
    return PitchRange(min(held), max(held)) if held else None


def _comfortable_range(entries: Mapping[str, Any]) -> PitchRange | None:
    low, high = entries.get("comfortable_low_hz"), entries.get("comfortable_high_hz")
    return PitchRange(low, high) if low and high else None


def _levels(sheet: Sheet, trials: Sequence[SheetTrial]) -> RecordedLevel | None:
    """Return the middle level of a step, where all its trials come from one device and browser."""
    levels = [
        (RecordedLevel(trial.figures["level_dbfs"], _setting(sheet, trial)))
        for trial in trials
        if "level_dbfs" in trial.figures and trial.capture.get("device")
    ]
    settings = {level.setting for level in levels}
    if len(settings) != 1:
        return None
    return RecordedLevel(median(level.dbfs for level in levels), settings.pop())


def _setting(sheet: Sheet, trial: SheetTrial) -> LevelSetting:
    return LevelSetting(trial.capture["device"], trial.capture.get("browser", ""), sheet.distance_m)
