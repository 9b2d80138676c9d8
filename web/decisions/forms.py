"""The thresholds of the rules, as a clinician types them."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django import forms
from django.utils.translation import gettext

from reedcore.decisions import RANGES, Settings
from web.ui.forms import DescribedForm

from .wording import SETTING_GROUPS, SETTING_NAMES


class RulesForm(DescribedForm, forms.Form):
    """Form for the thresholds of the rules; an empty field means the default."""

    def __init__(self, *args: Any, changed: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, usual in asdict(Settings()).items():
            low, high = RANGES[name]
            kind: Any = forms.IntegerField if isinstance(usual, int) else forms.FloatField
            self.fields[name] = kind(
                label=SETTING_NAMES[name],
                required=False,
                min_value=low,
                max_value=high,
                help_text=gettext("default {usual:g}; allowed {low:g} to {high:g}").format(
                    usual=usual, low=low, high=high
                ),
                initial=changed.get(name),
            )
            self._describe(name)

    def groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Return the thresholds by the step that they belong to."""
        return [(title, [self[name] for name in names]) for title, names in SETTING_GROUPS]

    def changed_settings(self) -> dict[str, float]:
        """Return the settings that differ from the defaults."""
        usual = asdict(Settings())
        return {
            name: value
            for name, value in self.cleaned_data.items()
            if value is not None and value != usual[name]
        }
