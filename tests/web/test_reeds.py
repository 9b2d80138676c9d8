"""The geometry of a reed shows the measured figures."""

import re
from math import nan

from web.ui.reeds import Scale, small_stem, traced_stem

SCALE = Scale(ground=200.0, px_per_s=10.0)


def points(path):
    return [(float(x), float(y)) for x, y in re.findall(r"[ML]([\d.-]+) ([\d.-]+)", path)]


def stem(**changes):
    figures = {"x": 100.0, "seconds": 10.0, "lean_cents": 0.0, "spread_cents": 0.0, "breaks": ()}
    return small_stem(**{**figures, **changes}, scale=SCALE)


def test_height_is_seconds():
    assert points(stem())[0] == (100.0, 200.0)
    assert points(stem())[-1] == (100.0, 100.0)


def test_lean_is_error_and_is_clipped_at_half_a_semitone():
    assert points(stem(lean_cents=-25))[-1][0] == 96.5
    assert points(stem(lean_cents=400))[-1][0] == points(stem(lean_cents=50))[-1][0] == 107.0


def test_shiver_is_spread():
    def shiver(cents):
        return max(abs(x - 100) for x, _ in points(stem(spread_cents=cents)))

    assert shiver(0) == 0
    assert shiver(30) > shiver(10) > 0


def test_a_break_is_a_gap_at_its_height_even_when_short():
    path = stem(breaks=[(5.0, 5.1)])
    assert path.count("M") == 2
    below, above = path[1:].split("M")
    assert points("M" + below)[-1][1] - points("M" + above)[0][1] >= 7


def test_unknown_pitch_is_a_straight_stem():
    assert {x for x, _ in points(stem(lean_cents=None, spread_cents=None))} == {100.0}


def test_a_traced_stem_is_the_trace():
    cents = [0.0] * 50 + [40.0] * 50
    path = traced_stem(x=100, cents=cents, step_s=0.02, px_per_cent=0.5, breaks=(), scale=SCALE)
    drawn = points(path)
    assert drawn[0][0] == 100
    assert drawn[-1][0] == 120
    assert abs(drawn[-1][1] - 180) < 1


def test_gaps_without_pitch_are_not_drawn():
    path = traced_stem(
        x=100, cents=[nan] * 20, step_s=0.02, px_per_cent=0.5, breaks=(), scale=SCALE
    )
    assert path == ""
