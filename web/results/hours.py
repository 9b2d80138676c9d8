"""The parts of a day, as reports and files tell them apart."""

#: (until hour, name).
PARTS_OF_DAY = ((12, "morning"), (17, "afternoon"), (24, "evening"))


def part_of_day(hour: int) -> str:
    """Return the part of the day that a local hour belongs to."""
    return next(name for until, name in PARTS_OF_DAY if hour < until)
