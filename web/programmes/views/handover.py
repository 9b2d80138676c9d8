"""Handing over: the handout, the calendar, sounds, and the programme as a file."""

from __future__ import annotations

import json
from datetime import UTC
from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.utils.dates import WEEKDAYS
from django.utils.text import slugify
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from reedcore.devices.tone import melody
from reedcore.dose import due_slots, session_time
from reedcore.formats.calendar import DatedProgramme, write_calendars
from reedcore.formats.midi import write_midi
from reedcore.formats.wav import write_wav
from reedcore.measures import kind_of
from reedcore.pitch import Note, Spelling
from reedcore.programme.document import clean_document
from reedcore.programme.document_schema import FORMAT, LARGEST_PROGRAMME, MOST_ITEMS
from reedcore.programme.document_values import programme_from
from reedcore.programme.file_format import document_from_file, file_schema, programme_file
from reedcore.programme.lines import lines_of, marked_text, material_of
from reedcore.programme.plan import plans_of
from reedcore.programme.sounds import line_of, notes_of, rounds_of
from reedcore.programme.strands import strands_of
from reedcore.programme.words import client_lines
from reedcore.safety import avoids_water
from web.accounts.access import clinician_only, looking
from web.accounts.second.reauthentication import asked_before_a_file
from web.catalogue.queries import all_tasks
from web.clients.queries import client_seen_by
from web.clients.wording import IN_THE_MOUTH, PROPS
from web.record.programmes import version_of
from web.screening.wording import caution_advice
from web.ui.pdf import pdf_of
from web.ui.qr import qr_of
from web.ui.request_body import BodyTooLarge, read_json
from web.ui.words import sentence_case

from ..drafting import save_draft
from ..drawings import inline_drawing
from ..presenters import strand_name, target_words
from ..problems import problem_words

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from reedcore.checks.plan import Plan
    from reedcore.programme.programme import Item
    from reedcore.programme.strands import Strand
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client
    from web.record.models import ProgrammeVersion

#: Rows of the paper log: 14 days.
LOG_DAYS = 14
PAPERS = ("a4", "letter")


@looking
def version(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Show one version: its content, and the ways to give it to the client."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    context = {**_handout(request, client, programme), "programme": programme}
    return render(request, "programmes/version.html", context)


@looking
def handout(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Return the handout as it prints."""
    client = client_seen_by(request.user, pk)
    context = _handout(request, client, version_of(client, version))
    context["large"] = request.GET.get("large") == "1"
    return render(request, "programmes/handout_page.html", context)


@looking
@asked_before_a_file("programmes:version")
def handout_pdf(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Return the handout as PDF, in the requested paper and text size."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    paper = request.GET.get("paper", PAPERS[0])
    if paper not in PAPERS:
        raise Http404
    context = _handout(request, client, programme)
    context |= {"paper": paper, "large": request.GET.get("large") == "1"}
    data = pdf_of(render_to_string("programmes/handout.html", context))
    return _file(data, "application/pdf", client, f"programme-{version}.pdf", is_inline=True)


def _handout(
    request: SignedInRequest, client: Client, programme: ProgrammeVersion
) -> dict[str, Any]:
    if not programme.document:
        raise Http404
    tasks = all_tasks(client.clinic)
    prescribed = programme_from(clean_document(programme.document, tasks=tasks)[0])
    spelling = Spelling(client.spelling)
    parts: list[dict[str, Any]] = []
    for strand, plan in plans_of(prescribed, tasks, cautions=client.caution_codes):
        dose = strand.programme.dose
        parts.append(
            {
                "strand": strand,
                "name": sentence_case(strand_name(strand)),
                "dose": dose,
                "days": [day for at, day in WEEKDAYS.items() if at in dose.weekdays],
                "seconds": session_time(each.part for each in plan.items).seconds,
                "items": _items(strand.programme.items, plan, tasks, spelling, prescribed.wording),
            }
        )
    parts = [each for each in parts if each["items"] or not each["strand"].id]
    link = None
    if client.practice_code:
        link = request.build_absolute_uri(reverse("practice:enter", args=[client.practice_code]))
    qr = qr_of(link) if link else ""
    items = [item for each in parts for item in each["items"]]
    places = {each["id"]: at for at, each in enumerate(programme.document["items"], 1)}
    for each in items:
        each["number"] = places[each["item"].id]
    return {
        "client": client,
        "programme": programme,
        "asked": prescribed,
        "parts": parts,
        "advice": caution_advice(client.caution_codes),
        "dry": avoids_water(client.caution_codes),
        "log_rows": [each for each in items if kind_of(each["task"].measure).is_one_breath][:6],
        "log_days": range(1, LOG_DAYS + 1),
        "link": link,
        "qr": qr,
    }


def _items(
    prescribed: tuple[Item, ...],
    plan: Plan,
    tasks: dict[str, Task],
    spelling: Spelling,
    wording: str,
) -> list[dict[str, Any]]:
    """Return the tasks of one programme as they print."""
    items = []
    for item, part in zip(prescribed, plan.items, strict=True):
        task = tasks[item.task]
        items.append(
            {
                "item": item,
                "task": task,
                "notes": " ".join(Note(midi).name(spelling) for midi in notes_of(item, task)),
                "target": target_words(item, task),
                "tries": part.part.tries,
                "props": [PROPS.get(prop, prop) for prop in task.props],
                "told": client_lines(item, task, wording),
                "say": _spoken_lines(item, task),
                "before": item.say_before,
                "rounds": _rounds(item, task, spelling),
                "washed": bool(set(task.props) & IN_THE_MOUTH),
                "drawing": inline_drawing(task.drawing),
                "or": tasks[item.alternative].name if item.alternative in tasks else "",
                "sounds": bool(line_of(item, task)),
            }
        )
    return items


def _spoken_lines(item: Item, task: Task) -> list[Any]:
    """Return the spoken or read lines, each once, with stretched words marked."""
    if kind_of(task.measure).is_by_line:
        lines = lines_of(item, task) if material_of(item, task) else ()
        return list(dict.fromkeys(lines))
    return [marked_text(item, task, text) for text in material_of(item, task)]


def _rounds(item: Item, task: Task, spelling: Spelling) -> list[Any]:
    """Return a pattern's rounds by the note each starts on."""
    return [each.groups[0][0].name(spelling) for each in rounds_of(item, task)]


@looking
@asked_before_a_file("programmes:version")
def calendar(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Return dated sessions with reminders; a newer version updates the same events."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    prescribed = programme.prescribed
    if prescribed is None:
        raise Http404
    tasks = all_tasks(client.clinic)
    older = client.programmes.filter(version=version - 1).first()
    was_asked = older.prescribed if older else None
    before = {each.id: each for each in strands_of(was_asked)} if was_asked else {}
    calendars = []
    for strand, plan in plans_of(prescribed, tasks, cautions=client.caution_codes):
        was = before.pop(strand.id, None)
        if strand.is_dated:
            calendars.append((strand, plan, _dropped_sessions(strand, was, programme)))
    data = write_calendars(
        [
            DatedProgramme(
                slots=tuple(due_slots(strand.programme.dose)),
                uid_space=f"client-{client.pk}{f'-{strand.id}' if strand.id else ''}.still-reed",
                title=gettext("Voice practice: {strand_name}").format(
                    strand_name=strand_name(strand)
                )
                if strand.id
                else gettext("Voice practice"),
                minutes=round(session_time(item.part for item in plan.items).seconds / 60),
                dropped=tuple(dropped),
            )
            for strand, plan, dropped in calendars
        ],
        zone=client.zone,
        sequence=version,
        made_at=programme.published_at.astimezone(UTC),
        words=gettext("Open your practice link. Stop if it hurts."),
    )
    return _file(data, "text/calendar; charset=utf-8", client, f"practice-{version}.ics")


def _dropped_sessions(strand: Strand, was: Strand | None, programme: ProgrammeVersion) -> list[Any]:
    """Return sessions of an older version that this one does not have, since its start."""
    if was is None or not was.is_dated:
        return []
    standing = {(slot.day, slot.number) for slot in due_slots(strand.programme.dose)}
    today = timezone.localdate(programme.published_at)
    return [
        slot
        for slot in due_slots(was.programme.dose)
        if slot.day >= today and (slot.day, slot.number) not in standing
    ]


@looking
def tones_midi(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Return every tone and pattern of the programme as MIDI, one after the other."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    tasks = all_tasks(client.clinic)
    items = programme.prescribed.items if programme.prescribed else ()
    line = [each for item in items for each in line_of(item, tasks[item.task])]
    if not line:
        raise Http404
    data = write_midi(line, beat_s=1.0, title=gettext("Tones and patterns"))
    return _file(data, "audio/midi", client, f"tones-{version}.mid")


@looking
def sound_wav(request: SignedInRequest, pk: int, version: int, number: int) -> HttpResponse:
    """Return an item's sounds as WAV."""
    client = client_seen_by(request.user, pk)
    prescribed = version_of(client, version).prescribed
    items = prescribed.items if prescribed else ()
    if not 1 <= number <= len(items):
        raise Http404
    item = items[number - 1]
    task, a4_hz = all_tasks(client.clinic)[item.task], client.clinic.a4_hz
    line = [(note.hz(a4_hz=a4_hz) if note else None, s) for note, s in line_of(item, task)]
    if not line:
        raise Http404
    return _file(write_wav(melody(line), 44_100), "audio/wav", client, f"{task.code}.wav")


@clinician_only
def as_json(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Return the programme for another clinic, without client data."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    if not programme.document:
        raise Http404
    document = programme_file({**programme.document, "overrules": {}})
    data = json.dumps(document, indent=1, ensure_ascii=False).encode()
    return _file(data, "application/json", client, f"programme-{version}.json")


@looking
def schema(request: SignedInRequest) -> HttpResponse:
    """Return the published JSON Schema of such a file."""
    return JsonResponse(file_schema(), json_dumps_params={"indent": 1})


def _too_large_message() -> str:
    return gettext(
        "This file is too large. A session can have at most {count} items, in 2 MB."
    ).format(count=MOST_ITEMS)


class FileForm(forms.Form):
    """A programme from elsewhere."""

    file = forms.FileField(
        label=gettext_lazy("A programme file"),
        error_messages={"required": gettext_lazy("Choose a file first.")},
    )

    def clean_file(self) -> dict[str, Any] | list[Any] | None:
        """Return its content, not yet believed."""
        upload = self.cleaned_data["file"]
        if upload.size > LARGEST_PROGRAMME:
            raise forms.ValidationError(_too_large_message())
        try:
            return read_json(upload.read(), most_bytes=LARGEST_PROGRAMME)
        except BodyTooLarge as error:
            raise forms.ValidationError(_too_large_message()) from error
        except ValueError as error:
            raise forms.ValidationError(gettext("This file is not valid JSON.")) from error


@clinician_only
def import_file(request: SignedInRequest, pk: int) -> HttpResponse:
    """Preview a file from another clinic after a check; nothing changes until it is accepted."""
    client = client_seen_by(request.user, pk)
    tasks = all_tasks(client.clinic)
    form = FileForm(request.POST or None, request.FILES or None)
    context = {"client": client, "form": form}
    if request.method == "POST" and form.is_valid():
        document, problems = clean_document(
            document_from_file(form.cleaned_data["file"]), tasks=tasks
        )
        items = programme_from(document).items if document else ()
        context |= {
            "previewed": True,
            "problems": [problem_words(each) for each in problems[:200]],
            "more_problems": max(0, len(problems) - 200),
            "lines": [
                (tasks[each.task].name, target_words(each, tasks[each.task])) for each in items
            ],
            "text": json.dumps(document) if items else "",
        }
    return render(request, "programmes/bring_in.html", context)


@clinician_only
@require_POST
def accept_file(request: SignedInRequest, pk: int) -> HttpResponse:
    """Make the previewed file the draft."""
    client = client_seen_by(request.user, pk)
    try:
        sent = read_json(request.POST.get("text", ""), most_bytes=LARGEST_PROGRAMME)
    except ValueError:
        sent = None
    document, problems = clean_document(document_from_file(sent), tasks=all_tasks(client.clinic))
    if problems or not document.get("items"):
        messages.error(request, gettext("Nothing was imported. Choose the file again."))
        return redirect("programmes:bring_in", pk=pk)
    document |= {"format": FORMAT, "overrules": {}}
    save_draft(client, document, by=request.user)
    messages.success(
        request, gettext("The programme is imported as a draft. Check it for this client.")
    )
    return redirect("programmes:compose", pk=pk)


def _file(
    data: bytes, content_type: str, client: Client, name: str, *, is_inline: bool = False
) -> HttpResponse:
    how = "inline" if is_inline else "attachment"
    full = f"{slugify(client.name) or 'client'}-{name}".replace("♯", "sharp")
    return HttpResponse(
        data,
        content_type=content_type,
        headers={"Content-Disposition": f'{how}; filename="{full}"'},
    )
