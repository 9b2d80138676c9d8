"""Forms of the calculators."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils.translation import gettext_lazy

from reedcore.baseline import GoalSource
from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.pitch.patterns import BreathRule, PatternDrill
from web.baseline.forms import MeasureField, PitchField
from web.ui.forms import DescribedForm, FiniteFloatField
from web.ui.wording import sentence


def _number(label: Any, initial: Any, lowest: Any, highest: Any) -> Any:
    return FiniteFloatField(
        label=label, initial=initial, min_value=lowest, max_value=highest,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )  # fmt: skip


def _count(label: Any, initial: Any, lowest: Any, highest: Any) -> Any:
    return forms.IntegerField(label=label, initial=initial, min_value=lowest, max_value=highest)


class ToolForm(DescribedForm, forms.Form):
    """Base class of the calculators' forms."""


class NoteField(forms.CharField):
    """A note by its name; cleans to the note, or None."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=8, **kwargs)

    def clean(self, value: str | None) -> Note | None:
        """Return the note that was typed."""
        typed = super().clean(value).strip()
        if not typed:
            return None
        try:
            return Note.named(typed)
        except Refusal as refusal:
            raise forms.ValidationError(sentence(refusal)) from refusal


class NoteForm(ToolForm):
    pitch = PitchField(label=gettext_lazy("A note or Hz"), initial="F3")
    target = PitchField(label=gettext_lazy("Compared with"), initial="F3", required=False)


class GoalForm(ToolForm):
    volume_ml = MeasureField("volume_ml", label=gettext_lazy("Volume, mL"), initial="3200")
    source = forms.ChoiceField(
        label=gettext_lazy("Type of volume"),
        choices=[
            (GoalSource.PHONATION_VOLUME.value, gettext_lazy("phonation volume")),
            (GoalSource.VITAL_CAPACITY.value, gettext_lazy("vital capacity")),
        ],
    )
    best_s = MeasureField(
        "hold_s", label=gettext_lazy("Longest hold so far, s"), initial="14.8", required=False
    )


class RatioForm(ToolForm):
    s = MeasureField("hold_s", label=gettext_lazy("Longest /s/, s"), initial="18")
    z = MeasureField("hold_s", label=gettext_lazy("Longest /z/, s"), initial="15")


class DistanceForm(ToolForm):
    level = MeasureField("level_db_spl", label=gettext_lazy("Level, dB SPL"), initial="70")
    here_cm = _number(gettext_lazy("Measured at, cm"), "50", 2, 500)
    there_cm = _number(gettext_lazy("Convert to, cm"), "30", 2, 500)


class StrawForm(ToolForm):
    diameter_mm = _number(gettext_lazy("Inner width, mm"), "5", 1.5, 30)
    length_cm = _number(gettext_lazy("Length, cm"), "20", 2, 60)
    depth_cm = _number(gettext_lazy("Depth in water, cm"), "0", 0, 15)


class BreathForm(ToolForm):
    breath_in = _count(gettext_lazy("In"), 4, 1, 60)
    held = _count(gettext_lazy("Held"), 0, 0, 60)
    breath_out = _count(gettext_lazy("Out"), 8, 1, 60)
    rest = _count(gettext_lazy("Rest"), 0, 0, 60)
    tempo_bpm = _number(gettext_lazy("Beats a minute"), "100", 20, 200)
    cycles = _count(gettext_lazy("Breaths"), 8, 1, 200)


class PatternForm(ToolForm):
    start = NoteField(label=gettext_lazy("Starts on"), initial="C3")
    step_st = _count(gettext_lazy("Semitones a round"), 1, 1, 12)
    rounds_down = _count(gettext_lazy("Rounds down"), 3, 0, 24)
    rounds_up = _count(gettext_lazy("Rounds up"), 5, 0, 24)
    floor = NoteField(label=gettext_lazy("Not below"), initial="", required=False)
    ceiling = NoteField(label=gettext_lazy("Not above"), initial="", required=False)
    bridge = NoteField(label=gettext_lazy("Bridge"), initial="", required=False)
    beat_s = _number(gettext_lazy("Seconds a note"), "0.6", 0.15, 3)
    breath = forms.ChoiceField(
        label=gettext_lazy("Breath"),
        choices=[
            (BreathRule.ONE_BREATH.value, gettext_lazy("one breath per round")),
            (BreathRule.CATCH.value, gettext_lazy("catch-breath between notes")),
        ],
    )
    transpose = _count(gettext_lazy("Transpose, semitones"), 0, -24, 24)

    def clean(self) -> dict[str, Any] | None:
        """Return the drill, or the reason why there is none."""
        super().clean()
        cleaned = self.cleaned_data
        if self.errors:
            return cleaned
        given = {
            k: v for k, v in cleaned.items() if k not in ("transpose", "breath") and v is not None
        }
        try:
            given["start"] = cleaned["start"].transpose(cleaned["transpose"])
            cleaned["drill"] = PatternDrill(breath=BreathRule(cleaned["breath"]), **given)
        except Refusal as refusal:
            raise forms.ValidationError(sentence(refusal)) from refusal
        return cleaned
