"""Rows of the baseline sheet with figures derived from its trials."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.baseline import PitchRange, against_reference, reference_for
from reedcore.baseline.sheet import VITAL, BaselineSummary, kept_trials
from reedcore.baseline.steps import BY_CODE
from reedcore.translation import translate
from web.clients.models import Client
from web.ui.marked import WordList, gettext_noop

from .figure_words import level_words, note_words
from .forms import RATED
from .models import Baseline, BaselineTrial
from .wording import AGAINST_REFERENCE, RATIO_CAUTION, RATIO_NO_CLEARANCE

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
class SheetRow:
    """A derived figure: its name, the figure with its unit, and a remark."""

    name: str
    value: str
    remark: str = ""
    has_warning: bool = False


def derived_rows(found: BaselineSummary, baseline: Baseline, rows: list[Any]) -> list[SheetRow]:
    """Return the figures of the sheet so far, in words that do not diagnose."""
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
    """Return the ratio of the hisses, the volume, and the figures from both."""
    lines = []
    if found.ratio:
        words = str(RATIO_CAUTION if found.ratio.is_cautioned else RATIO_NO_CLEARANCE)
        lines.append(SheetRow("s/z", f"{found.ratio.ratio:.2f}", words, found.ratio.is_cautioned))
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
    """Return the range of the glides, the held range, the comfortable range, and its middle
    note."""
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
                gettext("Comfortable range"),
                _ends(found.comfortable_range, client, is_always_shown=True),
            )
        )
    if found.comfortable_hz:
        lines.append(
            SheetRow(gettext("Comfortable note"), note_words(found.comfortable_hz, client))
        )
    return lines


def _ends(span: PitchRange, client: Client, *, is_always_shown: bool = False) -> str:
    """Return the lowest and the highest note; one note where both are the same."""
    low, high = (note_words(hz, client) for hz in (span.low_hz, span.high_hz))
    return (
        low
        if low == high and not is_always_shown
        else gettext("{low} to {high}").format(low=low, high=high)
    )


def _longest_row(
    name: str, longest: Longest | None, measure: str, client: Client, rows: list[Any]
) -> SheetRow | None:
    if longest is None:
        return None
    words = gettext("of {trials}") if longest.enough else gettext("of {trials}; {wanted} needed")
    of = words.format(trials=longest.trials, wanted=longest.required_trials)
    remark = _standing(measure, longest.seconds, client, rows)
    return SheetRow(name, f"{longest.seconds:.1f} s", f"{of}; {remark}" if remark else of)


def _standing(measure: str, value: float, client: Client, rows: list[Any]) -> str:
    row = reference_for(rows, measure=measure, age_band=client.age_band or None, voice=client.voice)
    return AGAINST_REFERENCE[against_reference(value, row)] if row else ""


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
        f"{label} {baseline.entries[name]:g}"
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


def sample_rows(sheet: Baseline, trials: list[BaselineTrial]) -> Iterator[SheetRow]:
    """Return the figures of reading and talk: pitch, its movement, and breaths."""
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
            translate(BY_CODE[code].title),
            gettext("{note_words}, {hz:.0f} Hz").format(
                note_words=note_words(hz, sheet.client), hz=hz
            ),
            ", ".join(more),
        )
