"""The kinds of measure there are: every value of that type in the modules of this folder."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from .kind import MeasureKind

_PACKAGE = __name__.rpartition(".")[0]
#: Modules of this folder that define no kind.
_NO_KINDS = ("common", "kind", "kinds", "trial")


def _kinds() -> Iterator[MeasureKind]:
    for module in iter_modules([str(Path(__file__).parent)]):
        if module.name not in _NO_KINDS:
            for value in vars(import_module(f"{_PACKAGE}.{module.name}")).values():
                values = value if isinstance(value, tuple) else (value,)
                yield from (each for each in values if isinstance(each, MeasureKind))


KINDS: dict[str, MeasureKind] = {kind.code: kind for kind in _kinds()}


def kind_of(measure: str, shape: str = "") -> MeasureKind:
    """Return the kind of a task: its shape's, where that is listened for in its own way, or its
    measure's.

    Raises:
        KeyError: no such measure.
    """
    return KINDS[shape if shape in KINDS else measure]


def measures_with(attribute: str) -> tuple[str, ...]:
    """Return the measures whose kind has a property, as database queries need them."""
    return tuple(code for code, kind in KINDS.items() if getattr(kind, attribute))
