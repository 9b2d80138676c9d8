"""Forms of the baseline sheet: figures read elsewhere and entries without sound."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from django import forms
from django.http import QueryDict
from django.utils.translation import gettext, gettext_lazy

from reedcore.baseline import LIMITS, Plausibility, plausibility
from reedcore.baseline.sheet import PHONATION, VITAL
from reedcore.baseline.steps import Capture
from reedcore.errors import Refusal
from reedcore.pitch import Note
from web.ui.forms import ConfirmImplausibleMixin, DescribedForm, FiniteFloatField
from web.ui.marked import WordList, Words, gettext_noop
from web.ui.wording import sentence

from .wording import IMPOSSIBLE, ODD

if TYPE_CHECKING:
    from reedcore.baseline.sheet import BaselineSummary
    from reedcore.baseline.steps import BaselineStep
    from web.baseline.models import Baseline
    from web.clients.models import Client

_HZ = re.compile(r"(\d+(?:[.,]\d+)?)\s*(hz)?", re.IGNORECASE)


class MeasureField(FiniteFloatField):
    """A figure with its own limits: impossible values are rejected, implausible ones need a
    confirmation."""

    def __init__(self, measure: str, **kwargs: Any) -> None:
        self.measure = measure
        kwargs.setdefault(
            "widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})
        )
        super().__init__(**kwargs)

    def clean(self, value: str | None) -> float | None:
        """Return the cleaned value; refuse or ask about one that is not plausible."""
        number = super().clean(value)
        if number is not None:
            refuse_impossible(self.measure, number)
        return number


class PitchField(forms.CharField):
    """A pitch by its note or in Hz: ``A2``, ``110``, ``110 Hz``; cleans to Hz."""

    measure = "pitch_hz"

    def __init__(self, *, a4_hz: float = 440.0, **kwargs: Any) -> None:
        self.a4_hz = a4_hz
        super().__init__(
            max_length=16, widget=forms.TextInput(attrs={"autocomplete": "off"}), **kwargs
        )

    def clean(self, value: str | None) -> float | None:
        """Return the cleaned value; refuse or ask about one that is not plausible."""
        typed = super().clean(value).strip()
        if not typed:
            return None
        number = _HZ.fullmatch(typed)
        try:
            hz = (
                float(number[1].replace(",", "."))
                if number
                else Note.named(typed).hz(a4_hz=self.a4_hz)
            )
        except Refusal as refusal:
            raise forms.ValidationError(sentence(refusal)) from refusal
        refuse_impossible(self.measure, hz)
        return hz


def refuse_impossible(measure: str, value: float) -> None:
    """Raise an error with a sentence for an impossible figure."""
    if plausibility(measure, value) is Plausibility.IMPOSSIBLE:
        limits = LIMITS[measure]
        words = IMPOSSIBLE[measure].format(
            value=value, lowest=limits.lowest, highest=limits.highest
        )
        raise forms.ValidationError(words)


class SheetForm(DescribedForm, ConfirmImplausibleMixin, forms.Form):
    """Asks about every odd figure in it."""

    def clean(self) -> dict[str, Any] | None:
        """Return the cleaned value; refuse or ask about one that is not plausible."""
        for name, field in self.fields.items():
            value, measure = self.cleaned_data.get(name), getattr(field, "measure", None)
            if value is not None and measure and plausibility(measure, value) is Plausibility.ODD:
                self.ask_about(ODD[measure].format(value=value))
        return super().clean()

    def kept(self) -> dict[str, float]:
        """Return the filled fields."""
        return {name: value for name, value in self.cleaned_data.items() if value not in (None, "")}


def typed_form(step: Any, client: Client, data: Any = None) -> Any:
    """Return the form for a step's figures when they were read off elsewhere."""
    by_capture: dict[Capture, dict[str, forms.Field]] = {
        Capture.HOLD: {"total_s": MeasureField("hold_s", label=gettext("Seconds"))},
        Capture.HISS: {"total_s": MeasureField("hold_s", label=gettext("Seconds"))},
        Capture.GLIDE: {
            "low_hz": PitchField(label=gettext("Lowest note or Hz"), a4_hz=client.clinic.a4_hz),
            "high_hz": PitchField(label=gettext("Highest note or Hz"), a4_hz=client.clinic.a4_hz),
        },
        Capture.SPEECH: {
            "median_hz": PitchField(label=gettext("Note or Hz"), a4_hz=client.clinic.a4_hz)
        },
        Capture.VOLUME: {"volume_ml": MeasureField("volume_ml", label=gettext("Volume, mL"))},
    }
    fields = by_capture.get(step.capture)
    if fields is None:
        return None
    form = type("TypedForm", (_RangeForm,), {})(data, prefix=None)
    for name, field in fields.items():
        form.fields[name] = field
    return form


class _RangeForm(SheetForm):
    def clean(self) -> dict[str, Any] | None:
        """Return the cleaned value; refuse or ask about one that is not plausible."""
        low, high = self.cleaned_data.get("low_hz"), self.cleaned_data.get("high_hz")
        if low is not None and high is not None and low > high:
            self.add_error("low_hz", gettext("The lowest note is above the highest note."))
        return super().clean()


class MeterForm(SheetForm):
    """The reading of the sound-level meter, and how far the microphone is."""

    meter_db_spl = MeasureField("level_db_spl", label=gettext_lazy("Meter, dB SPL"))
    weighting = forms.ChoiceField(
        label=gettext_lazy("Weighting"), choices=[(w, w) for w in "CAZ"], initial="C"
    )
    distance_cm = FiniteFloatField(label=gettext_lazy("Distance, cm"), initial=30)

    def clean_distance_cm(self) -> float | None:
        """Convert centimetres, which are typed, to metres, which are stored."""
        distance = self.cleaned_data["distance_cm"]
        refuse_impossible("distance_m", distance / 100)
        return distance


class TakenForm(SheetForm):
    """Form for actions before the visit, and how long ago they were."""

    taken = forms.CharField(
        label=gettext_lazy("In the last hours"), required=False, max_length=500,
        help_text=gettext_lazy("coffee, alcohol, smoke, a meal, exercise, medication"),
    )  # fmt: skip
    medication_hours = FiniteFloatField(
        label=gettext_lazy("Hours since medication"), required=False, min_value=0, max_value=72,
        widget=forms.TextInput(attrs={"inputmode": "decimal"}),
    )  # fmt: skip


class RangeForm(SheetForm):
    """The comfortable range, inside the range of the glides."""

    comfortable_low_hz = PitchField(label=gettext_lazy("Comfortable from (note or Hz)"))
    comfortable_high_hz = PitchField(label=gettext_lazy("Comfortable to (note or Hz)"))

    def __init__(self, *args: Any, glided: Any = None, a4_hz: float = 440.0, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.glided = glided
        for field in self.fields.values():
            if isinstance(field, PitchField):
                field.a4_hz = a4_hz

    def clean(self) -> Any:
        """Return the cleaned value; refuse or ask about one that is not plausible."""
        low = self.cleaned_data.get("comfortable_low_hz")
        high = self.cleaned_data.get("comfortable_high_hz")
        if low is not None and high is not None:
            slack = 2 ** (0.5 / 12)
            if low > high:
                self.add_error(
                    "comfortable_low_hz", gettext("The lowest note is above the highest note.")
                )
            elif self.glided and low < self.glided.low_hz / slack:
                self.add_error(
                    "comfortable_low_hz", gettext("This is below the lowest note of the glides.")
                )
            elif self.glided and high > self.glided.high_hz * slack:
                self.add_error(
                    "comfortable_high_hz", gettext("This is above the highest note of the glides.")
                )
        return super().clean()


class EffortForm(SheetForm):
    """Self-rated effort."""

    effort = MeasureField("effort", label=gettext_lazy("Effort, 0 to 10"))


RATED = Words(
    {
        "overall": gettext_noop("Overall"),
        "rough": gettext_noop("Rough"),
        "breathy": gettext_noop("Breathy"),
        "weak": gettext_noop("Weak"),
        "strained": gettext_noop("Strained"),
    }
)


class RatingForm(SheetForm):
    """The clinician's ratings, 0 none to 3 severe, and the questionnaire's total."""

    def __init__(self, *args: Any, questionnaire: str = "", **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, label in RATED.items():
            self.fields[name] = MeasureField(
                "rating", label=gettext("{label}, 0 to 3").format(label=label), required=False
            )
        self.fields["questionnaire"] = MeasureField(
            "questionnaire", label=questionnaire or gettext("Questionnaire, total"), required=False
        )


VOLUME_KINDS = WordList(
    [
        (VITAL, gettext_noop("vital capacity")),
        (PHONATION, gettext_noop("phonation volume (air used in one long vowel)")),
    ]
)


class VolumeKindForm(SheetForm):
    """Which volume it was."""

    volume_is = forms.ChoiceField(choices=lambda: list(VOLUME_KINDS))


def entry_form(
    step: Any, baseline: Baseline, derived: BaselineSummary, data: QueryDict | None = None
) -> RangeForm | RatingForm | TakenForm | None:
    """Return the form of a step without sound; it also receives input from before the scripts
    loaded."""
    form = _entry_form(step, baseline, derived, data)
    if form:
        next(iter(form.fields.values())).widget.attrs["autofocus"] = True
    return form


def _entry_form(
    step: BaselineStep, baseline: Baseline, derived: BaselineSummary, data: QueryDict | None
) -> Any:
    initial = baseline.entries
    if step.code == "taken":
        return TakenForm(data, initial=initial)
    if step.code == "range":
        return RangeForm(
            data,
            initial={k: f"{v:.1f}" for k, v in initial.items() if k.startswith("comfortable_")},
            glided=derived.glide_range,
            a4_hz=baseline.client.clinic.a4_hz,
        )
    if step.code == "effort":
        return EffortForm(data, initial=initial)
    if step.code == "rating":
        return RatingForm(data, initial=initial, questionnaire=baseline.client.clinic.questionnaire)
    return None
