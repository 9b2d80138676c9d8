"""Words of the catalogue."""

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
    "stretch_s": gettext_noop("stretch"), "tempo": gettext_noop("tempo"), "z_s": gettext_noop("“z” lasts"),
})  # fmt: skip


def number_name(name: str) -> str:
    """Return a number of a task in words; of a clinic's own task as that calls it."""
    return NUMBERS.get(name, name.replace("_", " "))


def families() -> list[tuple[str, str]]:
    """Return the families of tasks, by code, with their names."""
    return [(code, translate(name)) for code, name in FAMILIES.items()]
