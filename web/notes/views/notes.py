"""Notes and reports."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from functools import partial
from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.text import slugify
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from web.accounts.access import clinician_only, looking
from web.accounts.requests import mark_not_taken
from web.accounts.second.reauthentication import asked_before_a_file
from web.clients.queries import client_seen_by
from web.ui.forms import DayField
from web.ui.pdf import pdf_of

from .. import actions
from ..models import ClinicalNote
from ..wording import PARTS

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client

#: Default period of each kind of note.
USUAL = {
    ClinicalNote.Kind.SESSION: timedelta(0),
    ClinicalNote.Kind.PROGRESS: timedelta(weeks=8),
    ClinicalNote.Kind.DISCHARGE: timedelta(weeks=52),
    ClinicalNote.Kind.SPECIALIST: timedelta(weeks=3),
}
SESSIONS_OFFERED = 12
LONGEST_PART = 20_000
MEANWHILE = gettext_lazy(
    "Another person saved this note while you were editing. Nothing of yours was lost: your "
    "version is in the fields, theirs is below each. Compare them and save again."
)
#: Inline styles: the page's stylesheet does not apply to a drawing in a PDF.
CHART_STYLE = (
    "<style>.water{fill:#dbe8e4}.surface{stroke:#5e9494;stroke-width:3;fill:none}"
    ".stem{fill:none;stroke:#4d6463;stroke-width:2.4}.stem-met{stroke:#1f7a4d}"
    ".stem-not_judged{stroke-dasharray:5 5}.ground,.tick{stroke:#16302f;stroke-width:1.5}"
    ".band{stroke:#4d6463;stroke-dasharray:2 5}.version{stroke:#d5cfbf}.reach{fill:none}"
    "text{font-size:15px;fill:#4d6463}</style>"
)


class NewForm(forms.Form):
    """Form that begins a note: its kind and period."""

    kind = forms.ChoiceField(choices=ClinicalNote.Kind.choices)
    session = forms.UUIDField(required=False)
    first = DayField("first", required=False)
    last = DayField("last", required=False)


@looking
def notes(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the notes and the form for new ones."""
    seen = client_seen_by(request.user, pk)
    return render(request, "notes/notes.html", _list(seen, NewForm()))


def _list(client: Client, form: NewForm) -> dict[str, Any]:
    today = timezone.now().astimezone(client.zone).date()
    first = client.sessions.order_by("begun_at").first()
    since = first.begun_at.astimezone(client.zone).date() if first else today
    return {
        "client": client,
        "notes": client.notes.select_related("made_by", "signed_by"),
        "sessions": client.sessions.order_by("-begun_at")[:SESSIONS_OFFERED],
        "form": form,
        "kinds": [
            {
                "code": kind.value,
                "name": kind.label,
                "first": max(since, today - USUAL[kind]),
                "last": today,
            }
            for kind in ClinicalNote.Kind
        ],
    }


@clinician_only
@require_POST
def new(request: SignedInRequest, pk: int) -> HttpResponse:
    """Draft a note."""
    seen = client_seen_by(request.user, pk)
    form = NewForm(request.POST)
    requested = _requested_note(seen, form) if form.is_valid() else None
    if requested is None:
        return render(request, "notes/notes.html", _list(seen, form), status=400)
    note = actions.begin_note(seen, by=request.user, **requested)
    return redirect("notes:note", pk=pk, note=note.pk)


def _requested_note(client: Client, form: NewForm) -> dict[str, Any] | None:
    """Return the requested note; None if it is not possible, with an error on the form."""
    cleaned = form.cleaned_data
    kind = ClinicalNote.Kind(cleaned["kind"])
    today = timezone.now().astimezone(client.zone).date()
    if kind is ClinicalNote.Kind.SESSION:
        session = (
            client.sessions.filter(pk=cleaned["session"]).first() if cleaned["session"] else None
        )
        if session is None:
            form.add_error("session", gettext("Choose a session for the note."))
            return None
        day = session.begun_at.astimezone(client.zone).date()
        return {"kind": kind, "session": session, "first": day, "last": day}
    last = min(cleaned["last"] or today, today)
    first = cleaned["first"] or last - USUAL[kind]
    if first > last:
        form.add_error("last", gettext("The first day is after the last day or in the future."))
        return None
    return {"kind": kind, "first": first, "last": last}


@looking
def note(request: SignedInRequest, pk: int, note: int) -> HttpResponse:
    """Show a note: a draft to edit, a signed note to read."""
    seen, found = _find_note(request, pk, note)
    if request.method == "POST":
        return _save_or_show(request, seen, found, actions.save_note, "Saved.")
    return render(request, "notes/note.html", _context(seen, found, found.words))


@clinician_only
@require_POST
def sign(request: SignedInRequest, pk: int, note: int) -> HttpResponse:
    """Sign the note as shown, saved or not."""
    seen, found = _find_note(request, pk, note)
    typed = _typed_words(request, found)
    author = found.made_by
    if author != request.user and author.is_active:
        name = author.get_full_name() or author.username
        return _show_again(
            request,
            seen,
            found,
            typed,
            gettext("Only {name}, the author, can sign this note.").format(name=name),
        )
    if request.POST.get("read") != "yes":
        return _show_again(
            request, seen, found, typed,
            gettext("Confirm that you have read the note. A signed note cannot be changed."),
        )  # fmt: skip
    if not any(words.strip() for words in typed.values()):
        return _show_again(
            request, seen, found, typed, gettext("The note is empty and cannot be signed.")
        )
    signing = partial(actions.sign_note, by=request.user)
    return _save_or_show(
        request, seen, found, signing, gettext("Note signed. You can add an addendum.")
    )


def _save_or_show(
    request: SignedInRequest,
    client: Client,
    note: ClinicalNote,
    keeping: Callable[..., Any],
    done: str,
) -> HttpResponse:
    """Save the input, or show it again with the error."""
    typed = _typed_words(request, note)
    if any(len(words) > LONGEST_PART for words in typed.values()):
        return _show_again(request, client, note, typed, _too_long_message())
    try:
        keeping(note, words=typed, edition=_edition(request))
    except actions.NoteIsSigned:
        messages.error(
            request,
            gettext("The note has been signed and cannot be changed. Add an addendum instead."),
        )
        mark_not_taken(request)
    except actions.ChangedMeanwhile:
        note.refresh_from_db()
        return _show_again(request, client, note, typed, str(MEANWHILE), theirs=note.words)
    else:
        messages.success(request, done)
    return redirect("notes:note", pk=client.pk, note=note.pk)


def _show_again(
    request: SignedInRequest,
    client: Client,
    note: ClinicalNote,
    typed: dict[str, str],
    words: str,
    *,
    theirs: Any = None,
) -> HttpResponse:
    messages.error(request, words)
    context = _context(client, note, typed, theirs=theirs)
    return render(request, "notes/note.html", context, status=409 if theirs else 400)


def _typed_words(request: SignedInRequest, note: ClinicalNote) -> dict[str, str]:
    return {
        code: request.POST.get(code, note.words.get(code, "")).replace("\x00", "")
        for code, _ in _parts(note)
    }


@clinician_only
@require_POST
def discard(request: SignedInRequest, pk: int, note: int) -> HttpResponse:
    """Discard a draft."""
    _, found = _find_note(request, pk, note)
    try:
        actions.discard_note(found)
    except actions.NoteIsSigned:
        messages.error(request, gettext("A signed note cannot be deleted."))
        return redirect("notes:note", pk=pk, note=note)
    messages.success(request, gettext("Draft deleted."))
    return redirect("notes:notes", pk=pk)


@clinician_only
@require_POST
def add(request: SignedInRequest, pk: int, note: int) -> HttpResponse:
    """Add to a signed note."""
    seen, found = _find_note(request, pk, note)
    words = request.POST.get("words", "").strip().replace("\x00", "")
    if not found.signed_at:
        mark_not_taken(request)
        messages.error(request, gettext("This note is still a draft. Edit it directly."))
    elif len(words) > LONGEST_PART:
        context = {**_context(seen, found, found.words), "addendum": words}
        messages.error(request, _too_long_message())
        return render(request, "notes/note.html", context, status=400)
    elif not words:
        messages.error(request, gettext("Enter the text of the addendum."))
    else:
        actions.add_to_note(found, words=words, by=request.user)
        messages.success(request, "Added.")
    return redirect("notes:note", pk=pk, note=note)


@looking
@asked_before_a_file("notes:note")
def note_pdf(request: SignedInRequest, pk: int, note: int) -> HttpResponse:
    """Return the note as PDF."""
    seen, found = _find_note(request, pk, note)
    name = f"{slugify(seen.name) or 'client'}-{found.kind}-{found.last:%Y-%m-%d}.pdf"
    return HttpResponse(
        pdf_of_note(seen, found),
        content_type="application/pdf",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


def pdf_of_note(client: Client, note: ClinicalNote) -> bytes:
    """Return a note or report on paper."""
    context = _context(client, note, note.words)
    for table in context["figures"]["tables"]:
        table["chart"] = table["chart"].replace(">", f">{CHART_STYLE}", 1)
    return pdf_of(render_to_string("notes/note_print.html", context))


def _find_note(request: SignedInRequest, pk: int, note: int) -> tuple[Client, ClinicalNote]:
    seen = client_seen_by(request.user, pk)
    notes = seen.notes.select_related("session", "made_by", "signed_by")
    found = get_object_or_404(notes, pk=note)
    found.client = seen
    return seen, found


def _parts(note: ClinicalNote) -> tuple[tuple[str, str], ...]:
    return PARTS[ClinicalNote.Kind(note.kind)]


def _edition(request: SignedInRequest) -> int:
    edition = request.POST.get("edition", "")
    return int(edition) if edition.isascii() and edition.isdigit() and len(edition) < 9 else -1


def _context(
    client: Client, note: ClinicalNote, typed: dict[str, Any], *, theirs: Any = None
) -> dict[str, Any]:
    return {
        "client": client,
        "note": note,
        "parts": [
            {
                "code": code,
                "name": name,
                "words": typed.get(code, ""),
                "theirs": theirs.get(code, "") if theirs else "",
            }
            for code, name in _parts(note)
        ],
        "figures": actions.figures_for(note),
        "addenda": note.addenda.select_related("added_by"),
    }


def _too_long_message() -> str:
    return gettext(
        "A section can have at most {count} characters. Nothing was saved. Shorten it and save "
        "again."
    ).format(count=LONGEST_PART)
