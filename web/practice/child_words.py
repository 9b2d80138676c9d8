"""A result in a child's words: seconds alone, no cents and no semitones."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext, ngettext

from reedcore.measures import kind_of

from .result_words import result_sentence

if TYPE_CHECKING:
    from web.record.models import Trial


def child_sentence(trial: Trial, *, note_name: Any) -> str:
    """Return the result in a child's words; the usual ones if nothing was measured."""
    if trial.total_s is None:
        return result_sentence(trial, note_name=note_name)
    seconds = round(trial.drawn_s)
    if not kind_of(trial.task.measure).can_be_steady:
        words = ngettext("That took {seconds} second.", "That took {seconds} seconds.", seconds)
        return words.format(seconds=seconds)
    words = ngettext(
        "You held it for {seconds} second.", "You held it for {seconds} seconds.", seconds
    ).format(seconds=seconds)
    if not trial.asked_s:
        return words
    goal = gettext("The water is at {asked:g}.").format(asked=trial.asked_s)
    return f"{words} {goal}"
