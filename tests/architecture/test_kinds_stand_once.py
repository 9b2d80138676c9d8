"""What a kind of measure is, is asked of the kind; nothing asks "is it a hold?" for itself."""

import re
from pathlib import Path

from reedcore.catalogue.schema import SHAPES, TASK
from reedcore.measures import KINDS
from web.practice.wording import UNHEARD

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


def test_nothing_tells_kinds_apart_by_their_names():
    paths = {str(path.relative_to(ROOT)): path for path in FILES}
    assert len(paths) > 300
    asking = [name for name, path in paths.items() if ASKS.search(path.read_text())]
    assert asking == []


def test_every_kind_that_is_heard_has_words_for_not_being_heard_and_a_figure():
    heard = {code for code, kind in KINDS.items() if kind.is_heard and code in MEASURES}
    assert heard == set(UNHEARD)
    assert all(kind.figure and kind.figures for kind in KINDS.values() if kind.is_heard)
