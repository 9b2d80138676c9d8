"""What a clinician types while reviewing."""

from dataclasses import asdict
from datetime import date

from django import forms
from django.core.validators import MaxValueValidator, MinValueValidator

from reedcore.decisions import RANGES, Settings
from web.ui.forms import DescribedForm

from .wording import SETTING_NAMES

#: No day of practice lies outside; beyond them lie the ends of the calendar.
FIRST_DAY, LAST_DAY = date(2000, 1, 1), date(2199, 12, 31)


class DayField(forms.DateField):
    """A day on which somebody can have practised."""

    def __init__(self, name, **kwargs):
        words = f"Write the {name} day as 2026-11-25."
        usual = [MinValueValidator(FIRST_DAY, words), MaxValueValidator(LAST_DAY, words)]
        errors = {"invalid": words, "required": words}
        super().__init__(validators=usual, error_messages=errors, **kwargs)


class RulesForm(DescribedForm, forms.Form):
    """Each threshold; an empty one is the usual."""

    def __init__(self, *args, changed, **kwargs):
        super().__init__(*args, **kwargs)
        for name, usual in asdict(Settings()).items():
            low, high = RANGES[name]
            kind = forms.IntegerField if isinstance(usual, int) else forms.FloatField
            self.fields[name] = kind(
                label=SETTING_NAMES[name],
                required=False,
                min_value=low,
                max_value=high,
                help_text=f"usually {usual:g}; {low:g} to {high:g}",
                initial=changed.get(name),
            )
            self._describe(name)

    def changed(self) -> dict[str, float]:
        """What differs from the usual."""
        usual = asdict(Settings())
        return {
            name: value
            for name, value in self.cleaned_data.items()
            if value is not None and value != usual[name]
        }
