"""Shape and sound are two choices: any shape on any sound that carries it is a task.

The data files say how a sound is made and what a shape asks; a pair is both together. Where the
catalogue has a task written for a pair, with words of its own, that one is the pair's.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

import yaml

from reedcore.devices.back_pressure import CLASS_CMH2O, Resistance, Tube, back_pressure

DATA = Path(__file__).parent / "data"
#: Tube parameters of a task: unit, minimum, maximum.
TUBE_NUMBERS = {
    "bore_mm": ("mm inside", 1.5, 30.0),
    "length_cm": ("cm long", 2.0, 60.0),
    "depth_cm": ("cm in water", 0.5, 15.0),
}


@dataclass(frozen=True, slots=True)
class Sound:
    """A sound that a shape can be combined with.

    Attributes:
        said: what results call it.
        how: how it is made, the first line of the client's instruction.
        tube: its usual bore, length and depth, by the names of :data:`TUBE_NUMBERS`.
        instead: sounds for clients who cannot make it, the nearest first.
    """

    code: str
    name: str
    said: str
    how: str
    family: str
    resistance: Resistance | None = None
    tube: Mapping[str, float] = field(default_factory=dict)
    also: str = ""
    props: tuple[str, ...] = ()
    drawing: str = ""
    hazards: tuple[str, ...] = ()
    instead: tuple[str, ...] = ()
    faults: tuple[Mapping[str, str], ...] = ()
    felt: Mapping[str, str] | None = None
    cautions: str = ""

    @property
    def cmh2o(self) -> float:
        """Return the approximate back pressure, cmH₂O; None for an open vowel."""
        if self.tube:
            sizes = {"depth_cm": 0.0, **self.tube}
            tube = Tube(sizes["bore_mm"], sizes["length_cm"], sizes["depth_cm"])
            return back_pressure(tube).cmh2o
        return CLASS_CMH2O[self.resistance] if self.resistance else 0.0


@dataclass(frozen=True, slots=True)
class Shape:
    """A shape that can be combined with a sound.

    Attributes:
        lines: the client's, after the one that says how the sound is made.
        task: all else, as a task of the catalogue has it.
    """

    code: str
    name: str
    purpose: str
    lines: tuple[str, ...]
    task: Mapping[str, Any]
    also: str = ""


@cache
def sounds() -> dict[str, Sound]:
    """Return every sound, by its code, the easiest first."""
    found = {}
    for each in yaml.safe_load((DATA / "sounds.yaml").read_text()):
        lists = {name: tuple(value) for name, value in each.items() if isinstance(value, list)}
        made = {**each, **lists}
        if "resistance" in made:
            made["resistance"] = Resistance(made["resistance"])
        found[each["code"]] = Sound(**made)
    return found


@cache
def shapes() -> dict[str, Shape]:
    """Return every shape, by its code."""
    own = ("code", "name", "purpose", "lines", "also")
    found = {}
    for each in yaml.safe_load((DATA / "shapes.yaml").read_text()):
        rest = {name: value for name, value in each.items() if name not in own}
        mine = {name: each[name] for name in own if name in each}
        found[each["code"]] = Shape(**{**mine, "lines": tuple(each["lines"])}, task=rest)
    return found


def pair_code(shape: str, sound: str) -> str:
    """Return the code of a pair that has no task written for it."""
    return f"{shape}_on_{sound}"


def pair_data(shape: Shape, sound: Sound) -> dict[str, Any]:
    """Return a pair as the data of a task."""
    parameters = dict(shape.task["parameters"])
    for name, default in sound.tube.items():
        unit, least, most = TUBE_NUMBERS[name]
        parameters[name] = {"unit": unit, "default": default, "from": least, "to": most}
    data: dict[str, Any] = {
        **shape.task,
        "code": pair_code(shape.code, sound.code),
        "pair": [shape.code, sound.code],
        "name": f"{sound.name}: {shape.name}",
        "purpose": shape.purpose,
        "client": [sound.how, *shape.lines],
        "sound": sound.said,
        "parameters": parameters,
        "voiced": True,
        "hazards": [*sound.hazards, *shape.task.get("hazards", ())],
        "props": list(sound.props),
        "faults": [dict(each) for each in (*sound.faults, *shape.task.get("faults", ()))],
    }
    if sound.drawing:
        data["drawing"] = sound.drawing
    if sound.cautions:
        data["cautions"] = sound.cautions
    felt = sound.felt or shape.task.get("felt")
    if felt:
        data["felt"] = dict(felt)
    return data


def substitute_sounds(of: str) -> tuple[str, ...]:
    """Return substitutes for a sound that a client cannot make.

    First the sound's own list, then the others by the difference in back pressure."""
    known = sounds()
    if of not in known:
        return ()
    own = known[of].instead
    others = [each for each in known if each != of and each not in own]
    near = sorted(others, key=lambda each: abs(known[each].cmh2o - known[of].cmh2o))
    return (*own, *near)
