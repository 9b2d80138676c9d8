"""Back pressure of straws, tubes and water: an estimate that puts them in order, no more.

Air at flow Q through a bore of diameter d and length L: entry and exit loss of 1.5 velocity heads;
friction laminar (32·μ·L·V/d²) up to a Reynolds number of 2300, above it that of a rough estimate
for turbulent flow, f = 0.316·Re^(−1/4) (Forschungsarb Ing Wes 1913;131:1–34). Water adds the depth
at which the air leaves it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from math import floor, log10, pi

from reedcore.errors import ValueOutOfRange

FLOW_L_PER_S = 0.15
VISCOSITY_PA_S = 1.9e-5
DENSITY_KG_PER_M3 = 1.14
PA_PER_CMH2O = 98.07
TURBULENT_FROM_RE = 2300.0
#: Plausible bores, lengths and depths of straws and tubes.
DIAMETER_MM, LENGTH_CM, DEPTH_CM = (1.5, 30.0), (2.0, 60.0), (0.0, 15.0)


class Resistance(StrEnum):
    """Editable pressure classes of sounds without a bore (trills, hums, fricatives)."""

    LOW = "low"
    MIDDLE = "middle"
    HIGH = "high"


#: Pressure classes of straws and depths, cmH₂O (convention).
CLASS_CMH2O = {Resistance.LOW: 0.5, Resistance.MIDDLE: 2.0, Resistance.HIGH: 6.0}


@dataclass(frozen=True, slots=True)
class BackPressure:
    """An estimate at 0.15 L/s.

    Attributes:
        cmh2o: bore and water together.
        is_rough: the flow is turbulent, so the estimate is rough.
    """

    cmh2o: float
    is_rough: bool = False

    @property
    def about(self) -> float:
        """Round to one significant figure, the precision of the estimate."""
        if self.cmh2o <= 0:
            return 0.0
        places = -floor(log10(self.cmh2o))
        return round(self.cmh2o, places)


@dataclass(frozen=True, slots=True)
class Tube:
    """A straw or tube, in water where ``depth_cm`` is above 0.

    Raises:
        ValueOutOfRange: outside 1.5–30 mm bore, 2–60 cm length, 0–15 cm depth.
    """

    diameter_mm: float
    length_cm: float
    depth_cm: float = 0.0

    def __post_init__(self) -> None:
        for what, value, (lowest, highest) in (
            ("diameter in mm", self.diameter_mm, DIAMETER_MM),
            ("length in cm", self.length_cm, LENGTH_CM),
            ("depth in cm", self.depth_cm, DEPTH_CM),
        ):
            if not lowest <= value <= highest:
                raise ValueOutOfRange(what=what, value=value, lowest=lowest, highest=highest)


def back_pressure(tube: Tube, *, flow_l_per_s: float = FLOW_L_PER_S) -> BackPressure:
    """Return the pressure needed to push air through.

    Raises:
        ValueOutOfRange: a flow outside 0.01–1 L/s.
    """
    if not 0.01 <= flow_l_per_s <= 1.0:
        raise ValueOutOfRange(what="flow in L/s", value=flow_l_per_s, lowest=0.01, highest=1.0)
    d, length = tube.diameter_mm / 1000.0, tube.length_cm / 100.0
    speed = 4.0 * flow_l_per_s / 1000.0 / (pi * d**2)
    reynolds = DENSITY_KG_PER_M3 * speed * d / VISCOSITY_PA_S
    head = DENSITY_KG_PER_M3 * speed**2 / 2.0
    rough = reynolds > TURBULENT_FROM_RE
    if rough:
        friction = 0.316 * reynolds**-0.25 * (length / d) * head
    else:
        friction = 32.0 * VISCOSITY_PA_S * length * speed / d**2
    return BackPressure((1.5 * head + friction) / PA_PER_CMH2O + tube.depth_cm, rough)


def class_pressure(resistance: Resistance) -> BackPressure:
    """Return the pressure class of a trill, hum or fricative."""
    return BackPressure(CLASS_CMH2O[resistance])


def props_in_order(
    props: Iterable[tuple[str, BackPressure]],
) -> tuple[tuple[str, BackPressure], ...]:
    """Return named props from easy to hard."""
    return tuple(sorted(props, key=lambda prop: (prop[1].cmh2o, prop[0])))
