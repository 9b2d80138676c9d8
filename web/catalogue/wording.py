"""Words of the catalogue."""

from collections.abc import Callable

from django.utils.translation import gettext, ngettext

from reedcore.catalogue.schema import FAMILIES
from reedcore.translation import translate
from web.ui.marked import Words, gettext_noop

#: Display name of each task parameter.
NUMBERS = Words({
    "bore_mm": gettext_noop("bore"), "breath_in": gettext_noop("breathe in"), "breath_out": gettext_noop("breathe out"),
    "breaths": gettext_noop("breaths"), "count": gettext_noop("count"), "count_to": gettext_noop("count to"), "cycles": gettext_noop("breaths"),
    "depth_cm": gettext_noop("depth in water"), "held": gettext_noop("held between in and out"), "held_s": gettext_noop("breath held"),
    "items": gettext_noop("how many"), "length_cm": gettext_noop("length"), "lines": gettext_noop("lines"), "minutes": gettext_noop("minutes"),
    "pant_s": gettext_noop("panting"), "pause_s": gettext_noop("pause after the breath in"), "pulses": gettext_noop("pulses"),
    "reps": gettext_noop("how often"), "rounds_down": gettext_noop("rounds down"), "rounds_up": gettext_noop("rounds up"),
    "s_s": gettext_noop("“s” lasts"), "seconds": gettext_noop("seconds"), "sets": gettext_noop("sets"), "step_st": gettext_noop("step"),
    "stay_s": gettext_noop("stay"), "stretch_s": gettext_noop("stretch"), "tempo": gettext_noop("tempo"), "z_s": gettext_noop("“z” lasts"),
})  # fmt: skip


def number_name(name: str) -> str:
    """Return a number of a task in words; of a clinic's own task as that calls it."""
    return NUMBERS.get(name, name.replace("_", " "))


#: A number of things, by the unit that the catalogue gives a task's parameter.
_COUNTED_UNITS: dict[str, Callable[[int], str]] = {
    "times": lambda n: ngettext("{value:g} time", "{value:g} times", n),
    "lines": lambda n: ngettext("{value:g} line", "{value:g} lines", n),
    "counts": lambda n: ngettext("{value:g} count", "{value:g} counts", n),
    "semitones": lambda n: ngettext("{value:g} semitone", "{value:g} semitones", n),
    "breaths": lambda n: ngettext("{value:g} breath", "{value:g} breaths", n),
    "rounds down": lambda n: ngettext("{value:g} round down", "{value:g} rounds down", n),
    "rounds up": lambda n: ngettext("{value:g} round up", "{value:g} rounds up", n),
    "pulses": lambda n: ngettext("{value:g} pulse", "{value:g} pulses", n),
    "numbers": lambda n: ngettext("{value:g} number", "{value:g} numbers", n),
    "sentences": lambda n: ngettext("{value:g} sentence", "{value:g} sentences", n),
    "questions": lambda n: ngettext("{value:g} question", "{value:g} questions", n),
    "moments": lambda n: ngettext("{value:g} moment", "{value:g} moments", n),
    "glasses": lambda n: ngettext("{value:g} glass", "{value:g} glasses", n),
    "habits": lambda n: ngettext("{value:g} habit", "{value:g} habits", n),
    "rows": lambda n: ngettext("{value:g} row", "{value:g} rows", n),
    "minutes": lambda n: ngettext("{value:g} minute", "{value:g} minutes", n),
    "beats a minute": lambda n: ngettext("{value:g} beat a minute", "{value:g} beats a minute", n),
}


def number_with_unit(value: float, unit: str) -> str:
    """Return a number with its unit: "1 line", "3 lines", "2.5 s"; less than a minute in seconds."""
    if unit == "min" and 0 < value < 1:
        return gettext("{seconds:.0f} s").format(seconds=60 * value)
    words = _COUNTED_UNITS.get(unit)
    if words is None:  # A unit that is written the same for one and for many.
        return f"{value:g} {translate(unit)}".rstrip()
    return words(int(value) if value == int(value) else 2).format(value=value)


def families() -> list[tuple[str, str]]:
    """Return the families of tasks, by code, with their names."""
    return [(code, translate(name)) for code, name in FAMILIES.items()]
