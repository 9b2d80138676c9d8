"""The form for a clinic's own task, in plain questions."""

from __future__ import annotations

from typing import Any, NamedTuple

from django import forms
from django.utils.text import slugify
from django.utils.translation import gettext, gettext_lazy

from reedcore.catalogue.tasks import VOICED, BadTask, task_from
from reedcore.safety import Hazard
from web.catalogue.wording import families
from web.screening.wording import HAZARDS
from web.ui.forms import DescribedForm, FiniteFloatField
from web.ui.marked import Words, gettext_noop

#: Not asked: follows from the prescribed figures, or applies to shipped tasks only.
FROM_FIGURES = {Hazard.MAXIMAL_LOUDNESS, Hazard.LONG_BREATH_HOLD, Hazard.UPPER_AIRWAY}


class PlainMeasure(NamedTuple):
    """An activity in plain words, with the kind of task it becomes."""

    words: str
    measure: str
    name: str
    unit: str
    least: float
    most: float
    shape: str = ""


WAYS = Words(
    {
        "hold": PlainMeasure(
            gettext_noop("Hold a sound (seconds)"), "hold", "seconds", "s", 0.5, 120
        ),
        "hiss": PlainMeasure(
            gettext_noop("Hiss or blow (seconds)"), "hiss", "seconds", "s", 1, 120
        ),
        "glide_up": PlainMeasure(
            gettext_noop("Glide up (seconds)"), "glide", "seconds", "s", 1, 30, "up"
        ),
        "glide_down": PlainMeasure(
            gettext_noop("Glide down (seconds)"), "glide", "seconds", "s", 1, 30, "down"
        ),
        "glide_both": PlainMeasure(
            gettext_noop("Glide up and down (seconds)"),
            "glide",
            "seconds",
            "s",
            1,
            30,
            "up_and_down",
        ),
        "lines": PlainMeasure(
            gettext_noop("Say lines (number)"), "script", "lines", "lines", 1, 40
        ),
        "minutes": PlainMeasure(
            gettext_noop("Activity (minutes)"), "timed", "minutes", "min", 0.3, 30
        ),
        "times": PlainMeasure(gettext_noop("Repetitions (number)"), "reps", "reps", "times", 1, 60),
        "count": PlainMeasure(
            gettext_noop("Count (type the number)"),
            "count",
            "count",
            gettext_noop("of them"),
            0,
            1000,
        ),
        "ticks": PlainMeasure(
            gettext_noop("Checklist"), "checklist", "items", gettext_noop("of them"), 1, 20
        ),
    }
)
#: Kinds without measuring in which the voice may sound.
MAYBE_VOICED = ("minutes", "reps")
#: The kind that needs a list.
TICKS = "ticks"
#: Kinds whose trials are repeated on several notes, and the ladders they use.
NOTES = {"hold": 1, "hiss": 0, "glide": 2}
LADDERS = {"hold": "hold_seconds", "hiss": "hiss_seconds", "glide": "glide_breaks"}


class PlainTaskForm(DescribedForm, forms.Form):
    """Answers in plain words, from which an ordinary task is made."""

    name = forms.CharField(label=gettext_lazy("Task name"), max_length=80)
    family = forms.ChoiceField(label=gettext_lazy("Family"), choices=families)
    purpose = forms.CharField(label=gettext_lazy("Purpose"), max_length=120)
    told = forms.CharField(
        label=gettext_lazy("Instructions for the client (up to 3 short lines)"),
        max_length=400,
        widget=forms.Textarea(attrs={"rows": 3}),
    )
    way = forms.ChoiceField(
        label=gettext_lazy("Type of task"),
        choices=lambda: [(code, way.words) for code, way in WAYS.items()],
    )
    amount = FiniteFloatField(label=gettext_lazy("Starting amount"), initial=5)
    tries = forms.IntegerField(
        label=gettext_lazy("Trials per session"), min_value=1, max_value=12, initial=3
    )
    sound = forms.CharField(
        label=gettext_lazy("Sound (leave empty if none)"), max_length=40, required=False
    )
    voiced = forms.BooleanField(label=gettext_lazy("Uses the voice"), required=False, initial=True)
    hazards = forms.MultipleChoiceField(
        label=gettext_lazy("Hazards"),
        choices=lambda: [
            (each.value, HAZARDS[each]) for each in Hazard if each not in FROM_FIGURES
        ],
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    items = forms.CharField(
        label=gettext_lazy("Checklist items (one per line)"), max_length=800, required=False,
        widget=forms.Textarea(attrs={"rows": 3}),
    )  # fmt: skip
    felt = forms.CharField(
        label=gettext_lazy("Felt check question (yes, not sure, no)"),
        max_length=120,
        required=False,
    )
    if_not = forms.CharField(
        label=gettext_lazy("Advice if the answer is no"), max_length=120, required=False
    )
    cautions = forms.CharField(label=gettext_lazy("Caution note"), max_length=200, required=False)

    def clean(self) -> Any:
        """Return the task that the answers make."""
        super().clean()
        cleaned = self.cleaned_data
        if not self.errors:
            self._check(cleaned)
        if self.errors:
            return cleaned
        data = _data(cleaned)
        try:
            cleaned["task"] = task_from(data, family=cleaned["family"], own=True)
        except BadTask as error:
            raise forms.ValidationError(
                gettext("This task is not valid: {error}").format(error=error)
            ) from error
        cleaned["data"] = data
        return cleaned

    def _check(self, cleaned: Any) -> None:
        """Check answers that depend on each other."""
        if not 1 <= len(_lines(cleaned["told"])) <= 3:
            self.add_error("told", gettext("Enter 1 to 3 lines."))
        way = WAYS[cleaned["way"]]
        if not way.least <= cleaned["amount"] <= way.most:
            words = gettext("Enter {least:g} to {most:g} {unit}.").format(
                least=way.least, most=way.most, unit=way.unit
            )
            self.add_error("amount", words)
        if cleaned["way"] == TICKS and not _lines(cleaned["items"]):
            self.add_error("items", gettext("Enter checklist items, one per line."))
        if bool(cleaned["felt"]) != bool(cleaned["if_not"]):
            self.add_error("if_not", gettext("Enter both the felt check question and the advice."))


def _data(cleaned: Any) -> dict[str, Any]:
    """Return the answers as the data of a task."""
    way = WAYS[cleaned["way"]]
    amount = {"unit": way.unit, "default": cleaned["amount"], "from": way.least, "to": way.most}
    parameters = {way.name: amount}
    if way.measure in NOTES:
        parameters["reps"] = {"unit": "times", "default": cleaned["tries"], "from": 1, "to": 12}
    voiced = way.measure in VOICED
    optional = {
        "shape": way.shape,
        "sound": cleaned["sound"],
        "cautions": cleaned["cautions"],
        "items": _lines(cleaned["items"]) if cleaned["way"] == TICKS else [],
        "felt": {"ask": cleaned["felt"], "if_not": cleaned["if_not"]} if cleaned["felt"] else None,
        "ladder": LADDERS.get(way.measure, ""),
        "notes": NOTES.get(way.measure, 0),
    }
    return {
        "code": _code(cleaned["name"]),
        "name": cleaned["name"],
        "purpose": cleaned["purpose"],
        "client": _lines(cleaned["told"]),
        "measure": way.measure,
        "parameters": parameters,
        "hazards": cleaned["hazards"],
        "voiced": voiced or (cleaned["voiced"] and way.name in MAYBE_VOICED),
        **{key: value for key, value in optional.items() if value},
    }


def _lines(text: str) -> list[Any]:
    return [line.strip()[:120] for line in text.splitlines() if line.strip()]


def _code(name: str) -> str:
    """Return a code that no shipped task has."""
    return "own_" + (slugify(name).replace("-", "_")[:34] or "task")
