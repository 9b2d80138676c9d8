"""Which dB SPL a device's full scale is, and for how long that is believed."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from reedcore.devices import levels
from web.accounts.models import Clinic


class Calibration(models.Model):
    """A reading of a sound-level meter, taken while the device recorded the same sound."""

    class Weighting(models.TextChoices):
        A = "A", "A"
        C = "C", "C"
        Z = "Z", "Z"

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="calibrations")
    device = models.CharField(max_length=200)
    browser = models.CharField(max_length=200)
    distance_m = models.FloatField()
    weighting = models.CharField(max_length=1, choices=Weighting, default=Weighting.C)
    meter_db_spl = models.FloatField()
    recorded_dbfs = models.FloatField()
    #: How much higher the meter's weighting makes this sound; None if unknown.
    weighted_by_db = models.FloatField(null=True)
    made_on = models.DateField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    simulated = models.BooleanField(default=False)

    class Meta:
        ordering = ["-made_on", "-pk"]
        indexes = [models.Index(fields=["clinic", "device", "-made_on"])]

    def __str__(self) -> str:
        return f"{self.device}, {self.made_on:%Y-%m-%d}"

    @property
    def value(self) -> levels.LevelCalibration:
        """Return the calibration as a value of the core."""
        setting = levels.LevelSetting(self.device, self.browser, self.distance_m)
        return levels.calibrate_level(
            meter_db_spl=self.meter_db_spl,
            recorded=levels.RecordedLevel(self.recorded_dbfs, setting),
            weighting=self.weighting,
            weighted_by_db=self.weighted_by_db,
            on=self.made_on,
        )
