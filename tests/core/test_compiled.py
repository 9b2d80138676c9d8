"""The loops give the same figures compiled and as they stand; without a compiler they run, slower."""

import sys
from types import FunctionType

import numpy as np
import pytest

from reedcore.acoustics import Frames, LiveAnalyser, analyse, compiled, ready
from reedcore.acoustics.compiled import Loop
from tests.core.sounds import held

LOOPS = (
    "candidates._FILLED", "tracker._FOLLOWED", "tracker._DECIDED", "tracker._MOVED",
    "tracker._SHARED", "periodicity._WEIGHED", "resample.RESAMPLED", "energy.SUMMED",
    "filtering.HIGH_PASSED", "filtering.BAND_PASSED", "intake._TAKEN_IN", "intake._BANDED",
    "intake._WINDOWED", "cepstral._SMOOTHED", "cepstral._TAPERED", "cepstral._POWERS",
    "cepstral._SQUARED", "cepstral._LINED",
)  # fmt: skip


@pytest.fixture
def as_they_stand(monkeypatch):
    """Each loop uncompiled, wherever it is called."""

    def stand():
        for name in LOOPS:
            module, loop = name.split(".")
            module = sys.modules[f"reedcore.acoustics.{module}"]
            monkeypatch.setattr(module, loop, getattr(module, loop).plain)

    return stand


@pytest.mark.parametrize("rate", [16_000, 44_100])
def test_the_figures_are_the_same_without_a_compiler(as_they_stand, rate):
    sound = held(196.0, 0.6, rate=rate, noise=0.01)

    def frames():
        live = LiveAnalyser(rate)
        return Frames.joined([live.feed(sound), live.finish()])

    fast = frames()
    as_they_stand()
    slow = frames()
    assert len(fast) == len(slow) > 50
    for name in Frames.__dataclass_fields__:
        np.testing.assert_allclose(
            getattr(fast, name), getattr(slow, name), rtol=1e-4, atol=1e-7, err_msg=name
        )


def test_the_prominence_is_the_same_without_a_compiler(as_they_stand):
    sound = held(196.0, 1.7, rate=16_000, noise=0.01)
    (fast,) = analyse(sound, 16_000).holds
    as_they_stand()
    (slow,) = analyse(sound, 16_000).holds
    assert fast.cpps_db == pytest.approx(slow.cpps_db, abs=0.01)


def test_where_there_is_no_compiler_it_says_so_once_and_goes_on(monkeypatch):
    monkeypatch.setitem(sys.modules, "numba", None)
    compiled._compiler.cache_clear()
    double = Loop(lambda values: values * 2)
    with pytest.warns(RuntimeWarning, match="many times slower"):
        assert double(21) == 42
    assert Loop(lambda values: values + 1)(41) == 42
    monkeypatch.undo()
    compiled._compiler.cache_clear()


NUMBER = 1


def inner(values):
    return values


def scaled(values):
    return inner(values) * NUMBER


def test_what_is_kept_is_known_by_all_that_it_was_made_of():
    """A change in a loop that another file holds, or in a number, finds nothing that was kept."""

    def made(number, within):
        outer = FunctionType(scaled.__code__, {"NUMBER": number, "inner": within})
        return Loop(outer, Loop(within)).digest()

    def double(values):
        return values * 2

    def triple(values):
        return values * 3

    assert made(1, double) == made(1, double)
    assert len({made(1, double), made(2, double), made(1, triple)}) == 3


def test_a_process_can_make_ready(monkeypatch):
    """Every loop, as in a process in which none has run."""
    loops = {
        name: getattr(sys.modules[f"reedcore.acoustics.{module}"], loop)
        for name in LOOPS
        for module, loop in (name.split("."),)
    }
    for loop in loops.values():
        monkeypatch.setattr(loop, "_made", None)
    ready()
    assert [name for name, loop in loops.items() if loop._made is None] == []
