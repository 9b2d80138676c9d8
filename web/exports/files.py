"""The files of one client, each made in one place: the page offers them, the archive holds all."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from django.utils import timezone

from reedcore.formats.client_csv import ProgrammeRow, SessionRow
from reedcore.formats.fhir import bundle_of
from reedcore.formats.table_csv import write_table
from reedcore.formats.trials_csv import TrialRow
from reedcore.history import file
from web.clients.models import Client
from web.ui.marked import Words, gettext_noop

from . import rows
from .whole import whole_file

CSV = "text/csv; charset=utf-8"


@dataclass(frozen=True)
class ExportFile:
    """A file of an export: its name without the client's, its description, and its text."""

    name: str
    content_type: str
    about: str
    text: Callable[[Client], Iterable[str]]


def _tries(client: Client) -> Iterator[Any]:
    return write_table(TrialRow, rows.trial_rows(client))


def _sessions(client: Client) -> Iterator[Any]:
    return write_table(SessionRow, rows.session_rows(client))


def _programme(client: Client) -> Iterator[Any]:
    return write_table(ProgrammeRow, rows.programme_rows(client))


def _practice(client: Client) -> list[str]:
    return [file.write_practice_file(whole_file(client)).decode()]


def _fhir(client: Client) -> list[str]:
    # Import late: it loads hundreds of models that only this file needs.
    from fhir.resources.R4B.bundle import Bundle

    bundle = bundle_of(
        rows.person_of(client),
        rows.plan_of(client),
        rows.trial_rows(client),
        written_at=timezone.localtime(),
    )
    return [Bundle.model_validate(bundle).model_dump_json(indent=1)]


KINDS = Words(
    {
        "tries": ExportFile("tries.csv", CSV, gettext_noop("every trial, one row each"), _tries),
        "sessions": ExportFile(
            "sessions.csv",
            CSV,
            gettext_noop("every session, with effort, strain and comments"),
            _sessions,
        ),
        "programme": ExportFile(
            "programme.csv",
            CSV,
            gettext_noop("every version’s tasks, targets and dose"),
            _programme,
        ),
        "practice": ExportFile(
            "practice.json",
            "application/json",
            gettext_noop(
                "record, screenings, baselines, targets, programmes, sessions, trials, "
                "answers, stops, "
                "decisions and notes"
            ),
            _practice,
        ),
        "fhir": ExportFile(
            "fhir.json",
            "application/fhir+json",
            gettext_noop("the same as a FHIR R4B bundle"),
            _fhir,
        ),
    }
)
