"""The baseline sheet and the targets as the templates print them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from django.utils import timezone
from django.utils.translation import gettext, ngettext

from reedcore.baseline.sheet import best_trial, kept_trials
from reedcore.baseline.steps import STEPS, BaselineStep, Capture
from reedcore.devices.levels import LevelSetting
from reedcore.pitch import Note, Spelling
from web.clients.models import Client
from web.clients.wording import CAUTION_NAMES
from web.screening.wording import HAZARDS
from web.sound.queries import newest_calibration
from web.sound.wording import reasons

from .figure_words import figure_words, note_words
from .models import Baseline, BaselineTrial
from .sheet_rows import derived_rows, sample_rows
from .summaries import summary_of

if TYPE_CHECKING:
    pass


@dataclass(frozen=True)
class StepLine:
    """A step in the list: how far it is, and whether a caution takes it out."""

    step: BaselineStep
    count: int
    is_done: bool
    out_because: str


@dataclass(frozen=True)
class TrialLine:
    """A trial in words."""

    trial: BaselineTrial
    number: int
    words: str
    is_best: bool
    reasons: list[str]


def excluded_steps(client: Client, *, on: Any) -> dict[str, str]:
    """Return which steps a caution on record takes out, and why, by step."""
    forbidden = {
        each.hazard: each.because for each in client.forbidden(on=on) if not each.is_allowed
    }
    return {
        step.code: gettext("{value}: not {value_2}").format(
            value=CAUTION_NAMES[forbidden[hazard]], value_2=HAZARDS[hazard]
        )
        for step in STEPS
        for hazard in step.hazards
        if hazard in forbidden
    }


def step_lines(baseline: Baseline, trials: list[Any], out: dict[str, Any]) -> list[StepLine]:
    """Return every step with its progress."""
    lines = []
    for step in STEPS:
        count = len(kept_trials(trials, step.code))
        done = (
            count >= step.required_trials
            if step.required_trials
            else step.code in baseline.entries.get("done", [])
        )
        lines.append(StepLine(step, count, done, out.get(step.code, "")))
    return lines


def next_step(lines: list[StepLine], after: BaselineStep) -> BaselineStep:
    """Return the next step that is not excluded; the last one itself at the end."""
    later = lines[STEPS.index(after) + 1 :]
    return next((line.step for line in later if not line.out_because), after)


def step_before(lines: list[StepLine], before: BaselineStep) -> BaselineStep:
    """Return the previous step that is not excluded; the first one itself at the start."""
    earlier = reversed(lines[: STEPS.index(before)])
    return next((line.step for line in earlier if not line.out_because), before)


def trial_lines(step: BaselineStep, trials: list[Any], client: Client) -> list[TrialLine]:
    """Return the trials of a step, the left-out ones too."""
    of_step = [trial for trial in trials if trial.step == step.code]
    best = best_trial([t for t in of_step if t.discarded_at is None], step) if step.best else None
    return [
        TrialLine(
            trial=trial,
            number=number,
            words=_words(trial, step, client),
            is_best=trial is best,
            reasons=reasons(trial.reasons, snr_db=trial.snr_db),
        )
        for number, trial in enumerate(of_step, start=1)
    ]


def _words(trial: BaselineTrial, step: BaselineStep, client: Client) -> str:
    figures = trial.figures
    phrases = []
    if step.capture is Capture.LEVEL:
        return gettext("{level_dbfs:.1f} dBFS as recorded").format(level_dbfs=figures["level_dbfs"])
    if "total_s" in figures:
        phrases.append(f"{figures['total_s']:.1f} s")
    if "steady_s" in figures:
        phrases.append(gettext("{steady_s:.1f} s steady").format(steady_s=figures["steady_s"]))
    if "low_hz" in figures:
        phrases.append(
            gettext("{note_words} to {note_words_2}").format(
                note_words=note_words(figures["low_hz"], client),
                note_words_2=note_words(figures["high_hz"], client),
            )
        )
        if figures.get("jumps"):
            phrases.append(
                ngettext("{jumps:.0f} jump", "{jumps:.0f} jumps", round(figures["jumps"])).format(
                    jumps=figures["jumps"]
                )
            )
    if "median_hz" in figures:
        phrases.append(
            gettext("{note_words}, {median_hz:.0f} Hz").format(
                note_words=note_words(figures["median_hz"], client), median_hz=figures["median_hz"]
            )
        )
    if "spread_cents" in figures:
        phrases.append(
            gettext("spread {spread_cents:.0f} cents").format(spread_cents=figures["spread_cents"])
        )
    if figures.get("breaks"):
        phrases.append(
            ngettext("{breaks:.0f} break", "{breaks:.0f} breaks", round(figures["breaks"])).format(
                breaks=figures["breaks"]
            )
        )
    if "volume_ml" in figures:
        phrases.append(gettext("{volume_ml:.0f} mL").format(volume_ml=figures["volume_ml"]))
    return ", ".join(phrases) or gettext("no measurable voice was detected")


def calibration_line(baseline: Baseline, trials: list[Any]) -> dict | None:
    """Return whether the device that was recorded with last is calibrated, and until when."""
    calibrated = [trial for trial in trials if trial.capture.get("device")]
    if not calibrated:
        return None
    capture = calibrated[-1].capture
    setting = LevelSetting(capture["device"], capture.get("browser", ""), baseline.distance_m)
    today = timezone.localdate()
    newest = newest_calibration(baseline.client.clinic, setting, on=today)
    if newest is None:
        return {"device": setting.device, "holds": False, "expires": None}
    holds = not newest.value.objections(setting, on=today)
    return {"device": setting.device, "holds": holds, "expires": newest.value.expires_on}


def target_lines(values: dict[str, float], client: Client) -> list[str]:
    """Return a target's values in words."""
    spelling = Spelling(client.spelling)
    found = []
    power = [Note(int(v)).name(spelling) for k, v in values.items() if k.startswith("power_")]
    if "warm_up_midi" in values:
        found.append(
            gettext("warm-up {spelling}").format(
                spelling=Note(int(values["warm_up_midi"])).name(spelling)
            )
        )
        found.append(gettext("power {power}").format(power=" ".join(power)))
    for name, value in values.items():
        if name.startswith(("power_", "warm_up")) or (name == "moved_st" and not value):
            continue
        found.append(figure_words(name, value))
    return found


def comparison(one: Baseline, other: Baseline, rows: list[Any]) -> list[dict]:
    """Return two baselines side by side, with every figure of either."""
    sides = []
    for sheet in (one, other):
        trials = list(sheet.trials.all())
        sheet_lines = [
            *derived_rows(summary_of(sheet, trials), sheet, rows),
            *sample_rows(sheet, trials),
        ]
        sides.append({row.name: row for row in sheet_lines})
    names = dict.fromkeys([*sides[0], *sides[1]])
    return [{"name": name, "sides": [side.get(name) for side in sides]} for name in names]
