"""The rows of the results page's tables, written at once: they are most of the page's cells."""

from collections.abc import Iterable, Mapping

from django.utils.html import format_html_join
from django.utils.safestring import SafeString
from django.utils.translation import gettext

from reedcore.history.series import SessionSummary
from web.ui.dates import week_day_of_year
from web.ui.templatetags.still_reed import figure, seconds, signed_cents, target_seconds

_NUMBERS = '<td class="number">{}</td>'
_SESSION = (
    '<tr><th scope="row" class="whitespace-nowrap">{}</th>'
    + 8 * _NUMBERS
    + '<td class="text-soft">{}</td></tr>'
)
_STEP = f"<tr>{3 * _NUMBERS}</tr>"


def session_rows(
    summaries: Iterable[SessionSummary], place_labels: Mapping[str, str]
) -> SafeString:
    """Return each session with its day, trials, figures and device, with where
    or with whom it was, unless at home and alone."""
    rows = (_session(each, place_labels.get(each.key, "")) for each in summaries)
    return format_html_join("", _SESSION, rows)


def _session(each: SessionSummary, where: str) -> tuple[object, ...]:
    on = each.on
    return (
        week_day_of_year(on),
        len(each.rows),
        seconds(each.value),
        seconds(each.longest),
        target_seconds(each.asked_s),
        gettext("{met} of {judged}").format(met=each.met, judged=each.judged_trials)
        if each.judged_trials
        else gettext("not judged"),
        signed_cents(each.lean_cents),
        figure(each.spread_cents),
        figure(each.level_db, 1),
        "; ".join(filter(None, (each.device or gettext("not named"), where))),
    )


def step_rows(rows: Iterable[tuple[str, str, str]]) -> SafeString:
    """Return each half second of a trace: from when, pitch, level."""
    return format_html_join("", _STEP, rows)
