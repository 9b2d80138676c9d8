"""Responses that are saved as files."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.http import HttpResponse

from reedcore.formats.table_csv import write_table


def csv_response(kind: type, rows: Iterable[Any], *, name: str) -> HttpResponse:
    """Return rows of one kind as a CSV file of this name."""
    return HttpResponse(
        "".join(write_table(kind, rows)),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}.csv"'},
    )
