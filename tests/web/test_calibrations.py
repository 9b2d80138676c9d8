"""The valid calibration by device, browser, distance and day, and levels without one."""

from datetime import date, timedelta
from uuid import uuid4

import pytest
from django.urls import reverse
from django.utils import timezone

from reedcore.devices.levels import LevelSetting, RecordedLevel
from tests.factories import ClinicFactory, baseline, baseline_trial
from web.baseline.summaries import summary_of
from web.sound.models import Calibration
from web.sound.queries import newest_calibration, sound_pressure

DAY = date(2026, 11, 9)
TABLET = LevelSetting("Tablet", "Browser 1", 0.30)


@pytest.fixture
def calibrate(clinic, clinician):
    def make(on=DAY, **changes):
        made = {
            "clinic": clinic, "device": "Tablet", "browser": "Browser 1", "distance_m": 0.30,
            "meter_db_spl": 78.0, "recorded_dbfs": -24.0, "made_on": on, "made_by": clinician, **changes,
        }  # fmt: skip
        return Calibration.objects.create(**made)

    return make


def spl(clinic, setting=TABLET, on=DAY):
    found = sound_pressure(clinic, RecordedLevel(-30.0, setting), on=on)
    return found and round(found.db_spl, 1)


def test_a_calibration_is_valid_for_thirty_days(clinic, calibrate):
    calibrate()
    assert spl(clinic) == 72.0
    assert spl(clinic, on=DAY + timedelta(days=29)) == 72.0
    assert spl(clinic, on=DAY + timedelta(days=30)) is None
    assert spl(clinic, on=DAY - timedelta(days=1)) is None


@pytest.mark.parametrize(
    "setting",
    [
        LevelSetting("Telephone", "Browser 1", 0.30),
        LevelSetting("Tablet", "Browser 2", 0.30),
        LevelSetting("Tablet", "Browser 1", 0.50),
    ],
)
def test_a_calibration_is_not_valid_in_another_place(clinic, calibrate, setting):
    calibrate()
    assert spl(clinic, setting) is None


def test_a_later_one_does_not_change_what_was_measured_before(clinic, calibrate):
    calibrate(DAY)
    calibrate(DAY + timedelta(days=10), meter_db_spl=81.0)
    assert spl(clinic, on=DAY + timedelta(days=9)) == 72.0
    assert spl(clinic, on=DAY + timedelta(days=10)) == 75.0


def test_another_clinics_calibration_is_not_ours(calibrate):
    calibrate()
    assert newest_calibration(ClinicFactory(), TABLET, on=DAY) is None


def test_the_clinics_page_tells_what_has_expired(as_clinician, calibrate):
    today = timezone.localdate()
    calibrate(today)
    calibrate(today - timedelta(days=31), device="Old laptop")
    page = as_clinician.get(reverse("clinic:clinic")).content.decode()
    assert page.count("expired") == 1
    assert page.index("Tablet") < page.index("Old laptop")


def levels_of(person, clinician, *devices):
    sheet = baseline(person, by=clinician)
    for device in devices:
        baseline_trial(
            person, by=clinician, sheet=sheet, step="comfortable",
            figures={"level_dbfs": -30.0}, capture={"device": device, "browser": "B"}, key=uuid4(),
        )  # fmt: skip
    return summary_of(sheet).comfortable_level


def test_levels_of_two_devices_are_never_put_together(person, clinician):
    assert levels_of(person, clinician, "Tablet", "Tablet").dbfs == -30.0
    assert levels_of(person, clinician, "Tablet", "Telephone") is None
