"""What a baseline comes to so far: every figure that its trials bear, and nothing else."""

from dataclasses import dataclass
from datetime import date
from statistics import median

from django.utils import timezone

from reedcore.baseline import (
    Longest,
    PitchRange,
    SToZRatio,
    longest_of,
    phonation_quotient,
    s_to_z_ratio,
    speaking_difference_st,
)
from reedcore.devices.levels import RecordedLevel, RelativeLevel, Setting, relative_to
from reedcore.safety import Hazard
from reedcore.targets.proposing import Figures

from .models import Baseline, BaselineTrial
from .steps import BY_CODE, Step

VITAL, PHONATION = "vital", "phonation"


@dataclass(frozen=True)
class Derived:
    """None is "not measured"."""

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


def counted(trials, step: str) -> list[BaselineTrial]:
    """A step's trials that were not left out, in the order they were made."""
    return [trial for trial in trials if trial.step == step and trial.discarded_at is None]


def best_of(trials: list[BaselineTrial], step: Step) -> BaselineTrial | None:
    """The one that was chosen with a reason, else the best by the step's figure."""
    for trial in trials:
        if trial.chosen:
            return trial
    sign, name = (-1, step.best[1:]) if step.best.startswith("-") else (1, step.best)
    with_figure = [trial for trial in trials if name in trial.figures]
    return max(with_figure, key=lambda trial: sign * trial.figures[name], default=None)


def derived(baseline: Baseline, trials: list[BaselineTrial]) -> Derived:
    """All of it, from the trials as they stand now."""
    vowel = _longest(trials, "vowel")
    s, z = _longest(trials, "s"), _longest(trials, "z")
    volume = _best_figure(trials, "volume", "volume_ml")
    kind = baseline.entries.get("volume_is", VITAL) if volume else None
    comfortable = counted(trials, "comfortable")
    comfort_level, loud_level = (
        _levels(baseline, comfortable),
        _levels(baseline, counted(trials, "loud")),
    )
    habitual = _best_figure(trials, "habitual", "median_hz")
    easiest = _best_figure(trials, "easiest", "median_hz")
    steady = [t.figures["steady_s"] for t in counted(trials, "vowel") if t.figures.get("steady_s")]
    return Derived(
        on=timezone.localdate(baseline.begun_at),
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
        comfortable_range=_comfortable_range(baseline.entries),
        comfortable_hz=_middle(comfortable, "median_hz"),
        comfortable_spread_cents=_middle(comfortable, "spread_cents"),
        comfortable_level=comfort_level,
        loud_level=loud_level,
        louder_by=relative_to(comfort_level, loud_level) if comfort_level and loud_level else None,
        habitual_hz=habitual,
        easiest_hz=easiest,
        speaking_difference_st=speaking_difference_st(habitual_hz=habitual, easiest_hz=easiest)
        if habitual and easiest
        else None,
        reading_hz=_best_figure(trials, "reading", "median_hz"),
        talk_hz=_best_figure(trials, "talk", "median_hz"),
        effort=baseline.entries.get("effort"),
    )


def as_figures(found: Derived, client) -> Figures:
    """What the proposing of targets rests on."""
    forbidden = client.forbidden(on=found.on)
    phonation = found.volume_is == PHONATION
    return Figures(
        voice=client.voice,
        on=found.on,
        longest_vowel_s=found.longest_vowel.seconds if found.longest_vowel else None,
        longest_steady_s=found.longest_steady_s,
        longest_s_s=found.longest_s.seconds if found.longest_s else None,
        comfortable_hz=found.comfortable_hz,
        comfortable_range=found.comfortable_range,
        comfortable_spread_cents=found.comfortable_spread_cents,
        comfortable_db=found.comfortable_level.dbfs if found.comfortable_level else None,
        loud_db=found.loud_level.dbfs if found.louder_by else None,
        phonation_volume_ml=found.volume_ml if phonation else None,
        vital_capacity_ml=None if phonation else found.volume_ml,
        may_be_loud=Hazard.LOUD not in {each.hazard for each in forbidden},
        a4_hz=client.clinic.a4_hz,
    )


def _longest(trials, code) -> Longest | None:
    step = BY_CODE[code]
    heard = [trial for trial in counted(trials, code) if "total_s" in trial.figures]
    chosen = next((trial for trial in heard if trial.chosen), None)
    seconds = [trial.figures["total_s"] for trial in heard]
    if chosen is not None:
        return Longest(chosen.figures["total_s"], heard.index(chosen), len(heard), step.wanted)
    return longest_of(seconds, wanted=step.wanted)


def _best_figure(trials, code, name) -> float | None:
    step = BY_CODE[code]
    kept = [trial for trial in counted(trials, code) if name in trial.figures]
    if step.best or any(trial.chosen for trial in kept):
        best = best_of(kept, step)
        return best.figures[name] if best else None
    return _middle(kept, name)


def _middle(trials, name) -> float | None:
    values = [trial.figures[name] for trial in trials if name in trial.figures]
    return median(values) if values else None


def _glide_range(trials) -> PitchRange | None:
    glides = [
        PitchRange(trial.figures["low_hz"], trial.figures["high_hz"])
        for code in ("glide_up", "glide_down")
        for trial in counted(trials, code)
        if {"low_hz", "high_hz"} <= set(trial.figures)
    ]
    whole = None
    for glide in glides:
        whole = whole.joined(glide) if whole else glide
    return whole


def _held_range(trials) -> PitchRange | None:
    """Outermost pitches that were held; half a second is what the sheet lists as a hold."""
    held = [
        trial.figures["median_hz"]
        for code in ("comfortable", "vowel", "z", "loud")
        for trial in counted(trials, code)
        if "median_hz" in trial.figures
    ]
    return PitchRange(min(held), max(held)) if held else None


def _comfortable_range(entries) -> PitchRange | None:
    low, high = entries.get("comfortable_low_hz"), entries.get("comfortable_high_hz")
    return PitchRange(low, high) if low and high else None


def _levels(baseline, trials) -> RecordedLevel | None:
    """The middle level of a step, where all its trials come from one device and browser."""
    levels = [
        (RecordedLevel(trial.figures["level_dbfs"], _setting(baseline, trial)))
        for trial in trials
        if "level_dbfs" in trial.figures and trial.capture.get("device")
    ]
    settings = {level.setting for level in levels}
    if len(settings) != 1:
        return None
    return RecordedLevel(median(level.dbfs for level in levels), settings.pop())


def _setting(baseline, trial) -> Setting:
    return Setting(trial.capture["device"], trial.capture.get("browser", ""), baseline.distance_m)
