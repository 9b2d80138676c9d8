"""Three kinds of level as types, so that they cannot be confused.

A level of a recording (dBFS), a level relative to the client's own comfortable voice on one device,
and a sound pressure level. Only a calibration makes the third, and only the third is ever written
as dB SPL: the types guarantee it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from math import isfinite, log10

from reedcore.errors import ValueOutOfRange

#: Validity of a calibration (convention).
VALID_DAYS = 30
#: Reference distance of levels from the mouth.
TOLD_AT_M = 0.30
#: Distances within this share are equal (an unsteady hand).
SAME_DISTANCE = 0.05
#: A floor always has a ceiling this far above it, and at most this level at 30 cm.
CEILING_ABOVE_FLOOR_DB, HIGHEST_CEILING_DB_SPL = 10.0, 95.0


@dataclass(frozen=True, slots=True)
class LevelSetting:
    """The device and place of a level; levels of different settings are never compared.

    Raises:
        ValueOutOfRange: a distance outside 0.02–5 m.
    """

    device: str
    browser: str
    distance_m: float

    def __post_init__(self) -> None:
        if not 0.02 <= self.distance_m <= 5.0:
            raise ValueOutOfRange(
                what="distance in m", value=self.distance_m, lowest=0.02, highest=5.0
            )


@dataclass(frozen=True, slots=True)
class RecordedLevel:
    """A level of a recording, in dB relative to full scale, with its device."""

    dbfs: float
    setting: LevelSetting

    def __str__(self) -> str:
        return f"{self.dbfs:.1f} dBFS"


@dataclass(frozen=True, slots=True)
class RelativeLevel:
    """A level relative to the client's comfortable voice on the same device, in dB."""

    db: float

    def __str__(self) -> str:
        return f"{self.db:+.1f} dB relative"


@dataclass(frozen=True, slots=True)
class SoundPressureLevel:
    """A level relative to 20 µPa. Made by a calibration, never by hand from a recording's."""

    db_spl: float
    weighting: str
    distance_m: float

    def __str__(self) -> str:
        return f"{self.db_spl:.0f} dB({self.weighting}) SPL at {self.distance_m * 100:.0f} cm"

    def at_distance(self, distance_m: float) -> SoundPressureLevel:
        """Return the same sound at another distance, in a free field: L₂ = L₁ + 20·log10(d₁
        / d₂)."""
        LevelSetting("", "", distance_m)  # Rejects an impossible distance.
        moved = self.db_spl + 20.0 * log10(self.distance_m / distance_m)
        return SoundPressureLevel(moved, self.weighting, distance_m)


#: Name of an unweighted level.
UNWEIGHTED = "Z"


class NotCalibrated(StrEnum):
    """The reason why a calibration does not apply."""

    EXPIRED = "expired"
    NOT_YET = "not_yet"
    OTHER_DEVICE = "other_device"
    OTHER_BROWSER = "other_browser"
    OTHER_DISTANCE = "other_distance"


@dataclass(frozen=True, slots=True)
class LevelCalibration:
    """dB SPL = dBFS + ``offset_db``, for one setting, from one day on."""

    offset_db: float
    weighting: str
    setting: LevelSetting
    made_on: date

    @property
    def expires_on(self) -> date:
        """Return the first day on which it is no longer valid."""
        return self.made_on + timedelta(days=VALID_DAYS)

    def objections(self, setting: LevelSetting, *, on: date) -> tuple[NotCalibrated, ...]:
        """Return why it does not hold for a recording of that day; empty when it does."""
        apart = abs(setting.distance_m / self.setting.distance_m - 1.0)
        checks = {
            NotCalibrated.EXPIRED: on >= self.expires_on,
            NotCalibrated.NOT_YET: on < self.made_on,
            NotCalibrated.OTHER_DEVICE: setting.device != self.setting.device,
            NotCalibrated.OTHER_BROWSER: setting.browser != self.setting.browser,
            NotCalibrated.OTHER_DISTANCE: apart > SAME_DISTANCE,
        }
        return tuple(reason for reason, holds in checks.items() if holds)

    def apply(
        self, level: RecordedLevel, *, on: date
    ) -> SoundPressureLevel | tuple[NotCalibrated, ...]:
        """Return the sound pressure level at the recording's distance, or the reason why there is
        none."""
        objections = self.objections(level.setting, on=on)
        if objections:
            return objections
        return SoundPressureLevel(
            level.dbfs + self.offset_db, self.weighting, self.setting.distance_m
        )


def calibrate_level(
    *,
    meter_db_spl: float,
    recorded: RecordedLevel,
    weighting: str = "C",
    weighted_by_db: float | None = None,
    on: date,
) -> LevelCalibration:
    """Return a calibration from one steady sound, read on a sound-level meter and recorded at the
    same time.

    Args:
        weighted_by_db: how much higher the meter's weighting makes this very sound. A device
            records without one, so that is taken off the reading, and what the calibration gives
            is unweighted; None if unknown, which is treated as no difference.

    Raises:
        ValueOutOfRange: a reading outside 30–130 dB SPL, or a recording of silence or at full
            scale.
    """
    for what, value, lowest, highest in (
        ("meter reading in dB SPL", meter_db_spl, 30.0, 130.0),
        ("recorded level in dBFS", recorded.dbfs, -90.0, -0.5),
    ):
        if not (isfinite(value) and lowest <= value <= highest):
            raise ValueOutOfRange(what=what, value=value, lowest=lowest, highest=highest)
    offset = meter_db_spl - (weighted_by_db or 0.0) - recorded.dbfs
    given = weighting if weighted_by_db is None else UNWEIGHTED
    return LevelCalibration(offset, given, recorded.setting, on)


def level_relative_to(comfortable: RecordedLevel, level: RecordedLevel) -> RelativeLevel | None:
    """Return a level relative to the client's comfortable voice; None across settings."""
    if comfortable.setting != level.setting:
        return None
    return RelativeLevel(level.dbfs - comfortable.dbfs)


def energetic_mean_db(levels_db: Sequence[float]) -> float:
    """Return the level of the mean power.

    Raises:
        ValueOutOfRange: no levels at all.
    """
    if not levels_db:
        raise ValueOutOfRange(what="number of levels", value=0, lowest=1, highest=None)
    return 10.0 * log10(sum(10.0 ** (level / 10.0) for level in levels_db) / len(levels_db))
