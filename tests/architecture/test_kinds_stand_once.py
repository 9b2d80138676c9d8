"""Properties of a kind of measure are defined by the kind; no other code compares kinds."""

import re
from pathlib import Path

from reedcore.catalogue.schema import SHAPES, TASK
from reedcore.measures import KINDS, CountedThing
from web.catalogue.plain_form import WAYS
from web.practice.simulated import SIMULATED

ROOT = Path(__file__).resolve().parents[2]
ASKS = re.compile(r"measure (==|!=|in|not in) ?[\"(]|measure (==|!=) (self|trial|Prescribed)")
MEASURES = TASK["properties"]["measure"]["enum"]
FILES = [
    path
    for pattern in ("reedcore/**/*.py", "web/**/*.py", "web/**/*.html")
    for path in ROOT.glob(pattern)
    if "/measures/" not in str(path) and "migrations" not in str(path)
]


def test_every_measure_of_the_catalogue_has_its_kind():
    assert set(MEASURES) <= set(KINDS)
    assert set(KINDS) - set(MEASURES) <= set(SHAPES)


def test_no_code_compares_kinds_by_name():
    paths = {str(path.relative_to(ROOT)): path for path in FILES}
    assert len(paths) > 300
    offenders = [name for name, path in paths.items() if ASKS.search(path.read_text())]
    assert offenders == []


def test_every_kind_that_is_heard_has_words_for_not_being_heard_and_a_figure():
    measured = [kind for code, kind in KINDS.items() if kind.is_heard and code in MEASURES]
    assert all(kind.unheard.endswith("nothing was measured.") for kind in measured)
    assert all(kind.figure and kind.figures for kind in KINDS.values() if kind.is_heard)


HEARD = {code for code, kind in KINDS.items() if kind.is_heard}
DEVICE = ROOT / "web/practice/static/practice/js/unmeasured_task.js"


def test_every_kind_that_is_heard_has_a_simulated_voice():
    assert set(SIMULATED) == HEARD


def test_every_kind_that_is_not_heard_is_led_by_the_device():
    (leaders,) = re.findall(r"const LEADERS = \{([^}]*)\}", DEVICE.read_text())
    led = set(re.findall(r"(\w+):", leaders))
    assert led == {each.value for each in CountedThing}
    unheard = [kind for code, kind in KINDS.items() if code not in HEARD]
    assert {kind.counts for kind in unheard} == set(CountedThing)
    assert all(KINDS[code].counts is CountedThing.NOTHING for code in HEARD)


def test_a_clinic_can_write_a_task_of_its_own_of_every_kind_in_the_form_or_as_a_file():
    in_the_form = {way.measure for way in WAYS.values()}
    assert in_the_form == {code for code in MEASURES if not KINDS[code].needs_file}
