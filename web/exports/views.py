"""Everything a clinician may take out, in open formats."""

from datetime import timedelta
from tempfile import SpooledTemporaryFile

from django import forms
from django.http import FileResponse, HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils import timezone
from django.utils.text import slugify

from reedcore.formats.audit_csv import AuditRow
from reedcore.formats.client_csv import ProgrammeRow, SessionRow
from reedcore.formats.fhir import bundle_of
from reedcore.formats.table_csv import write_dictionary, write_table
from reedcore.formats.trials_csv import TrialRow
from reedcore.history import file
from reedcore.privacy import LEAST_ALIKE
from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by
from web.ui.forms import DayField

from . import rows as exports
from .whole import whole_file
from .without_names import audit_rows, shown_of

CSV = "text/csv; charset=utf-8"
#: So much of a file is kept in memory before it goes to the disk.
IN_MEMORY = 4 << 20
YEAR = timedelta(days=365)


@clinician_only
def client(request, pk):
    """What there is to take."""
    seen = client_seen_by(request.user, pk)
    context = {"client": seen, "tries": seen.trials.count(), "sessions": seen.sessions.count()}
    return render(request, "exports/client.html", context)


@clinician_only
def tries_csv(request, pk):
    """Every try of this client, as CSV."""
    seen = client_seen_by(request.user, pk)
    return _file(write_table(TrialRow, exports.trial_rows(seen)), CSV, seen, "tries", "csv")


@clinician_only
def sessions_csv(request, pk):
    """Every session, as CSV."""
    seen = client_seen_by(request.user, pk)
    return _file(write_table(SessionRow, exports.session_rows(seen)), CSV, seen, "sessions", "csv")


@clinician_only
def programme_csv(request, pk):
    """Every version's tasks, as CSV."""
    seen = client_seen_by(request.user, pk)
    rows = exports.programme_rows(seen)
    return _file(write_table(ProgrammeRow, rows), CSV, seen, "programme", "csv")


@clinician_only
def practice_json(request, pk):
    """All of it as one JSON file."""
    seen = client_seen_by(request.user, pk)
    text = file.written(whole_file(seen)).decode()
    return _file([text], "application/json", seen, "practice", "json")


@clinician_only
def practice_schema(request):
    """The JSON Schema of that file."""
    return JsonResponse(file.schema(), json_dumps_params={"indent": 1})


@clinician_only
def fhir_json(request, pk):
    """The same as a FHIR R4B bundle, checked by the library's own models before it leaves."""
    # brings hundreds of models along, which only this page needs
    from fhir.resources.R4B.bundle import Bundle

    seen = client_seen_by(request.user, pk)
    bundle = bundle_of(
        exports.person_of(seen),
        exports.plan_of(seen),
        exports.trial_rows(seen),
        written_at=timezone.localtime(),
    )
    text = Bundle.model_validate(bundle).model_dump_json(indent=1)
    return _file([text], "application/fhir+json", seen, "fhir", "json")


class DaysForm(forms.Form):
    """From when to when."""

    first = DayField("first")
    last = DayField("last")

    def clean(self):
        """In their order."""
        said = super().clean()
        if said.get("first") and said.get("last") and said["first"] > said["last"]:
            self.add_error("last", "The last day lies before the first.")
        return said


@clinician_only
def without_names(request):
    """The clinic's practice without names or dates; says what it is before it is taken."""
    today = timezone.localdate()
    asked = "first" in request.GET
    form = DaysForm(request.GET if asked else None, initial={"first": today - YEAR, "last": today})
    told = None
    if not asked or form.is_valid():
        days = form.cleaned_data if asked else {"first": today - YEAR, "last": today}
        told = shown_of(request.user.clinic, **days)
    if told is None or not asked or not told.shown:
        context = {"form": form, "told": told, "least": LEAST_ALIKE}
        return render(request, "exports/without_names.html", context, status=400 if asked else 200)
    rows = audit_rows(request.user.clinic, **form.cleaned_data)
    kept = SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115 – the answer closes it
    for line in write_table(AuditRow, rows):
        kept.write(line.encode())
    kept.seek(0)
    return FileResponse(
        kept, as_attachment=True, filename="practice-without-names.csv", content_type=CSV
    )


@clinician_only
def without_names_columns(request):
    """What each of its columns holds."""
    return HttpResponse(
        "".join(write_dictionary(AuditRow)),
        content_type=CSV,
        headers={
            "Content-Disposition": 'attachment; filename="practice-without-names-columns.csv"'
        },
    )


def _file(lines, content_type, client, what, ending):
    name = f"{slugify(client.name) or 'client'}-{what}-{timezone.localdate():%Y-%m-%d}.{ending}"
    return HttpResponse(
        "".join(lines),
        content_type=content_type,
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )
