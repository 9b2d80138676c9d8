"""The texts for clients agree with the figures."""

import pytest

from reedcore.catalogue.tasks import shipped_tasks
from web.catalogue.wording import _COUNTED_UNITS, number_with_unit
from web.practice.result_words import result_sentence
from web.record.models import PrescribedTask, Trial

TABLE = {
    "as good as it gets": ({"spread_cents": 9, "error_cents": 4}, "14.2 seconds, steady, on F3; target 15 s."),
    "flat": ({"spread_cents": 22, "error_cents": -31}, "14.2 seconds, fairly steady, 31 cents flat of F3; target 15 s."),
    "lower at the end": ({"spread_cents": 9, "error_cents": 4, "end_error_cents": -30}, "14.2 seconds, steady, on F3, lower at the end; target 15 s."),
    "shaky and sharp": ({"spread_cents": 60, "error_cents": 180}, "14.2 seconds, 180 cents sharp of F3; target 15 s."),
    "far away": ({"spread_cents": 9, "error_cents": 710}, "14.2 seconds, steady, 7 semitones sharp of F3; target 15 s."),
    "an octave low": ({"spread_cents": 9, "error_cents": -1203, "parts": [{"part": "pitch", "verdict": "not_met", "why": "octave_low"}]}, "14.2 seconds, steady, an octave low of F3; target 15 s."),
    "two breaks": ({"breaks": [{}, {}]}, "14.2 seconds, with 2 breaks; target 15 s."),
    "by hand": ({"source": "stopwatch"}, "14.2 seconds, timed by hand; target 15 s."),
    "nothing heard": ({"total_s": None}, "No held voice was heard in this try, so nothing was measured."),
}  # fmt: skip


@pytest.mark.parametrize(("figures", "says"), TABLE.values(), ids=TABLE.keys())
def test_one_honest_sentence(figures, says):
    task = PrescribedTask(target_s=15.0)
    trial = Trial(**{"task": task, "total_s": 14.2, "source": "microphone", **figures})
    assert result_sentence(trial, note_name="F3") == says


def test_steady_seconds_are_named_where_they_count():
    task = PrescribedTask(target_s=7.5, counts="steady")
    trial = Trial(task=task, total_s=14.2, steady_s=8.1, source="microphone")
    assert result_sentence(trial, note_name=None) == "8.1 steady seconds of 14.2; target 7.5 s."
    trial.spread_cents = 60
    assert "wavering" in result_sentence(trial, note_name=None)


@pytest.mark.parametrize(
    ("value", "unit", "words"),
    [
        (1, "lines", "1 line"),
        (3, "lines", "3 lines"),
        (1, "glasses", "1 glass"),
        (0.5, "breaths", "0.5 breaths"),
        (1, "s", "1 s"),
        (1, "rounds up", "1 round up"),
        (4, "", "4"),
        (0.3333, "min", "20 s"),
        (1, "min", "1 min"),
    ],
)
def test_one_is_singular(value, unit, words):
    assert number_with_unit(value, unit) == words


def test_every_unit_of_the_catalogue_has_one_and_many():
    units = {each.unit for task in shipped_tasks().values() for each in task.parameters.values()}
    alike = {"s", "min", "cm", "cm long", "cm in water", "mm inside"}
    assert units - set(_COUNTED_UNITS) == alike
