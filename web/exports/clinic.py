"""A whole clinic as a folder of open files: an archive per client, and the clinic's own data."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.forms.models import model_to_dict
from django.utils.text import slugify

from reedcore.formats.archive_csv import ChangeRow
from reedcore.formats.table_csv import write_table
from web.accounts.access_log import access_log_entries
from web.accounts.models import Clinic, User
from web.clinic.access_log_file import AccessLogRow, access_log_rows
from web.record.changes import changes_of, changes_of_people

from .archive import change_rows, write_archive


def write_clinic(clinic: Clinic, folder: Path) -> Iterator[Path]:
    """Write all of it into an empty folder, and report each file as it is there.

    Raises:
        FileExistsError: something is in the folder.
    """
    folder.mkdir(parents=True, exist_ok=True)
    if any(folder.iterdir()):
        raise FileExistsError(folder)
    for part in ("clients", "pictures"):
        (folder / part).mkdir()
    names = dict(clinic.clients.values_list("pk", "name"))
    tables = {
        "settings-changes.csv": write_table(
            ChangeRow, change_rows(changes_of(clinic), "the clinic was created")
        ),
        "people-changes.csv": write_table(
            ChangeRow, change_rows(changes_of_people(clinic), "came to the clinic")
        ),
        "access-log.csv": write_table(
            AccessLogRow, access_log_rows(access_log_entries(clinic), names)
        ),
    }
    yield _write(
        folder / "clinic.json",
        json.dumps(_clinic_document(clinic), cls=DjangoJSONEncoder, indent=1),
    )
    for name, lines in tables.items():
        yield _write(folder / name, "".join(lines))
    for picture in clinic.pictures.iterator():
        made = folder / "pictures" / f"{picture.pk:05}-{slugify(picture.name) or 'picture'}.jpg"
        made.write_bytes(bytes(picture.image))
        yield made
    for client in clinic.clients.order_by("pk").iterator():
        made = folder / "clients" / f"{client.pk:05}-{slugify(client.name) or 'client'}.zip"
        with made.open("wb") as into:
            write_archive(client, into)
        yield made


def _write(path: Path, text: str) -> Path:
    path.write_text(text, encoding="utf-8")
    return path


def _clinic_document(clinic: Clinic) -> dict[str, Any]:
    """Return the clinic's settings, people (without credentials), tables, tasks and library."""
    people = clinic.users.filter(role__in=User.AT_WORK).order_by("pk")
    shown = ("username", "first_name", "last_name", "email", "role", "is_active", "date_joined")
    return {
        "settings": model_to_dict(clinic),
        "people": list(people.values("pk", *shown)),
        "usual": list(clinic.reference_figures.values()),
        "calibrations": list(clinic.calibrations.values()),
        "tasks": list(clinic.own_tasks.values()),
        "hidden_tasks": list(clinic.hidden_tasks.values_list("code", flat=True)),
        "library": list(clinic.library.values()),
        "pictures": list(clinic.pictures.values("pk", "name", "alt", "created_at", "author")),
        "erased": list(clinic.erasures.values()),
    }
