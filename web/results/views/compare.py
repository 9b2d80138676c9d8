"""Two months, two sessions or two sheets side by side."""

from __future__ import annotations

from collections import defaultdict
from statistics import fmean
from typing import TYPE_CHECKING, Any

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone

from reedcore.history.courses import course_for
from reedcore.history.series import session_of, summaries_of
from web.accounts.access import looking
from web.baseline.presenters import comparison
from web.baseline.queries import reference_rows
from web.catalogue.queries import all_tasks
from web.clients.queries import client_seen_by
from web.ui.marked import Words, gettext_noop

from .. import comparison as comparing
from ..page import efforts_of
from ..series import series_of, trials_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client

KINDS = Words(
    {
        comparing.MONTH: gettext_noop("two months"),
        comparing.SESSION: gettext_noop("two sessions"),
        comparing.SHEET: gettext_noop("two baseline sheets"),
    }
)


@looking
def compare(request: SignedInRequest, pk: int) -> HttpResponse:
    """Compare the first and the newest, unless others were chosen."""
    seen = client_seen_by(request.user, pk)
    data, zone = request.GET, seen.zone
    said_kind = data.get("kind", "")
    kind = said_kind if said_kind in KINDS else comparing.MONTH
    every = series_of(seen, all_tasks(seen.clinic))
    series = next(
        (each for each in every if each.key == data.get("series")), next(iter(every), None)
    )
    rows = trials_of(seen, [series]) if series else []
    summaries = summaries_of(series, rows) if series else []
    sheets = list(seen.baselines.order_by("begun_at").prefetch_related("trials"))
    found = comparing.choices(
        kind, summaries, sheets, zone, unit=series.figure.unit if series else ""
    )
    codes = [code for code, _ in found]
    chosen = [
        data.get(name) if data.get(name) in codes else codes[place] if codes else ""
        for name, place in (("a", 0), ("b", -1))
    ]
    context = {
        "client": seen,
        "kinds": KINDS.items(),
        "kind": kind,
        "every": every,
        "series": series,
        "choices": found,
        "chosen": chosen,
        "few": len(found) < 2,
    }
    if not context["few"]:
        context |= _comparison_context(kind, chosen, seen, series, rows, sheets)
    return render(request, "results/compare.html", context)


def _comparison_context(
    kind: Any, chosen: Any, client: Client, series: Any, rows: list[Any], sheets: list[Any]
) -> dict[str, Any]:
    if kind == comparing.SHEET:
        by_key = {str(sheet.pk): sheet for sheet in sheets}
        one, other = (by_key[code] for code in chosen)
        return {
            "sheets": (one, other),
            "compared": comparison(one, other, reference_rows(client.clinic)),
        }
    zone, today = client.zone, timezone.localdate(timezone=client.zone)
    course = course_for(series, rows, today=today)
    values = [value for row in rows if (value := series.value_of(row)) is not None]
    sides = [
        comparing.side_of(
            kind, code, series, rows, client, course=course, top_value=max(values, default=1.0)
        )
        for code in chosen
    ]
    reports: dict[Any, list[Any]] = defaultdict(list)
    for _, session, _, value in efforts_of(client, [series], zone):
        reports[session].append(value)
    efforts = [_effort(side, reports) for side in sides]
    one, other = sides
    if one is None or other is None:
        return {"sides": sides, "lines": []}
    lines = comparing.lines_of(series, one, other, baseline=course.baseline, efforts=efforts)
    return {"sides": sides, "lines": lines}


def _effort(side: Any, reports: Any) -> float | None:
    values = [value for key in {session_of(row) for row in side.rows} for value in reports[key]]
    return fmean(values) if values else None
