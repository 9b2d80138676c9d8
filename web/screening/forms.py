"""The screening questions and the decisions about them, as forms."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.forms.boundfield import BoundField
from django.forms.fields import ChoiceField
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy

from reedcore.safety import ASKED, BY_SAY_SO, SCREENED, Caution, Flag
from web.clients.forms import DateInput
from web.clients.models import SAY_SO

from .wording import CAUTION_QUESTIONS, FLAG_QUESTIONS

if TYPE_CHECKING:
    from web.clients.models import Client

#: Asked after neck surgery or radiotherapy.
HOARSE_SINCE = "hoarse_since_neck_surgery"


#: The key that answers all others with “no” skips the complaint, larynx, surgery and rest: a wrong
#: “no” there would remove a protection.
ONE_BY_ONE = (
    "complaint",
    f"flag_{Flag.HOARSER.value}",
    f"caution_{Caution.VOCAL_FOLD_SURGERY.value}",
    f"caution_{Caution.PRESSURE_ACUTE.value}",
    HOARSE_SINCE,
)


class ScreenForm(forms.Form):
    """Form for the screening; every question needs an answer, because a blank is not a no.

    If a treating clinician may allow it, the form asks for name, date and scope.
    """

    note = forms.CharField(
        required=False,
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 2, "class": "input"}),
    )

    def __init__(self, *args: Any, client: Client, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["complaint"] = _yes_or_no(gettext("Do you have a voice complaint?"))
        self.fields["examined_on"] = forms.DateField(
            label=gettext("When was your larynx last examined?"),
            required=False,
            widget=DateInput(attrs={"class": "input"}),
            help_text=gettext(
                "Leave empty if never or unknown. Not needed for warm-up, performance or "
                "prevention."
            ),
        )
        self.initial = {
            **self.initial, "complaint": client.complaint, "examined_on": client.examined_on,
        }  # fmt: skip
        for flag in SCREENED:
            self.fields[f"flag_{flag.value}"] = _yes_or_no(FLAG_QUESTIONS[flag])
        for caution in ASKED:
            self.fields[f"caution_{caution.value}"] = _yes_or_no(CAUTION_QUESTIONS[caution])
            if caution in client.caution_codes:
                self.initial[f"caution_{caution.value}"] = "yes"
            if caution is Caution.NECK_SURGERY:
                self.fields[HOARSE_SINCE] = _yes_or_no(
                    gettext("Has your voice been hoarse since then?"), is_required=False
                )
            if caution in BY_SAY_SO:
                self._require_permission(caution, client.caution_entries.get(caution.value, {}))
        for name in ONE_BY_ONE:
            self.fields[name].__dict__["one_by_one"] = True

    def _require_permission(self, caution: Caution, entry: Any) -> None:
        labels = {"who": gettext("Allowed by"), "on": "on", "what": gettext("What was allowed")}
        for part, label in labels.items():
            name = f"{part}_{caution.value}"
            field: forms.Field
            if part == "on":
                field = forms.DateField(required=False, widget=DateInput(attrs={"class": "input"}))
            else:
                field = forms.CharField(
                    required=False, max_length=200, widget=forms.TextInput(attrs={"class": "input"})
                )
            field.label = label
            self.fields[name] = field
            self.initial[name] = entry.get(part, "")

    def clean(self) -> Any:
        """Require complete permissions, no dates in the future, and an answer about hoarseness
        after neck surgery."""
        super().clean()
        cleaned, today = self.cleaned_data, timezone.localdate()
        if self._after_neck_surgery(cleaned) and not cleaned.get(HOARSE_SINCE):
            self.add_error(HOARSE_SINCE, gettext("Not answered yet."))
        for caution in BY_SAY_SO:
            names = {part: f"{part}_{caution.value}" for part in SAY_SO}
            if cleaned.get(f"caution_{caution.value}") != "yes":
                continue
            given = [cleaned.get(name) for name in names.values()]
            wrong = set(names.values()) & set(self.errors)
            if any(given) and not all(given) and not wrong:
                missing = next(name for name in names.values() if not cleaned.get(name))
                self.add_error(
                    missing, gettext("Enter who, when and what, or leave all three empty.")
                )
        for name in ("examined_on", *(f"on_{caution.value}" for caution in BY_SAY_SO)):
            if cleaned.get(name) and cleaned[name] > today:
                self.add_error(name, gettext("This date is in the future."))
        return cleaned

    def _bound_questions(self, prefix: str) -> list[BoundField]:
        return [self[name] for name in self.fields if name.startswith(prefix)]

    @property
    def flag_fields(self) -> list[BoundField]:
        """Return the fields of the flags."""
        return self._bound_questions("flag_")

    @property
    def caution_fields(self) -> list[tuple[Any, ...]]:
        """Return each question with its permission fields and its follow-up
        question, if it has them."""
        found = []
        for field in self._bound_questions("caution_"):
            code = field.name.removeprefix("caution_")
            parts = [self[f"{part}_{code}"] for part in SAY_SO if f"{part}_{code}" in self.fields]
            then = self[HOARSE_SINCE] if code == Caution.NECK_SURGERY.value else None
            found.append((field, parts, then))
        return found

    @staticmethod
    def _after_neck_surgery(cleaned: Any) -> bool:
        return cleaned.get(f"caution_{Caution.NECK_SURGERY.value}") == "yes"

    def yes_codes(self, prefix: str) -> list[Any]:
        """Return the codes of the questions that were answered with yes."""
        return [
            name.removeprefix(prefix)
            for name, answer in self.cleaned_data.items()
            if name.startswith(prefix) and answer == "yes"
        ]

    def flags_said(self) -> list[Any]:
        """Return the red flags: hoarseness since neck surgery may be an injured nerve, and
        is one."""
        found = set(self.yes_codes("flag_"))
        if self._after_neck_surgery(self.cleaned_data) and self.cleaned_data[HOARSE_SINCE] == "yes":
            found.add(Flag.HOARSER.value)
        return sorted(found)

    def permissions(self) -> dict[str, Any]:
        """Return the permissions by caution: person, content and date; only for cautions that can
        be permitted."""
        found = {}
        for caution in self.yes_codes("caution_"):
            entry: dict[str, Any] = {
                part: self.cleaned_data.get(f"{part}_{caution}") for part in SAY_SO
            }
            if all(entry.values()):
                found[caution] = {**entry, "on": entry["on"].isoformat()}
        return found


def _yes_or_no(words: str, *, is_required: bool = True) -> ChoiceField:
    return forms.ChoiceField(
        label=words,
        required=is_required,
        choices=[("no", "no"), ("yes", "yes")],
        widget=forms.RadioSelect,
        error_messages={"required": gettext("Not answered yet.")},
    )


class ReasonForm(forms.Form):
    """Form for the reason why practice is safe."""

    because = forms.CharField(
        label=gettext_lazy("Why it is safe to continue"),
        min_length=10,
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 3}),
        error_messages={
            "required": gettext_lazy(
                "Enter why it is safe. The next reader of the record must be able to judge it."
            ),
            "min_length": gettext_lazy(
                "Enter a full sentence. The next reader of the record must be able to judge it."
            ),
        },
    )


class ReferForm(forms.Form):
    """Form for a referral."""

    to = forms.CharField(
        label=gettext_lazy("Refer to"),
        max_length=160,
        error_messages={"required": gettext_lazy("Enter the specialist.")},
    )
