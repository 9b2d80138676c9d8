"""Form for a row of the clinic's reference table."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils.translation import gettext, gettext_lazy

from web.ui.forms import DescribedForm

from .models import ReferenceFigure
from .wording import MEASURES


class ReferenceForm(DescribedForm, forms.ModelForm):
    """Form for a row of the reference table."""

    measure = forms.ChoiceField(
        label=gettext_lazy("Measure"),
        choices=lambda: [(code, f"{label}, {unit}") for code, (label, unit) in MEASURES.items()],
    )

    class Meta:
        model = ReferenceFigure
        fields = ["measure", "age_band", "voice", "low", "high", "source"]
        labels = {
            "age_band": gettext_lazy("Age band"),
            "voice": gettext_lazy("Voice"),
            "source": gettext_lazy("Source"),
        }

    def clean(self) -> dict[str, Any] | None:
        """Require at least one limit, in the right order, and one row per group."""
        super().clean()
        cleaned = self.cleaned_data
        low, high = cleaned.get("low"), cleaned.get("high")
        if low is None and high is None:
            raise forms.ValidationError(gettext("Enter at least one limit."))
        if low is not None and high is not None and low > high:
            raise forms.ValidationError(gettext("The lower limit is above the upper limit."))
        return cleaned
