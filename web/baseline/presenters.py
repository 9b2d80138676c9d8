"""The baseline sheet and the targets as the templates print them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Any

from django.utils import timezone
from django.utils.translation import gettext

from reedcore.baseline import PitchRange, against_reference, reference_for
from reedcore.baseline.sheet import VITAL, BaselineSummary, best_trial, kept_trials
from reedcore.baseline.steps import BY_CODE, STEPS, BaselineStep, Capture
from reedcore.devices.levels import LevelSetting
from reedcore.errors import Refusal
from reedcore.pitch import Note, Spelling, note_nearest
from reedcore.translation import translated
from web.clients.models import Client
from web.clients.wording import CAUTION_NAMES
from web.screening.wording import HAZARDS
from web.sound.queries import newest_calibration, sound_pressure
from web.sound.wording import reasons
from web.ui.marked import WordList, gettext_noop

from .forms import RATED
from .models import Baseline, BaselineTrial
from .summaries import summary_of
from .wording import AGAINST_REFERENCE, FIGURES, MEASURES, RATIO_CAUTION, RATIO_NO_CLEARANCE

if TYPE_CHECKING:
    from reedcore.baseline.phonation import Longest

#: Figures of a speech sample besides its pitch: name, decimals, unit.
SAMPLE_FIGURES = WordList(
    (
        ("range_st", 1, gettext_noop("semitones of movement")),
        ("voiced_s", 0, gettext_noop("s voiced")),
        ("breaths_per_min", 0, gettext_noop("breaths a minute")),
    )
)


@dataclass(frozen=True)
class StepLine:
    """A step in the list: how far it is, and whether a caution takes it out."""

    step: BaselineStep
    count: int
    done: bool
    out_because: str


@dataclass(frozen=True)
class TrialLine:
    """One trial in words."""

    trial: BaselineTrial
    number: int
    words: str
    is_best: bool
    reasons: list[str]


@dataclass(frozen=True)
class SheetRow:
    """One derived figure: its name, the figure with its unit, and a remark."""

    name: str
    value: str
    remark: str = ""
    warns: bool = False


def note_words(hz: float, client: Client) -> str:
    """``A2 +12 cents`` of a frequency, as this client's clinician spells notes."""
    try:
        note, cents = note_nearest(hz, a4_hz=client.clinic.a4_hz)
    except Refusal:  # The note is outside the keyboard.
        return gettext("{hz:.0f} Hz").format(hz=hz)
    off = (
        gettext(" {value}{cents:.0f} cents").format(
            value="+" if cents > 0 else "−", cents=abs(cents)
        )
        if abs(cents) >= 10
        else ""
    )
    return f"{note.name(Spelling(client.spelling))}{off}"


def taken_out(client: Client, *, on: Any) -> dict[str, str]:
    """Return which steps a caution on record takes out, and why, by step."""
    forbidden = {each.hazard: each.because for each in client.forbidden(on=on) if not each.allowed}
    return {
        step.code: gettext("{value}: not {value_2}").format(
            value=CAUTION_NAMES[forbidden[hazard]], value_2=HAZARDS[hazard]
        )
        for step in STEPS
        for hazard in step.hazards
        if hazard in forbidden
    }


def step_lines(baseline: Baseline, trials: list[Any], out: dict[str, Any]) -> list[StepLine]:
    """Every step, with what has been done at it."""
    lines = []
    for step in STEPS:
        count = len(kept_trials(trials, step.code))
        done = (
            count >= step.wanted if step.wanted else step.code in baseline.entries.get("done", [])
        )
        lines.append(StepLine(step, count, done, out.get(step.code, "")))
    return lines


def next_step(lines: list[StepLine], after: BaselineStep) -> BaselineStep:
    """Return the first step after this one that is not taken out; itself at the end."""
    later = lines[STEPS.index(after) + 1 :]
    return next((line.step for line in later if not line.out_because), after)


def step_before(lines: list[StepLine], before: BaselineStep) -> BaselineStep:
    """Return the last step before this one that is not taken out; itself at the start."""
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
    told = []
    if step.capture is Capture.LEVEL:
        return gettext("{level_dbfs:.1f} dBFS as recorded").format(level_dbfs=figures["level_dbfs"])
    if "total_s" in figures:
        told.append(f"{figures['total_s']:.1f} s")
    if "steady_s" in figures:
        told.append(gettext("{steady_s:.1f} s steady").format(steady_s=figures["steady_s"]))
    if "low_hz" in figures:
        told.append(
            gettext("{note_words} to {note_words_2}").format(
                note_words=note_words(figures["low_hz"], client),
                note_words_2=note_words(figures["high_hz"], client),
            )
        )
        if figures.get("jumps"):
            told.append(
                gettext("{jumps:.0f} jump{value}").format(
                    jumps=figures["jumps"], value="s" if figures["jumps"] > 1 else ""
                )
            )
    if "median_hz" in figures:
        told.append(
            gettext("{note_words}, {median_hz:.0f} Hz").format(
                note_words=note_words(figures["median_hz"], client), median_hz=figures["median_hz"]
            )
        )
    if "spread_cents" in figures:
        told.append(
            gettext("spread {spread_cents:.0f} cents").format(spread_cents=figures["spread_cents"])
        )
    if figures.get("breaks"):
        told.append(
            gettext("{breaks:.0f} break{value}").format(
                breaks=figures["breaks"], value="s" if figures["breaks"] > 1 else ""
            )
        )
    if "volume_ml" in figures:
        told.append(gettext("{volume_ml:.0f} mL").format(volume_ml=figures["volume_ml"]))
    return ", ".join(told) or gettext("no measurable voice was detected")


def derived_rows(found: BaselineSummary, baseline: Baseline, rows: list[Any]) -> list[SheetRow]:
    """Return what the sheet comes to so far, in words that do not diagnose."""
    client = baseline.client
    lines = [
        _longest_row(
            gettext("Maximum phonation time"), found.longest_vowel, "longest_vowel_s", client, rows
        ),
        _longest_row(gettext("Longest /s/"), found.longest_s, "longest_s_s", client, rows),
        _longest_row(gettext("Longest /z/"), found.longest_z, "longest_z_s", client, rows),
        *_air_rows(found, client, rows),
        *_range_rows(found, client, rows),
        *_level_rows(found, client),
    ]
    if found.speaking_difference_st is not None:
        lines.append(_speaking_row(found, client, rows))
    if found.effort is not None:
        lines.append(SheetRow("Effort", gettext("{effort:g} of 10").format(effort=found.effort)))
    lines += _rated_rows(baseline)
    return [line for line in lines if line]


def _air_rows(found: BaselineSummary, client: Client, rows: list[Any]) -> list[SheetRow]:
    """Return the ratio of the hisses, the volume, and what both come to."""
    lines = []
    if found.ratio:
        words = str(RATIO_CAUTION if found.ratio.caution else RATIO_NO_CLEARANCE)
        lines.append(SheetRow("s/z", f"{found.ratio.ratio:.2f}", words, found.ratio.caution))
    if found.volume_ml:
        vital = found.volume_is == VITAL
        remark = _standing("volume_ml", found.volume_ml, client, rows) if vital else ""
        name = gettext("Vital capacity") if vital else gettext("Phonation volume")
        lines.append(
            SheetRow(name, gettext("{volume_ml:.0f} mL").format(volume_ml=found.volume_ml), remark)
        )
    if found.quotient:
        remark = _standing("quotient", found.quotient, client, rows)
        lines.append(
            SheetRow(
                "Quotient", gettext("{quotient:.0f} mL/s").format(quotient=found.quotient), remark
            )
        )
    return lines


def _range_rows(found: BaselineSummary, client: Client, rows: list[Any]) -> list[SheetRow]:
    """Return how far the voice glides, what was held, what is comfortable, and the note in its
    middle."""
    lines = []
    if found.glide_range:
        span = found.glide_range.span_st
        remark = (
            gettext("{span:.0f} semitones, {standing}")
            .format(span=span, standing=_standing("span_st", span, client, rows))
            .rstrip(", ")
        )
        lines.append(SheetRow(gettext("Glide range"), _ends(found.glide_range, client), remark))
    if found.held_range:
        lines.append(SheetRow("Held", _ends(found.held_range, client)))
    if found.comfortable_range:
        lines.append(
            SheetRow(
                gettext("Comfortable range"), _ends(found.comfortable_range, client, always=True)
            )
        )
    if found.comfortable_hz:
        lines.append(
            SheetRow(gettext("Comfortable note"), note_words(found.comfortable_hz, client))
        )
    return lines


def _ends(span: PitchRange, client: Client, *, always: bool = False) -> str:
    """Return the lowest and the highest note; one note where both are the same."""
    low, high = (note_words(hz, client) for hz in (span.low_hz, span.high_hz))
    return (
        low if low == high and not always else gettext("{low} to {high}").format(low=low, high=high)
    )


def _longest_row(
    name: str, longest: Longest | None, measure: str, client: Client, rows: list[Any]
) -> SheetRow | None:
    if longest is None:
        return None
    of = gettext("of {trials}").format(trials=longest.trials) + (
        "" if longest.enough else gettext("; {wanted}needed").format(wanted=longest.wanted)
    )
    remark = _standing(measure, longest.seconds, client, rows)
    return SheetRow(name, f"{longest.seconds:.1f} s", f"{of}; {remark}" if remark else of)


def _standing(measure: str, value: float, client: Client, rows: list[Any]) -> str:
    row = reference_for(rows, measure=measure, age_band=client.age_band or None, voice=client.voice)
    return AGAINST_REFERENCE[against_reference(value, row)] if row else ""


def level_words(level: Any, client: Client, on: date) -> str:
    """dB SPL at 30 cm where the device is calibrated, else the word "relative"."""
    spl = sound_pressure(client.clinic, level, on=on)
    return str(spl.at(0.30)) if spl else gettext("relative: this device is not calibrated")


def _level_rows(found: BaselineSummary, client: Client) -> list[Any]:
    lines = []
    if found.comfortable_level:
        lines.append(
            SheetRow(
                gettext("Comfortable level"), level_words(found.comfortable_level, client, found.on)
            )
        )
    if found.louder_by:
        lines.append(
            SheetRow(
                gettext("Loud voice"),
                str(found.louder_by),
                level_words(found.loud_level, client, found.on),
            )
        )
    return lines


def calibration_line(baseline: Baseline, trials: list[Any]) -> dict | None:
    """Return whether the device that was recorded with last is calibrated, and until when."""
    heard = [trial for trial in trials if trial.capture.get("device")]
    if not heard:
        return None
    capture = heard[-1].capture
    setting = LevelSetting(capture["device"], capture.get("browser", ""), baseline.distance_m)
    today = timezone.localdate()
    newest = newest_calibration(baseline.client.clinic, setting, on=today)
    if newest is None:
        return {"device": setting.device, "holds": False, "expires": None}
    holds = not newest.value.objections(setting, on=today)
    return {"device": setting.device, "holds": holds, "expires": newest.value.expires_on}


def _speaking_row(found: Any, client: Client, rows: Any) -> Any:
    difference = found.speaking_difference_st
    sign = "+" if difference > 0 else "−" if difference < 0 else "±"
    signed = gettext("{sign}{difference:.1f} semitones").format(
        sign=sign, difference=abs(difference)
    )
    where = (
        gettext("habitual pitch is below the most comfortable pitch")
        if difference < -0.5
        else gettext("habitual pitch is above the most comfortable pitch")
        if difference > 0.5
        else gettext("habitual and most comfortable pitch agree")
    )
    usual = _standing("speaking_hz", found.habitual_hz, client, rows)
    return SheetRow(
        gettext("Speaking pitch"),
        gettext("{note_words}, easiest {note_words_2}").format(
            note_words=note_words(found.habitual_hz, client),
            note_words_2=note_words(found.easiest_hz, client),
        ),
        f"{signed}: {where}" + (f"; {usual}" if usual else ""),
    )


def _rated_rows(baseline: Baseline) -> list[Any]:
    rated = [
        f"{label.lower()} {baseline.entries[name]:g}"
        for name, label in RATED.items()
        if name in baseline.entries
    ]
    lines = (
        [SheetRow(gettext("Perceptual rating"), ", ".join(rated), gettext("0 none to 3 much"))]
        if rated
        else []
    )
    if "questionnaire" in baseline.entries:
        name = baseline.client.clinic.questionnaire or "Questionnaire"
        lines.append(SheetRow(name, f"{baseline.entries['questionnaire']:g}"))
    return lines


def target_lines(values: dict[str, float], client: Client) -> list[str]:
    """Return a target's values in words."""
    spelling = Spelling(client.spelling)
    told = []
    power = [Note(int(v)).name(spelling) for k, v in values.items() if k.startswith("power_")]
    if "warm_up_midi" in values:
        told.append(
            gettext("warm-up {spelling}").format(
                spelling=Note(int(values["warm_up_midi"])).name(spelling)
            )
        )
        told.append(gettext("power {power}").format(power=" ".join(power)))
    for name, value in values.items():
        if name.startswith(("power_", "warm_up")) or (name == "moved_st" and not value):
            continue
        told.append(figure_words(name, value))
    return told


def figure_words(name: str, value: Any) -> str:
    """``volume 3200 mL``."""
    label, unit, places = FIGURES[name]
    signed = name in ("ceiling_db", "floor_db", "moved_st")
    number = f"{value:+.{places}f}" if signed else f"{value:.{places}f}"
    return f"{label} {number.replace('-', '−')} {unit}".strip()


def comparison(one: Baseline, other: Baseline, rows: list[Any]) -> list[dict]:
    """Two baselines side by side, every figure that either of them has."""
    sides = []
    for sheet in (one, other):
        trials = list(sheet.trials.all())
        told = [*derived_rows(summary_of(sheet, trials), sheet, rows), *_samples(sheet, trials)]
        sides.append({row.name: row for row in told})
    names = dict.fromkeys([*sides[0], *sides[1]])
    return [{"name": name, "sides": [side.get(name) for side in sides]} for name in names]


def _samples(sheet: Baseline, trials: list[BaselineTrial]) -> Iterator[SheetRow]:
    """Reading and talk: what pitch they lay at, how far it moved, how often breath was taken."""
    for code in ("reading", "talk"):
        taken = [
            trial.figures for trial in kept_trials(trials, code) if "median_hz" in trial.figures
        ]
        if not taken:
            continue
        figures = taken[-1]
        more = [
            f"{figures[name]:.{places}f} {unit}"
            for name, places, unit in SAMPLE_FIGURES
            if name in figures
        ]
        hz = figures["median_hz"]
        yield SheetRow(
            translated(BY_CODE[code].title),
            gettext("{note_words}, {hz:.0f} Hz").format(
                note_words=note_words(hz, sheet.client), hz=hz
            ),
            ", ".join(more),
        )


def measure_name(code: str) -> str:
    """Return a measure of the reference table with its unit."""
    label, unit = MEASURES[code]
    return f"{label}, {unit}"
