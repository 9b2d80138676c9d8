"""The fix for notes outside the client's range: the same notes, moved as a block."""

from reedcore.baseline import PitchRange
from reedcore.checks import FixKind, check
from tests.core.test_checks import PERSON, item, notes, person, plan


def moved_notes(asked, who):
    found = check(plan(item(notes=notes(*asked))), who)
    return [
        tuple(note.name() for note in each.fix.value)
        for each in found
        if each.fix and each.fix.kind is FixKind.SET_NOTES
    ]


def test_notes_outside_are_moved_as_a_block_into_the_comfortable_range_where_they_fit():
    # The comfortable range is A2 to A3.
    assert moved_notes(["C4", "D4"], PERSON) == [("G3", "A3")]
    assert moved_notes(["C2", "C3"], PERSON) == [("A2", "A3")]  # As wide as the range itself.
    assert moved_notes(["C2", "D3"], PERSON) == []  # Wider than the range.


def test_the_range_is_read_at_the_clinics_own_pitch():
    # 220 Hz is an A3 at 440 Hz, and nearly a quarter tone above it at 431 Hz.
    low = person(comfortable=PitchRange(110.0, 223.0), held=None, a4_hz=431.0)
    assert moved_notes(["D4"], low) == [("A♯3",)]
