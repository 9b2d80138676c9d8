"""Words of the catalogue."""

#: What each number of a task is called.
NUMBERS = {
    "bore_mm": "bore", "breath_in": "breathe in", "breath_out": "breathe out",
    "breaths": "breaths", "count": "count", "count_to": "count to", "cycles": "breaths",
    "depth_cm": "depth in water", "held": "held between in and out", "held_s": "breath held",
    "items": "how many", "length_cm": "length", "lines": "lines", "minutes": "minutes",
    "pant_s": "panting", "pause_s": "pause after the breath in", "pulses": "pulses",
    "reps": "how often", "rounds_down": "rounds down", "rounds_up": "rounds up",
    "s_s": "“s” lasts", "seconds": "seconds", "sets": "sets", "step_st": "step",
    "stretch_s": "stretch", "tempo": "tempo", "z_s": "“z” lasts",
}  # fmt: skip


def number_name(name: str) -> str:
    """A number of a task in words; of a clinic's own task as that calls it."""
    return NUMBERS.get(name, name.replace("_", " "))
