"""Answers to the device about a stored trial or vowel: figures in words, and the picture."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.acoustics import QualityReason
from reedcore.catalogue.ages import CHILD
from reedcore.targets.judging import VerdictReason
from web.keeping.epoch import epoch
from web.practice.child_words import child_sentence
from web.practice.next_try import next_try
from web.practice.presenters import stage, trial_card
from web.record.models import ReferenceVowel, Session, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name, wording_of
from web.record.today import (
    REFERENCE_VOWELS,
    is_taken_over,
    measured_vowels,
    reference_dbfs,
    tries_today,
)
from web.sound.wording import reasons

from .receipts import receipt, receipt_of_trial

if TYPE_CHECKING:
    from web.record.models import PrescribedTask

#: Ask about the distance if the comfortable voice shifts by more (MEASURES §5.5).
SHIFT_ASKS_DB = 4.0


def try_answer(trial: Trial) -> dict:
    """Return the try in one sentence, and the picture of its task with it in place."""
    shown = trial_card(trial)
    wording = wording_of(trial.task.programme)
    is_child = wording == CHILD
    advice = next_try(
        PrescribedRow(trial.task).shipped,
        (
            VerdictReason(part["why"])
            for part in trial.parts
            if part["verdict"] != Trial.Outcome.MET
        ),
        wording,
    )
    return {
        "sentence": child_sentence(trial, note_name=note_name(trial.task))
        if is_child
        else shown["sentence"],
        "outcome": trial.outcome,
        "seconds": trial.drawn_s if trial.total_s is not None else None,
        "heard": trial.total_s is not None or bool(trial.figures),
        "more": [
            *([advice] if advice else []),
            *(
                f"{part['name'].capitalize()} {part['words']}."
                for part in shown["parts"]
                if part["verdict"] == Trial.Outcome.NOT_JUDGED
                and trial.total_s is not None
                and not is_child
            ),
            *shown["reasons"],
        ],
        "stage": rendered_stage(trial.task),
        "receipt": receipt_of_trial(trial) if trial.session else None,
        **session_answer(trial.session),
    }


def session_answer(session: Session | None) -> dict:
    """Return the epoch, and the session's key if another device took it over."""
    moved = session is not None and is_taken_over(session)
    return epoch_answer() | ({"elsewhere": str(session.key)} if session and moved else {})


def epoch_answer() -> dict:
    """Return the current epoch; if it changed, the device sends its acknowledged entries again."""
    return {"epoch": str(epoch().pk)}


def rendered_stage(task: PrescribedTask) -> str:
    """Return the picture of a task with today's tries in it."""
    return render_to_string(
        "practice/_stage.html", stage(PrescribedRow(task), tries_today([task])[task.pk])
    )


def vowel_answer(vowel: ReferenceVowel, capture: dict) -> dict:
    """Return whether more vowels are wanted on this device, and whether the distance seems to
    differ."""
    kept = {"receipt": receipt(vowel.client, vowel.session, vowel), **epoch_answer()}
    return {**_vowel_answer(vowel, capture), **kept}


def _vowel_answer(vowel: ReferenceVowel, capture: Any) -> dict[str, Any]:
    device = {"device": vowel.device, "browser": vowel.browser} if vowel.device else capture
    have = measured_vowels(vowel.client, device).count()
    if vowel.level_dbfs is None:
        words = reasons(vowel.reasons) or reasons([QualityReason.NO_VOICE])
        return {
            "more": REFERENCE_VOWELS - have if have < REFERENCE_VOWELS else 0,
            "asks": False,
            "sentence": gettext("Its level could not be judged. {value}").format(value=words[0]),
        }
    if have < REFERENCE_VOWELS:
        return {"more": REFERENCE_VOWELS - have, "asks": False, "sentence": gettext("Saved.")}
    first = reference_dbfs(vowel.client, device)
    shift = 0.0 if first is None else vowel.level_dbfs - first
    far = abs(shift) > SHIFT_ASKS_DB
    sentence = gettext("Your comfortable voice is now saved on this device.")
    if far:
        apart = (
            gettext(
                "That was {shift:.0f} decibels stronger than your comfortable voice on this "
                "device. Is the microphone 30 centimetres away?"
            )
            if shift > 0
            else gettext(
                "That was {shift:.0f} decibels softer than your comfortable voice on this "
                "device. Is the microphone 30 centimetres away?"
            )
        )
        sentence = apart.format(shift=abs(shift))
    return {"more": 0, "asks": far, "sentence": sentence, "at": timezone.now().isoformat()}
