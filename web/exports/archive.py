"""A whole client as one archive: a page to read, and every file that there is."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterable, Iterator
from math import isfinite
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.formats.archive_csv import ChangeRow, TraceRow
from reedcore.formats.table_csv import write_table
from reedcore.formats.trace import STEP_S, unpack_trace
from reedcore.history import file
from web.clients.caution_lines import cautions_of
from web.clients.models import Client
from web.notes.views.notes import pdf_of_note
from web.record.changes import Change, changes_of_record
from web.record.models import Trace
from web.screening.wording import FLAG_NAMES
from web.ui.dates import full_day, month_day

from .files import KINDS

if TYPE_CHECKING:
    from web.notes.models import ClinicalNote

_STYLE = Path(__file__).parent / "archive.css"


def write_archive(client: Client, into: IO[bytes]) -> None:
    """Write the archive as a ZIP file with an index of its contents."""
    listed = []
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED) as made:

        def put(name: Any, about: Any, text: Any) -> None:
            made.writestr(name, text)
            listed.append((name, about))

        for kind in KINDS.values():
            put(kind.name, kind.about, "".join(kind.text(client)))
        schema = json.dumps(file.schema(), indent=1)
        put("practice.schema.json", gettext("what practice.json holds, as a JSON Schema"), schema)
        for name, about, row, found in (
            (
                "record-changes",
                gettext("each change of the record, its screens and targets, before and after"),
                ChangeRow,
                _record_rows,
            ),
            ("traces", gettext("pitch and level over time of each trial"), TraceRow, _traces),
        ):
            put(f"{name}.csv", about, "".join(write_table(row, found(client))))
        for number, note in enumerate(_notes(client), start=1):
            state = "signed" if note.signed_at else "draft"
            name = f"notes/{number:02}-{note.kind}-{note.last:%Y-%m-%d}-{state}.pdf"
            about = gettext("{kind}, {first} to {last}, {state}").format(
                kind=note.get_kind_display(),
                first=month_day(note.first),
                last=full_day(note.last),
                state=state,
            )
            put(name, about, pdf_of_note(client, note))
        made.writestr("archive.css", _STYLE.read_text())
        made.writestr("index.html", _index(client, listed))


def _notes(client: Client) -> Iterator[ClinicalNote]:
    notes = client.notes.select_related("session", "made_by", "signed_by").order_by("first", "pk")
    for note in notes:
        note.client = client
        yield note


def _record_rows(client: Client) -> Iterator[ChangeRow]:
    return change_rows(changes_of_record(client), gettext("the record was created"))


def change_rows(changes: Iterable[Change], begun: str) -> Iterator[ChangeRow]:
    """Yield each field that changed, of a record, or of a clinic's settings or people."""
    for change in changes:
        nothing = [(begun if change.is_beginning else "", "", "")]
        for what, before, after in change.lines or nothing:
            yield ChangeRow(
                change.at.isoformat(timespec="seconds"),
                change.by,
                change.reason,
                ": ".join(filter(None, (change.what, what))),
                before,
                after,
            )


def _traces(client: Client) -> Iterator[TraceRow]:
    kept = Trace.objects.filter(trial__client=client).order_by("trial__performed_at", "pk")
    for trace in kept.iterator(chunk_size=200):
        values = unpack_trace(bytes(trace.packed))
        pairs = zip(values.cents.tolist(), values.level_dbfs.tolist(), strict=True)
        for at, pair in enumerate(pairs):
            cents, level = (value if isfinite(value) else None for value in pair)
            yield TraceRow(str(trace.trial_id), round(at * STEP_S, 2), cents, level)


def _index(client: Client, listed: list[tuple[str, str]]) -> str:
    stops = client.stops.order_by("-said_at")
    return render_to_string(
        "exports/archive.html",
        {
            "client": client,
            "made_at": timezone.localtime(timezone.now(), client.zone),
            "listed": listed,
            "cautions": cautions_of(client),
            "programmes": client.programmes.order_by("-version"),
            "sessions": client.sessions.count(),
            "tries": client.trials.count(),
            "stops": [
                (stop, ", ".join(FLAG_NAMES.get(flag, flag) for flag in stop.flags))
                for stop in stops
            ],
            "changes": changes_of_record(client),
        },
    )
