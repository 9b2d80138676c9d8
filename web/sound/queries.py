"""Which calibration holds where."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from reedcore.devices.levels import LevelSetting, RecordedLevel, SoundPressureLevel

from .models import Calibration

if TYPE_CHECKING:
    from web.accounts.models import Clinic


def newest_calibration(clinic: Clinic, setting: LevelSetting, *, on: date) -> Calibration | None:
    """Return the newest of that device and browser up to that day, whether or not it still held."""
    own = clinic.calibrations.filter(device=setting.device, browser=setting.browser)
    return own.filter(made_on__lte=on).first()


def sound_pressure(clinic: Clinic, level: RecordedLevel, *, on: date) -> SoundPressureLevel | None:
    """Return the level as dB SPL if this clinic has a valid calibration of the device; otherwise
    None."""
    calibration = newest_calibration(clinic, level.setting, on=on)
    if calibration is None:
        return None
    found = calibration.value.apply(level, on=on)
    return found if isinstance(found, SoundPressureLevel) else None
