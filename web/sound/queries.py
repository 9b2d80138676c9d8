"""Which calibration holds where."""

from datetime import date

from reedcore.devices.levels import RecordedLevel, Setting, SoundPressureLevel

from .models import Calibration


def newest_calibration(clinic, setting: Setting) -> Calibration | None:
    """The newest of that device and browser, whether or not it still holds."""
    return clinic.calibrations.filter(device=setting.device, browser=setting.browser).first()


def sound_pressure(clinic, level: RecordedLevel, *, on: date) -> SoundPressureLevel | None:
    """The level as dB SPL where this clinic's calibration of that device holds; else None."""
    calibration = newest_calibration(clinic, level.setting)
    if calibration is None:
        return None
    found = calibration.value.applied(level, on=on)
    return found if isinstance(found, SoundPressureLevel) else None
