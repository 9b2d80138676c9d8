"""The loops give the same figures compiled and as Python; without a compiler they run more
slowly."""

import json
import subprocess
import sys
from types import FunctionType

import numpy as np
import pytest
from scipy import signal

from reedcore.acoustics import Frames, LiveAnalyser, analyse, compiled, ready
from reedcore.acoustics.compiled import Loop
from reedcore.acoustics.track import candidates, filtering, intake
from reedcore.acoustics.track.low_pass import kaiser_low_pass
from reedcore.cli import compile as commanded
from reedcore.cli.compile import is_current
from reedcore.formats.wav import write_wav
from tests.core.sounds import held

LOOPS = (
    "track.candidates._FILLED",
    "track.tracker._FOLLOWED",
    "track.tracker._DECIDED",
    "track.tracker._MOVED",
    "track.tracker._SHARED",
    "track.periodicity._WEIGHED",
    "track.resample.RESAMPLED",
    "track.energy.SUMMED",
    "track.filtering.HIGH_PASSED",
    "track.filtering.BAND_PASSED",
    "track.intake._TAKEN_IN",
    "track.intake._BANDED",
    "track.intake._WINDOWED",
    "voice.perturbation._PERIODS",
)


@pytest.fixture
def as_python(monkeypatch):
    """Run each loop uncompiled, wherever it is called."""

    def stand():
        for name in LOOPS:
            module, loop = name.rsplit(".", 1)
            module = sys.modules[f"reedcore.acoustics.{module}"]
            monkeypatch.setattr(module, loop, getattr(module, loop).plain)

    return stand


@pytest.mark.parametrize("rate", [16_000, 44_100])
def test_the_figures_are_the_same_without_a_compiler(as_python, rate):
    sound = held(196.0, 0.6, rate=rate, noise=0.01)

    def frames():
        live = LiveAnalyser(rate)
        return Frames.join([live.feed(sound), live.finish()])

    fast = frames()
    as_python()
    slow = frames()
    assert len(fast) == len(slow) > 50
    for name in Frames.__dataclass_fields__:
        np.testing.assert_allclose(
            getattr(fast, name), getattr(slow, name), rtol=1e-4, atol=1e-7, err_msg=name
        )


def test_the_periods_are_the_same_without_a_compiler(as_python):
    sound = held(196.0, 1.7, rate=16_000, noise=0.01)
    (fast,) = analyse(sound, 16_000).holds
    as_python()
    (slow,) = analyse(sound, 16_000).holds
    one, other = fast.perturbation, slow.perturbation
    assert one.jitter_percent == pytest.approx(other.jitter_percent, rel=0.02)
    assert one.hnr_db == pytest.approx(other.hnr_db, abs=0.1)


@pytest.fixture
def library(monkeypatch):
    """The library of loops, loaded again with and after a test's changes."""
    compiled.library.cache_clear()
    yield compiled.library
    monkeypatch.undo()
    compiled.library.cache_clear()


def test_the_library_has_the_loops_as_they_are_now(library):
    """bin/prepare builds it before the tests, so it is never missing or old here."""
    assert is_current()
    assert {"_fill", "_follow_paths", "_filter_samples", "_shift_states"} <= set(library())


@pytest.mark.parametrize(
    "change", [{"_gone": "of another day"}, {"_fill": None}, {"_fill": "another"}]
)
def test_a_library_of_other_loops_is_not_current(library, monkeypatch, tmp_path, change):
    described = json.loads(compiled.DESCRIPTION.read_text())
    made_of = {**described["made_of"], **change}
    described["made_of"] = {name: digest for name, digest in made_of.items() if digest}
    (tmp_path / "description.json").write_text(json.dumps(described))
    assert is_current()
    monkeypatch.setattr(commanded, "DESCRIPTION", tmp_path / "description.json")
    assert not is_current()


def test_a_library_for_another_processor_is_left_alone(library, monkeypatch):
    monkeypatch.setattr(compiled, "processor", lambda: "another")
    assert library() == {}
    assert not is_current()


@pytest.mark.parametrize("text", ["", "{", "{}", '{"processor": 1, "loops": {}}'])
def test_a_damaged_description_is_no_library(library, monkeypatch, tmp_path, text):
    monkeypatch.setattr(compiled, "DESCRIPTION", tmp_path / "description.json")
    (tmp_path / "description.json").write_text(text)
    assert library() == {}


def test_a_loop_that_has_changed_is_not_taken_from_the_library(library, monkeypatch, tmp_path):
    described = json.loads(compiled.DESCRIPTION.read_text())
    described["loops"]["_fill_windows"] = "of another day"
    monkeypatch.setattr(compiled, "DESCRIPTION", tmp_path / "description.json")
    (tmp_path / "description.json").write_text(json.dumps(described))
    kept, changed = candidates._FILLED, intake._WINDOWED
    for loop in (kept, changed):
        monkeypatch.setattr(loop, "_made", None)
    assert kept.made() is library()["_fill"][1]
    assert changed.made() is changed.compiled()


@pytest.mark.parametrize("rate", sorted({rate for _, _, rate in filtering._DESIGNS}))
def test_a_kept_filter_is_the_one_that_scipy_designs(rate):
    for (kind, edges, at), kept in filtering._DESIGNS.items():
        if at == rate:
            np.testing.assert_allclose(kept, signal.butter(2, edges, kind, fs=rate), rtol=1e-12)


@pytest.mark.parametrize("factor", [2, 3, 441])
def test_the_low_pass_is_the_one_that_scipy_designs(factor):
    digest_of = kaiser_low_pass(12 * factor + 1, 1 / factor, beta=5.0)
    theirs = signal.firwin(12 * factor + 1, 1 / factor, window=("kaiser", 5.0))
    np.testing.assert_allclose(digest_of, theirs, atol=1e-15)


def test_measuring_imports_no_compiler(tmp_path):
    """Without these imports a process starts in a third of the time."""
    path = tmp_path / "hold.wav"
    path.write_bytes(write_wav(held(196.0, 1.7, rate=44_100), 44_100))
    heavy = "numba", "scipy.signal", "scipy.stats"
    script = f"""if True:
        import sys
        from reedcore.cli.commands import main
        main(["analyse", {str(path)!r}])
        print([name for name in {heavy!r} if name in sys.modules])
    """
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=True
    )
    assert done.stdout.splitlines()[-1] == "[]"


def test_without_a_compiler_one_warning_is_given_and_the_analysis_works(monkeypatch):
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


def test_the_cache_key_covers_every_input_of_the_compilation():
    """A change in a loop of another file, or in a constant, invalidates the library."""

    def digest_of(number, within):
        outer = FunctionType(scaled.__code__, {"NUMBER": number, "inner": within})
        return Loop(outer, Loop(within)).digest()

    def double(values):
        return values * 2

    def triple(values):
        return values * 3

    assert digest_of(1, double) == digest_of(1, double)
    assert len({digest_of(1, double), digest_of(2, double), digest_of(1, triple)}) == 3


def test_a_process_can_make_ready(monkeypatch):
    """Compile every loop, as in a process in which none has run."""
    loops = {
        name: getattr(sys.modules[f"reedcore.acoustics.{module}"], loop)
        for name in LOOPS
        for module, loop in (name.rsplit(".", 1),)
    }
    for loop in loops.values():
        monkeypatch.setattr(loop, "_made", None)
    ready()
    # Loops called by other loops are part of those.
    within = {each for loop in loops.values() for each in loop._uses}
    called = {name: loop for name, loop in loops.items() if loop not in within}
    assert len(called) >= 5
    assert [name for name, loop in called.items() if loop._made is None] == []
