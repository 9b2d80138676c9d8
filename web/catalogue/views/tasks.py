"""The catalogue as it is read, hidden in part, and added to."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import yaml
from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.schema import FAMILIES
from reedcore.catalogue.settings import shipped_ladders
from reedcore.catalogue.tasks import BadTask, shipped_tasks, task_from, written_tasks
from reedcore.devices.back_pressure import BackPressure
from web.accounts.access import clinician_only, looking
from web.catalogue.wording import families
from web.clients.wording import PROPS
from web.screening.wording import HAZARDS
from web.ui.request_body import Unreadable, read_yaml

from ..models import HiddenTask, OwnTask
from ..plain_form import PlainTaskForm
from ..queries import all_tasks
from ..wording import number_name

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest

EXAMPLE = """code: lamp_call
name: Call to the lamp
purpose: A strong, easy call on two notes.
client:
  - Call “hoy” to the lighthouse.
  - Two notes, the second lower.
measure: reps
sound: hoy
parameters: {reps: {unit: times, default: 5, from: 1, to: 12}}
hazards: [loud]
"""


class OwnTaskForm(forms.Form):
    """Write a task in the format of the data files."""

    family = forms.ChoiceField(label=gettext_lazy("Family"), choices=families)
    text = forms.CharField(
        label=gettext_lazy("The task"), max_length=6000, initial=EXAMPLE,
        widget=forms.Textarea(attrs={"rows": 14, "spellcheck": "false"}),
    )  # fmt: skip

    def clean(self) -> dict[str, Any] | None:
        """Return the task, or the first error."""
        super().clean()
        cleaned = self.cleaned_data
        if self.errors:
            return cleaned
        try:
            data = read_yaml(cleaned["text"])
            if not isinstance(data, dict):
                raise BadTask(gettext("the text is not a list of “name: value” lines"))
            cleaned["task"] = task_from(data, family=cleaned["family"], own=True)
            cleaned["data"] = data
        except yaml.YAMLError as error:
            place = getattr(error, "problem_mark", None)
            words = (
                gettext("Line {line} cannot be read. Check colons and quotes.")
                if place
                else gettext("The text cannot be read. Check colons and quotes.")
            )
            line = place.line + 1 if place else None
            raise forms.ValidationError(words.format(line=line)) from error
        except Unreadable as error:
            raise forms.ValidationError(
                gettext("The task cannot be saved: it contains {error}.").format(error=error)
            ) from error
        except BadTask as error:
            raise forms.ValidationError(
                gettext("This task is not valid: {error}").format(error=error)
            ) from error
        if cleaned["task"].code in shipped_tasks():
            raise forms.ValidationError(
                gettext("A built-in task already uses this code. Choose another.")
            )
        ladder = cleaned["task"].ladder
        if ladder and ladder not in shipped_ladders():
            raise forms.ValidationError(gettext("Unknown ladder “{ladder}”.").format(ladder=ladder))
        return cleaned


@looking
def catalogue(request: SignedInRequest) -> HttpResponse:
    """Return every task by family, with all that is known of it."""
    return _page(request)


def _page(
    request: SignedInRequest,
    form: OwnTaskForm | None = None,
    plain: PlainTaskForm | None = None,
    status: int = 200,
) -> HttpResponse:
    clinic = request.user.clinic
    hidden = set(clinic.hidden_tasks.values_list("code", flat=True))
    known = written_tasks()
    tasks = [each for each in all_tasks(clinic).values() if each.own or each.code in known]
    families = [
        {
            "name": name,
            "tasks": [
                {
                    "task": task,
                    "hidden": task.code in hidden,
                    "hazards": [HAZARDS[hazard] for hazard in sorted(task.hazards)],
                    "props": [PROPS.get(prop, prop) for prop in task.props],
                    "numbers": [
                        (number_name(name), value) for name, value in task.parameters.items()
                    ],
                    "ladder": shipped_ladders().get(task.ladder),
                }
                for task in tasks
                if task.family == family
            ],
        }
        for family, name in FAMILIES.items()
    ]
    context = {
        "families": families,
        "form": form or OwnTaskForm(),
        "plain": plain or PlainTaskForm(),
        "count": len(tasks),
        "shapes": shapes().values(),
        "sounds": [(each, BackPressure(each.cmh2o).about) for each in sounds().values()],
    }
    return render(request, "catalogue/all.html", context, status=status)


@clinician_only
@require_POST
def add_own(request: SignedInRequest) -> HttpResponse:
    """Return a task of the clinic's own."""
    form = OwnTaskForm(request.POST)
    taken = gettext("Your clinic already has a task with this code. Choose another.")
    if form.is_valid() and _try_to_add(request, form, taken):
        return redirect("catalogue:all")
    return _page(request, form)


@clinician_only
@require_POST
def add_plain(request: SignedInRequest) -> HttpResponse:
    """Return the same, from plain questions."""
    form = PlainTaskForm(request.POST)
    taken = gettext("Your clinic already has a task with this name. Choose another.")
    if form.is_valid() and _try_to_add(request, form, taken):
        return redirect("catalogue:all")
    return _page(request, plain=form)


def _try_to_add(request: SignedInRequest, form: OwnTaskForm | PlainTaskForm, taken: str) -> bool:
    """Return whether the form's task is in the catalogue now; else the form says why not."""
    task = form.cleaned_data["task"]
    try:
        with transaction.atomic():
            OwnTask.objects.create(
                clinic=request.user.clinic, code=task.code, family=task.family,
                data=form.cleaned_data["data"],
            )  # fmt: skip
    except IntegrityError:
        form.add_error(None, taken)
        return False
    messages.success(
        request, gettext("“{name}” was added to your clinic’s catalogue.").format(name=task.name)
    )
    return True


@clinician_only
@require_POST
def hide(request: SignedInRequest, code: str) -> HttpResponse:
    """Hide a shipped task in this clinic, or show it again; existing programmes keep it."""
    clinic = request.user.clinic
    if "offer" in request.POST:
        HiddenTask.objects.filter(clinic=clinic, code=code).delete()
    elif code in shipped_tasks():
        HiddenTask.objects.get_or_create(clinic=clinic, code=code)
    return redirect("catalogue:all")
