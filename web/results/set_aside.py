"""The trials of a client that count in no share and no best, for the results page."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.catalogue import Task
from web.clients.models import Client
from web.practice.result_words import result_sentence
from web.practice.wording import title_of
from web.record.models import Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name

#: The newest are listed; the export has all of them.
MOST_LISTED = 30


@dataclass(frozen=True)
class SetAsideTrial:
    """A trial set aside, with its measures in words."""

    trial: Trial
    title: str
    measured: str


def set_aside_trials(client: Client, catalogue: dict[str, Task]) -> list[SetAsideTrial]:
    """Return the newest trials that were set aside, newest first."""
    rows = client.trials.exclude(set_aside="").select_related("task__programme", "reviewed_by")
    found = []
    for trial in rows.order_by("-performed_at", "key")[:MOST_LISTED]:
        trial.task.programme.client = client
        note = note_name(trial.task)
        found.append(
            SetAsideTrial(
                trial,
                title_of(PrescribedRow(trial.task, catalogue), note=note),
                result_sentence(trial, note_name=note),
            )
        )
    return found
