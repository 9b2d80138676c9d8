"""Sentences of a draft about the hour of practice and the time since medication."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from statistics import median
from typing import Any

from django.utils.translation import gettext

from reedcore.measures import kind_of
from web.ui.marked import WordList, gettext_noop

from .facts import Facts, PracticePeriod

#: In the client's time zone.
HOURS = WordList(
    (
        (12, gettext_noop("in the morning")),
        (17, gettext_noop("in the afternoon")),
        (24, gettext_noop("in the evening")),
    )
)


SINCE = WordList(
    (
        (2.0, gettext_noop("up to 2 h after medication")),
        (4.0, gettext_noop("2 to 4 h after it")),
        (1e9, gettext_noop("more than 4 h after it")),
    )
)


def hour_sentences(facts: Facts, periods: Sequence[PracticePeriod]) -> list[str]:
    """Return sentences on held series by hour of the day and by time since medication."""
    sentences = []
    zone = facts.client.zone
    for each in periods:
        if not kind_of(each.series.measure).is_in_seconds:
            continue
        sentences += _bin_sentences(each, HOURS, lambda row: row.at.astimezone(zone).hour)
        sentences += _bin_sentences(each, SINCE, lambda row: row.since_medication_h)
    if not any(
        row.since_medication_h is not None for each in facts.practised for row in each.within
    ):
        sentences.append(gettext("Time since medication was not logged."))
    return sentences


def _bin_sentences(each: PracticePeriod, bins: Sequence[Any], of: Callable[..., Any]) -> list[str]:
    found = defaultdict(list)
    for row in each.within:
        at, value = of(row), each.series.value_of(row)
        if at is not None and value is not None:
            found[next(name for until, name in bins if at < until)].append(value)
    if not found:
        return []
    parts = [
        f"{name} {median(found[name]):.1f} {each.series.figure.unit} ({len(found[name])})"
        for _, name in bins
        if name in found
    ]
    return [
        gettext("{title}, median (trials): {parts}.").format(
            title=each.series.title, parts="; ".join(parts)
        )
    ]
