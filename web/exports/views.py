"""Everything a clinician may take out, in open formats."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from functools import partial
from tempfile import SpooledTemporaryFile
from typing import TYPE_CHECKING, Any

from django import forms
from django.http import FileResponse, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.utils import timezone
from django.utils.text import slugify
from django.utils.translation import gettext

from reedcore.formats.audit_csv import AuditRow
from reedcore.formats.table_csv import write_dictionary, write_table
from reedcore.history import file
from reedcore.privacy import LEAST_ALIKE
from web.accounts.access import clinician_only
from web.accounts.second.reauthentication import asked_before_a_file
from web.clients.queries import client_seen_by
from web.ui.forms import DayField

from .archive import write_archive
from .deidentified import audit_rows, shown_of
from .files import CSV, KINDS

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest

#: Larger files are buffered on disk.
IN_MEMORY = 4 << 20
YEAR = timedelta(days=365)


@clinician_only
def client(request: SignedInRequest, pk: int) -> Any:
    """Show the exports of a client."""
    seen = client_seen_by(request.user, pk)
    context = {"client": seen, "tries": seen.trials.count(), "sessions": seen.sessions.count()}
    return render(request, "exports/client.html", context)


@clinician_only
@asked_before_a_file("exports:client")
def tries_csv(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return every try of this client, as CSV."""
    return _record_export(request, pk, "tries")


@clinician_only
@asked_before_a_file("exports:client")
def sessions_csv(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return every session, as CSV."""
    return _record_export(request, pk, "sessions")


@clinician_only
@asked_before_a_file("exports:client")
def programme_csv(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return every version's tasks, as CSV."""
    return _record_export(request, pk, "programme")


@clinician_only
@asked_before_a_file("exports:client")
def practice_json(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return all of it as one JSON file."""
    return _record_export(request, pk, "practice")


@clinician_only
def practice_schema(request: SignedInRequest) -> HttpResponse:
    """Return the JSON Schema of that file."""
    return JsonResponse(file.schema(), json_dumps_params={"indent": 1})


@clinician_only
@asked_before_a_file("exports:client")
def fhir_json(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the same as a FHIR R4B bundle, checked by the library's own models before
    it leaves."""
    return _record_export(request, pk, "fhir")


@clinician_only
@asked_before_a_file("exports:client")
def archive(request: SignedInRequest, pk: int) -> HttpResponseBase | None:
    """Return all of it: every file, the notes as they print, and a page to read."""
    seen = client_seen_by(request.user, pk)
    name = f"{slugify(seen.name) or 'client'}-all-{timezone.localdate():%Y-%m-%d}.zip"
    return _large(partial(write_archive, seen), name, "application/zip")


class DaysForm(forms.Form):
    """Form for a period of days."""

    first = DayField("first")
    last = DayField("last")

    def clean(self) -> Any:
        """Check that the dates are in order."""
        super().clean()
        cleaned = self.cleaned_data
        if cleaned.get("first") and cleaned.get("last") and cleaned["first"] > cleaned["last"]:
            self.add_error("last", gettext("The last day is before the first."))
        return cleaned


@clinician_only
def export_deidentified(request: SignedInRequest) -> HttpResponseBase:
    """Show the de-identified export with a description, or return the file."""
    today = timezone.localdate()
    is_submitted = "first" in request.GET
    form = DaysForm(
        request.GET if is_submitted else None, initial={"first": today - YEAR, "last": today}
    )
    preview = None
    if not is_submitted or form.is_valid():
        days = form.cleaned_data if is_submitted else {"first": today - YEAR, "last": today}
        preview = shown_of(request.user.clinic, **days)
    if preview is None or not is_submitted or not preview.shown:
        context = {"form": form, "told": preview, "least": LEAST_ALIKE}
        return render(
            request, "exports/without_names.html", context, status=400 if is_submitted else 200
        )
    rows = audit_rows(request.user.clinic, **form.cleaned_data)
    lines = (line.encode() for line in write_table(AuditRow, rows))
    return _large(lambda kept: kept.writelines(lines), "practice-without-names.csv", CSV)


def _large(write: Callable[..., Any], name: str, content_type: str) -> HttpResponseBase:
    """Return a file that is written piece by piece, and may lie on the disk until it has
    gone out."""
    kept = SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115 – the answer closes it
    write(kept)
    kept.seek(0)
    return FileResponse(kept, as_attachment=True, filename=name, content_type=content_type)


@clinician_only
def without_names_columns(request: SignedInRequest) -> HttpResponse:
    """Show the columns of each table."""
    return HttpResponse(
        "".join(write_dictionary(AuditRow)),
        content_type=CSV,
        headers={
            "Content-Disposition": 'attachment; filename="practice-without-names-columns.csv"'
        },
    )


def _record_export(request: SignedInRequest, pk: int, which: str) -> HttpResponse:
    seen, kind = client_seen_by(request.user, pk), KINDS[which]
    name = f"{slugify(seen.name) or 'client'}-{which}-{timezone.localdate():%Y-%m-%d}"
    ending = kind.name.rpartition(".")[2]
    return HttpResponse(
        "".join(kind.text(seen)),
        content_type=kind.content_type,
        headers={"Content-Disposition": f'attachment; filename="{name}.{ending}"'},
    )
