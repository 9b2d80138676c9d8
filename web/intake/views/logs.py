"""Logs from elsewhere: a grid for paper, a table with its columns named, recordings in a folder."""

from __future__ import annotations

import uuid
from datetime import date
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django import forms
from django.contrib import messages
from django.http import HttpResponse, JsonResponse, QueryDict
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from reedcore.errors import Refusal
from reedcore.formats.log_csv import FIELDS, guess_columns, read_log, read_table
from reedcore.formats.wav import read_wav
from reedcore.measures import kind_of
from web.accounts.access import assisting
from web.accounts.requests import SignedInRequest
from web.clients.queries import client_seen_by
from web.practice.result_words import result_sentence
from web.practice.wording import UNREAD, title_of
from web.record.models import Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import current_programme, note_name
from web.sound.consumers import KeyTaken
from web.sound.uploads import TakeFileForm
from web.ui.dates import month_day
from web.ui.times import EARLIEST
from web.ui.wording import sentence

from ..actions import BY_HAND_S, record_file, record_log

if TYPE_CHECKING:
    from reedcore.formats.log_csv import Table
    from web.clients.models import Client
    from web.record.models import PrescribedTask

COLUMNS = 6
_LARGEST_TABLE = 400_000


def _timed_tasks(client: Client) -> list[tuple[PrescribedTask, str]]:
    """Return the tasks of the programme in force that are timed in seconds, each with its
    title."""
    programme = current_programme(client)
    if programme is None:
        return []
    found = []
    for task in programme.tasks.all():
        if kind_of(task.measure).is_in_seconds:
            task.programme = programme
            found.append((task, title_of(PrescribedRow(task), note=note_name(task))))
    return found


@assisting
def paper(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return a paper log, typed in: rows are tasks, columns tries, one day a page."""
    client = client_seen_by(request.user, pk)
    tasks = _timed_tasks(client)
    typed_day = request.POST.get("day")
    day = _day(typed_day) or timezone.localdate()
    rows, problems = _grid(request.POST, tasks)
    if typed_day and not _day(typed_day):
        problems.append(_day_problem(typed_day))
    if request.method == "POST" and not problems:
        logged = [
            (day, row["task"], value, row["effort_value"] if place == 0 else None)
            for row in rows
            for place, value in enumerate(row["values"])
        ]
        key = _uuid(request.POST.get("key"))
        if not logged or key is None:
            problems = [gettext("Nothing was entered. Type the seconds of at least one trial.")]
        else:
            kept = record_log(client, key=key, rows=logged, by=request.user)
            messages.success(
                request,
                gettext("{kept} trials of {day} saved, marked as from paper.").format(
                    kept=kept, day=month_day(day)
                ),
            )
            return redirect("intake:paper", pk=pk)
    context = {
        "client": client, "rows": rows, "problems": problems, "day": day,
        "columns": range(1, COLUMNS + 1),
        "key": request.POST.get("key") or uuid.uuid4(),
        "heard": [(task.pk, title) for task, title in tasks],
        "not_taken": client.not_taken.all()[:20],
    }  # fmt: skip
    return render(request, "intake/logs.html", context, status=422 if problems else 200)


def _grid(posted: QueryDict, tasks: list[tuple[PrescribedTask, str]]) -> tuple[Any, ...]:
    rows, problems = [], []
    for task, title in tasks:
        cells, values = [], []
        for place in range(COLUMNS):
            text = posted.get(f"cell-{task.pk}-{place}", "").strip()
            value = _seconds(text)
            if text and value is None:
                problems.append(
                    gettext("{title}, trial {place}: “{value}” is not a valid time.").format(
                        title=title, place=place + 1, value=text[:20]
                    )
                )
            elif value is not None:
                values.append(value)
            cells.append(
                {
                    "name": gettext("cell-{pk}-{place}").format(pk=task.pk, place=place),
                    "text": text,
                    "bad": bool(text) and value is None,
                }
            )
        effort_text = posted.get(f"effort-{task.pk}", "").strip()
        effort = (
            int(effort_text) if effort_text.isdecimal() and 1 <= int(effort_text) <= 10 else None
        )
        if effort_text and effort is None:
            problems.append(
                gettext("{title}: effort must be a number from 1 to 10, not “{value}”.").format(
                    title=title, value=effort_text[:20]
                )
            )
        rows.append({"task": task, "title": title, "cells": cells, "values": values,
                     "effort": effort_text, "effort_value": effort})  # fmt: skip
    return rows, problems


class TableForm(forms.Form):
    """A log as CSV, pasted back by the page once it was read."""

    file = forms.FileField(required=False)
    text = forms.CharField(required=False, max_length=_LARGEST_TABLE, widget=forms.HiddenInput)

    def clean(self) -> dict[str, Any] | None:
        """Return the text of the file, detecting its encoding."""
        super().clean()
        cleaned = self.cleaned_data
        upload = cleaned.get("file")
        if upload:
            if upload.size > _LARGEST_TABLE:
                raise forms.ValidationError(
                    gettext("This file is too large for a log. Import a smaller part.")
                )
            data = upload.read()
            try:
                cleaned["text"] = data.decode("utf-8-sig")
            except UnicodeDecodeError:
                cleaned["text"] = data.decode("cp1252", errors="replace")
        if not cleaned.get("text", "").strip():
            raise forms.ValidationError(gettext("Choose a CSV file first."))
        cleaned["text"] = cleaned["text"].replace("\x00", "")
        return cleaned


@assisting
def table(request: SignedInRequest, pk: int) -> HttpResponse:
    """Import a log from a table: choose, name the columns, preview, accept. Nothing is stored
    before the last step."""
    client = client_seen_by(request.user, pk)
    tasks = _timed_tasks(client)
    context = {"client": client, "tasks": [(task.pk, title) for task, title in tasks]}
    if request.method != "POST":
        return render(request, "intake/table.html", {**context, "form": TableForm()})
    form = TableForm(request.POST, request.FILES)
    if not form.is_valid():
        return render(request, "intake/table.html", {**context, "form": form}, status=422)
    try:
        read = read_table(form.cleaned_data["text"])
    except Refusal as refusal:
        form.add_error(None, sentence(refusal))
        return render(request, "intake/table.html", {**context, "form": form}, status=422)
    places = _places(request.POST, read)
    preview = _preview(request.POST, read, places, tasks)
    key = _uuid(request.POST.get("key")) or uuid.uuid4()
    if "accept" in request.POST and preview["ready"]:
        kept = record_log(
            client, key=key, rows=preview["ready"], by=request.user, source=Trial.Source.TABLE
        )
        messages.success(request, gettext("{kept} trials imported.").format(kept=kept))
        return redirect("results:client", pk=pk)
    context |= {
        "form": form, "text": form.cleaned_data["text"], "columns": list(enumerate(read.columns)),
        "places": [(field, places.get(field)) for field in FIELDS], "preview": preview, "key": key,
    }  # fmt: skip
    return render(request, "intake/table.html", context)


def _places(posted: QueryDict, read: Table) -> dict[str, Any]:
    """Return the mapping that the page sent, else the one that the names suggest."""
    if "day" not in posted:
        return guess_columns(read.columns)
    last = len(read.columns) - 1
    return {
        field: int(place)
        for field in FIELDS
        if (place := str(posted.get(field, ""))).isdecimal() and int(place) <= last
    }


def _preview(
    posted: QueryDict, read: Table, places: dict[str, Any], tasks: list[tuple[PrescribedTask, str]]
) -> dict[str, Any]:
    missing = [field for field in ("day", "task", "seconds") if field not in places]
    if missing:
        return {"missing": missing, "ready": [], "unread": [], "names": [], "lines": []}
    read_rows, bad = read_log(read, places)
    good = [each for each in read_rows if _is_possible_day(each.day)]
    impossible = [
        UNREAD["day"].format(line=each.line, text=each.day.isoformat())
        for each in read_rows
        if not _is_possible_day(each.day)
    ]
    by_pk = {str(task.pk): task for task, _ in tasks}
    titles = {title.lower(): task for task, title in tasks}
    chosen = {}
    names = []
    for place, name in enumerate(dict.fromkeys(each.task for each in good)):
        column = posted.get(f"name-{place}")
        task = by_pk.get(column) if column is not None else titles.get(name.lower())
        if task is None and column is None and len(tasks) == 1:
            task = tasks[0][0]
        chosen[name] = task
        names.append((place, name, task.pk if task else None))
    ready = [
        (each.day, chosen[each.task], each.seconds, each.effort)
        for each in good
        if chosen[each.task] is not None
    ]
    unread = [UNREAD[each.field].format(line=each.line, text=each.text[:40]) for each in bad]
    unread += impossible
    return {"missing": [], "ready": ready, "unread": unread, "names": names, "lines": good[:12],
            "count": len(ready)}  # fmt: skip


@assisting
@require_POST
def recordings(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return one recording of a folder, measured; the page sends them one after another."""
    client = client_seen_by(request.user, pk)
    task = next(
        (task for task, _ in _timed_tasks(client) if str(task.pk) == request.POST.get("task")), None
    )
    day, form = _day(request.POST.get("day")), TakeFileForm(request.POST, request.FILES)
    if task is None or not kind_of(task.measure).is_heard or day is None:
        return JsonResponse({"sentence": gettext("Choose the task and a past day.")}, status=422)
    if not form.is_valid():
        return JsonResponse({"sentence": next(iter(form.errors.values()))[0]}, status=422)
    try:
        wav = read_wav(form.cleaned_data["recording"].read())
        trial = record_file(
            client, task, key=form.cleaned_data["key"], day=day, by=request.user, wav=wav
        )
    except Refusal as refusal:
        return JsonResponse({"sentence": sentence(refusal)}, status=422)
    except KeyTaken:
        return JsonResponse(
            {"sentence": gettext("This file was already measured for another task.")}, status=422
        )
    return JsonResponse({"sentence": result_sentence(trial, note_name=note_name(task))})


def _seconds(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if BY_HAND_S[0] <= value <= BY_HAND_S[1] else None


def _day(text: str | None) -> date | None:
    try:
        day = date.fromisoformat(text or "")
    except ValueError:
        return None
    return day if _is_possible_day(day) else None


def _day_problem(text: str) -> str:
    try:
        to_come = date.fromisoformat(text) > timezone.localdate()
    except ValueError:
        to_come = False
    if to_come:
        return gettext("This day is in the future.")
    return gettext("“{value}” is not a valid practice day.").format(value=text[:20])


def _is_possible_day(day: date) -> bool:
    """Return whether something can have been practised on a day."""
    return EARLIEST.date() <= day <= timezone.localdate()


def _uuid(text: str | None) -> UUID | None:
    try:
        return uuid.UUID(text or "")
    except ValueError:
        return None
