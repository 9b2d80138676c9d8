"""Shared behaviour of forms: help and errors linked to fields, unusual figures confirmed."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from math import isfinite
from typing import Any

from django import forms
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db.models import QuerySet
from django.utils.translation import gettext, gettext_lazy

from web.ui.request_body import clean_line

CONFIRM = "confirmed"


class DescribedForm(forms.BaseForm):
    """Link each field to its help and its error for screen readers."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in self.fields:
            self._describe(name)

    def full_clean(self) -> None:
        """Validate, and mark each wrong field."""
        super().full_clean()
        for name in self.errors:
            if name in self.fields:
                self.fields[name].widget.attrs["aria-invalid"] = "true"
                self._describe(name, is_wrong=True)

    def _clean_fields(self) -> None:
        """Replace line breaks in single-line fields, because a name becomes a heading, a file name
        or a subject."""
        super()._clean_fields()  # type: ignore[misc]  # Django's, unknown to its stubs
        for name, value in self.cleaned_data.items():
            if isinstance(value, str) and not isinstance(self.fields[name].widget, forms.Textarea):
                self.cleaned_data[name] = clean_line(value)

    def _describe(self, name: str, *, is_wrong: bool = False) -> None:
        parts = [f"id_{name}_help"] if self.fields[name].help_text else []
        parts += [f"id_{name}_error"] if is_wrong else []
        if parts:
            self.fields[name].widget.attrs["aria-describedby"] = " ".join(parts)


def offer_rows(
    form: forms.BaseForm,
    name: str,
    rows: QuerySet[Any],
    *,
    label: Callable[[Any], str] | None = None,
) -> None:
    """Let a field choose among these rows; ``label`` names each."""
    field = form.fields[name]
    if not isinstance(field, forms.ModelChoiceField):
        raise TypeError(f"{name} is no choice of rows")
    field.queryset = rows
    if label:
        field.label_from_instance = label  # type: ignore[assignment]  # Django's own way


class ConfirmImplausibleMixin(forms.BaseForm):
    """Collects implausible but possible values; without a confirmation the form is shown again."""

    @property
    def odd(self) -> list[str]:
        """Return sentences about implausible figures in order."""
        return self.__dict__.setdefault("_odd", [])

    def ask_about(self, sentence: str) -> None:
        """Record an implausible figure."""
        self.odd.append(sentence)

    def clean(self) -> dict[str, Any] | None:
        """Refuse odd figures until they are confirmed."""
        super().clean()
        cleaned = self.cleaned_data
        if self.odd and not self.errors and not self.data.get(CONFIRM):
            raise forms.ValidationError(
                [gettext("Please check: {words}.").format(words=words) for words in self.odd],
                code="odd",
            )
        return cleaned

    @property
    def needs_confirmation(self) -> bool:
        """Return whether the only thing wrong is that odd figures are not confirmed."""
        return bool(self.odd) and set(self.errors) == {"__all__"}


class FiniteFloatField(forms.FloatField):
    """A number; "nan" and "inf" are words."""

    default_error_messages = {"invalid": gettext_lazy("Type a number, such as 12 or 7.5.")}

    def to_python(self, value: str | None) -> Any:
        """Return the number; accept a decimal comma and a typographic minus."""
        if isinstance(value, str):
            value = value.replace(",", ".").replace("−", "-")
        number = super().to_python(value)
        if number is not None and not isfinite(number):
            raise forms.ValidationError(self.error_messages["invalid"], code="invalid")
        return number


#: Practice dates lie within these years; dates beyond cause overflow errors.
FIRST_DAY, LAST_DAY = date(2000, 1, 1), date(2199, 12, 31)


class DayField(forms.DateField):
    """A date on which practice is possible."""

    def __init__(self, name: Any, **kwargs: Any) -> None:
        words = gettext("Enter the {name} day like 2026-11-25.").format(name=name)
        usual = [MinValueValidator(FIRST_DAY, words), MaxValueValidator(LAST_DAY, words)]
        errors = {"invalid": words, "required": words}
        super().__init__(validators=usual, error_messages=errors, **kwargs)
