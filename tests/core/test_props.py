"""Back pressure, breath counts and simulated instruments."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.devices.back_pressure import (
    Resistance,
    Tube,
    back_pressure,
    class_pressure,
    props_in_order,
)
from reedcore.devices.breath_counts import BreathCount
from reedcore.errors import ValueOutOfRange
from reedcore.synthvoice.instruments import meter_reading_db_spl, spirometer_reading_ml


@pytest.mark.parametrize(
    ("tube", "cmh2o", "rough"),
    [(Tube(6, 20), "0.43", False), (Tube(3, 20), "10.9", True), (Tube(10, 35), "0.07", False)],
)
def test_the_worked_straws(tube, cmh2o, rough):
    found = back_pressure(tube)
    places = len(cmh2o.split(".")[1])
    assert f"{found.cmh2o:.{places}f}" == cmh2o
    assert found.is_rough is rough


def test_water_adds_its_depth():
    dry, wet = back_pressure(Tube(10, 35)), back_pressure(Tube(10, 35, depth_cm=4))
    assert wet.cmh2o - dry.cmh2o == pytest.approx(4.0)


@given(st.floats(2, 12), st.floats(2, 40), st.floats(0, 10), st.floats(0.05, 2))
def test_narrower_longer_and_deeper_are_harder(bore, length, depth, more):
    here = back_pressure(Tube(bore, length, depth)).cmh2o
    assert back_pressure(Tube(bore, length + more, depth)).cmh2o > here
    assert back_pressure(Tube(bore, length, depth + more)).cmh2o > here
    # After the change to turbulent flow, a wider bore never increases the resistance by more than
    # before.
    assert back_pressure(Tube(bore * 1.5, length, depth)).cmh2o < here


@pytest.mark.parametrize(
    ("value", "about"), [(10.9, 10), (0.43, 0.4), (0.07, 0.07), (4.07, 4), (0.0, 0)]
)
def test_one_significant_figure_is_all_it_is_worth(value, about):
    from reedcore.devices.back_pressure import BackPressure

    assert BackPressure(value).about == pytest.approx(about)


def test_props_stand_in_order_from_easy_to_hard():
    props = [
        ("tube in 4 cm of water", back_pressure(Tube(10, 35, 4))),
        ("narrow straw", back_pressure(Tube(3, 20))),
        ("wide straw", back_pressure(Tube(6, 20))),
        ("lip trill", class_pressure(Resistance.MIDDLE)),
    ]
    assert [name for name, _ in props_in_order(props)] == [
        "wide straw", "lip trill", "tube in 4 cm of water", "narrow straw",
    ]  # fmt: skip


@pytest.mark.parametrize("tube", [(0.5, 20, 0), (6, 100, 0), (6, 20, -1), (6, 20, 40)])
def test_a_straw_that_cannot_be_is_refused(tube):
    with pytest.raises(ValueOutOfRange):
        Tube(*tube)


def test_counts_at_100_a_minute():
    breath = BreathCount(4, 8, 100)
    assert breath.seconds(4) == pytest.approx(2.4)
    assert breath.cycle_s == pytest.approx(7.2)
    assert breath.ratio == 2.0
    assert breath.breaths_per_min == pytest.approx(8.33, abs=0.01)
    assert breath.total_s(5) == pytest.approx(36.0)
    assert not breath.needs_confirmation(50)


def test_under_four_breaths_a_minute_for_over_two_minutes_must_be_meant():
    slow = BreathCount(10, 10, 60)  # 20 s per breath: 3 a minute.
    assert not slow.needs_confirmation(6)  # Exactly two minutes.
    assert slow.needs_confirmation(7)
    assert BreathCount(6, 6, 60, held=2, rest=1).cycle_s == 15.0


@pytest.mark.parametrize("wrong", [(0, 4, 60), (4, 0, 60), (4, 4, 0), (4, 4, 500), (4, 61, 60)])
def test_impossible_breathing_counts_are_refused(wrong):
    with pytest.raises(ValueOutOfRange):
        BreathCount(*wrong)


def test_a_simulated_meter_and_its_microphone_differ_by_one_offset():
    offsets = [
        meter_reading_db_spl(level, seed=s) - level for s, level in enumerate((-40, -25, -10))
    ]
    assert max(offsets) - min(offsets) < 1.0
    assert meter_reading_db_spl(-20, seed=3) == meter_reading_db_spl(-20, seed=3)


def test_a_simulated_spirometer_reads_a_full_breath_or_a_little_less():
    readings = {spirometer_reading_ml(usual_ml=3300, seed=seed) for seed in range(20)}
    assert all(2800 <= reading <= 3300 for reading in readings)
    assert all(reading % 10 == 0 for reading in readings)
    assert len(readings) > 5
