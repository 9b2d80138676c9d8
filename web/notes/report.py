"""The figures of a note: tables, charts, and their trials, as they are now.

At signing they are kept with the note, so that what was signed shows for good what it showed then.
"""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

from django.template.loader import render_to_string

from reedcore.history.series import summaries_of
from web.results.history_chart import ChartedSession, chart_of

from .drafts import MOST_SERIES
from .facts import Facts

if TYPE_CHECKING:
    from web.notes.facts import PracticePeriod

#: Only reports have charts; one session has too little data.
CHART_HEIGHT = 240
#: Characters of a trial's id that identify it in the trials file.
ID_LETTERS = 8


def figures_under(facts: Facts, *, has_charts: bool) -> dict:
    """Return plain values that can be stored as JSON."""
    return {
        "tables": [
            {
                "title": each.series.title,
                "rows": [
                    [line.name, line.baseline, line.best, line.week, line.change, line.real]
                    for line in each.lines
                ],
                "trend": each.trend,
                "mixed": each.mixed,
                "chart": _chart(each, facts) if has_charts else "",
            }
            for each in facts.practised[:MOST_SERIES]
        ],
        "tries": [
            {
                "title": each.series.title,
                "unit": each.series.figure.unit,
                "sessions": [
                    {
                        "day": summary.on.isoformat(),
                        "target": summary.asked_s,
                        "tries": [
                            [
                                str(row.key)[:ID_LETTERS],
                                each.series.value_of(row),
                            ]
                            for row in summary.rows
                        ],
                    }
                    for summary in summaries_of(each.series, each.within)
                ],
            }
            for each in facts.practised
        ],
    }


def _chart(each: PracticePeriod, facts: Facts) -> str:
    shown = ChartedSession(
        first=min(facts.first, facts.last - timedelta(days=13)),
        last=facts.last,
        figure=each.series.figure,
        course=each.value.course,
    )
    summaries = summaries_of(each.series, each.within)
    chart = chart_of(summaries, shown, title=each.series.title, height=CHART_HEIGHT)
    return (
        render_to_string("results/_history_chart.html", {"chart": chart, "line": False})
        if chart
        else ""
    )
