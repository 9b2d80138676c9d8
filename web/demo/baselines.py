"""A made-up client's run through the baseline sheet: real measurements of a made-up voice."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING, Any
from uuid import uuid5

from reedcore.baseline.steps import STEPS, Capture
from reedcore.targets.proposing import TargetKind, TargetProposal
from web.baseline.actions import (
    begin_baseline,
    close_baseline,
    decide_target,
    keep_entries,
    record_calibration,
    record_sound,
    record_typed,
)
from web.baseline.presenters import excluded_steps
from web.baseline.proposals import proposals_for
from web.baseline.simulated import meter_reading, simulated_take, spirometer_reading
from web.baseline.summaries import summary_of

from .voices import VOICES

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.clients.models import Client

#: Enough for voice and hiss; a third of the work of 48 kHz.
RATE_HZ = 16_000
CAPTURE = {"device": "simulated voice", "browser": "demo"}


def load_baseline(client: Client, *, by: User, at: Any, key_space: Any, steps: Any = STEPS) -> None:
    """Create a complete sheet on one day, with all targets accepted."""
    sheet = begin_baseline(client, by=by, at=at)
    out = excluded_steps(client, on=at.date())
    taken = []
    for place, step in enumerate(steps):
        for number in range(0 if step.code in out else step.required_trials):
            seed = 7 * place + 3 * number + at.day
            when = at + timedelta(minutes=place, seconds=20 * number)
            key, clip = uuid5(key_space, f"{at}/{step.code}/{number}"), None
            if step.capture is not Capture.VOLUME:
                clip = VOICES.submit(simulated_take, client, step, seed=seed, rate_hz=RATE_HZ)
            taken.append((step, key, seed, when, clip))
    for each in taken:
        _trial(sheet, by, *each)
    found = summary_of(sheet)
    entries = {"taken": "coffee at eight", "effort": 6.0, "questionnaire": 41.0,
               "overall": 1.0, "breathy": 1.0, "strained": 2.0}  # fmt: skip
    if found.glide_range:
        entries |= {
            "comfortable_low_hz": round(found.glide_range.low_hz * 2 ** (2 / 12), 1),
            "comfortable_high_hz": round(found.glide_range.high_hz / 2 ** (3 / 12), 1),
        }
    keep_entries(sheet, {**entries, "done": ["effort", "range", "rating", "taken"]})
    close_baseline(sheet)
    baseline, proposals = proposals_for(client)
    for proposal in proposals.values():
        if baseline and isinstance(proposal, TargetProposal):
            decide_target(
                baseline, proposal, by=by, decision="accepted", values=dict(proposal.values),
                counts="total" if proposal.kind is TargetKind.HOLD else "",
                at=at + timedelta(minutes=40),
            )  # fmt: skip


def _trial(sheet: Any, by: User, step: Any, key: Any, seed: Any, when: Any, clip: Any) -> None:
    if clip is None:
        figures = {"volume_ml": spirometer_reading(sheet.client, seed=seed)}
        record_typed(sheet, step, key=key, figures=figures, source="simulated", at=when)
        return
    sound = clip.result()
    trial = record_sound(
        sheet, step, key=key, source="simulated", samples=sound.samples, rate_hz=sound.rate_hz,
        capture=CAPTURE, at=when,
    )  # fmt: skip
    if step.capture is Capture.LEVEL:
        reading = meter_reading(trial.figures["level_dbfs"], seed=seed)
        record_calibration(trial, by=by, meter_db_spl=reading, weighting="C", on=when.date())
