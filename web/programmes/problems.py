"""Problems of a programme's document in sentences."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.utils.translation import gettext

from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from reedcore.programme.document import Problem

PROBLEMS = Words(
    {
        "not_a_programme": gettext_noop("This is not a programme."),
        "too_many_items": gettext_noop("A session can have at most {most} items, not {items}."),
        "does_not_fit": "{where}: {message}",
        "too_many_entries": gettext_noop("{where}: at most {limit:g} are allowed."),
        "too_few_entries": gettext_noop("{where}: at least {limit:g} is needed."),
        "text_too_long": gettext_noop("{where}: at most {limit:g} characters are allowed."),
        "too_low": gettext_noop("{where}: the number is below the minimum of {limit:g}."),
        "too_high": gettext_noop("{where}: the number is over the maximum of {limit:g}."),
        "too_many_names": gettext_noop("unknown fields in this item"),
        "same_id": gettext_noop("two items have the same id"),
        "no_such_dose": gettext_noop("dose: start, days or weeks are not valid"),
        "too_many_a_day": gettext_noop("dose: at most 5 a day; for resets choose “on a trigger”"),
        "no_such_task": gettext_noop("task “{task}” is not in the catalogue"),
        "no_such_setting": gettext_noop("{name}: “{task}” has no such setting"),
        "not_a_number": gettext_noop("{name}: “{value}” is not a number"),
        "outside": gettext_noop("{name}: {value:g} is outside {lowest:g} to {highest:g} {unit}"),
    }
)


#: Fields of a programme's document that a clinician types, by the labels of the composer.
FIELD_LABELS = Words(
    {
        "lines": gettext_noop("Own lines"),
        "words": gettext_noop("Instructions for this client"),
        "say_before": gettext_noop("Said before the task"),
        "notes": gettext_noop("Notes"),
        "rungs": gettext_noop("Own steps"),
        "row": gettext_noop("Series"),
        "reason": gettext_noop("Reason"),
        "sets": gettext_noop("Sets"),
        "floor": gettext_noop("Floor"),
        "ceiling": gettext_noop("Ceiling"),
        "off": gettext_noop("Days off"),
        "times": gettext_noop("Times of day"),
        "trigger": gettext_noop("Trigger"),
        "weekdays": gettext_noop("Days of the week"),
        "weeks": gettext_noop("Weeks"),
        "limits": gettext_noop("Limits"),
        "params": gettext_noop("Settings of the task"),
        "pattern": gettext_noop("Pattern"),
        "items": gettext_noop("Items"),
        "dose": gettext_noop("Dose"),
        "practice": gettext_noop("Practice"),
    }
)


def _place_words(where: str) -> str:
    """Return the labels of a place in the document: "lines 3" is "Own lines 4"."""
    labels: list[str] = []
    for part in where.split():
        if part.isdecimal() and labels:
            labels[-1] += f" {int(part) + 1}"
        else:
            labels.append(FIELD_LABELS.get(part, part))
    return ", ".join(labels) or gettext("Programme")


def problem_words(problem: Problem) -> str:
    """Return the problem in a sentence that begins with its place."""
    facts = dict(problem.facts)
    if "where" in facts:
        facts["where"] = _place_words(facts["where"])
    words = PROBLEMS[problem.code].format(**facts)
    if problem.item is None:
        return words
    return gettext("Item {item}: {problem}").format(item=problem.item, problem=words)
