"""Prescribing one held sound."""

from __future__ import annotations

from django import forms
from django.utils.translation import gettext, gettext_lazy

from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.targets.judging import LONGEST_TARGET_S, SHORTEST_TARGET_S
from web.record.models import PrescribedTask
from web.ui.forms import DescribedForm
from web.ui.wording import sentence


class HoldForm(DescribedForm, forms.ModelForm):
    """Form for one sound; the note is typed by name."""

    note = forms.CharField(
        label=gettext_lazy("Note"),
        required=False,
        max_length=8,
        help_text=gettext_lazy("For example F3, F♯3 or Gb3. Leave empty for any comfortable note."),
    )

    class Meta:
        model = PrescribedTask
        fields = ["sound", "target_s", "counts", "tries"]
        labels = {
            "sound": gettext_lazy("Sound"),
            "target_s": gettext_lazy("Target (seconds)"),
            "counts": gettext_lazy("Seconds counted"),
            "tries": gettext_lazy("Trials per session"),
        }
        widgets = {
            "target_s": forms.NumberInput(
                attrs={"step": "0.5", "min": SHORTEST_TARGET_S, "max": LONGEST_TARGET_S}
            ),
            "counts": forms.RadioSelect,
        }

    field_order = ["sound", "note", "target_s", "counts", "tries"]

    def clean_note(self) -> Note | None:
        """Return the typed name as a note, or an error with a valid example."""
        typed = self.cleaned_data["note"].strip()
        if not typed:
            return None
        try:
            return Note.named(typed)
        except Refusal as refusal:
            raise forms.ValidationError(sentence(refusal)) from refusal

    def clean_target_s(self) -> float:
        """Return a finite number: the field itself lets "nan" through."""
        seconds = self.cleaned_data["target_s"]
        if seconds != seconds:
            raise forms.ValidationError(gettext("Type a number of seconds, such as 12 or 7.5."))
        return seconds

    def save(self, commit: bool = True) -> PrescribedTask:
        """Return the task, not yet part of any programme."""
        note = self.cleaned_data["note"]
        self.instance.note_midi = note.midi if note else None
        return super().save(commit)
