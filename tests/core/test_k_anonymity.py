"""No person is unique in the de-identified export."""

from collections import Counter

from hypothesis import given
from hypothesis import strategies as st

from reedcore.privacy import LEAST_ALIKE, Traits, generalise_traits

SOME = st.sampled_from(["", "a", "b", "c"])
PEOPLE = st.dictionaries(st.integers(0, 60), st.builds(Traits, SOME, SOME, SOME), max_size=40)


@given(PEOPLE)
def test_every_record_shown_is_one_of_at_least_five(people):
    shown = generalise_traits(people)
    assert all(count >= LEAST_ALIKE for count in Counter(shown.values()).values())
    for key, traits in shown.items():
        known = people[key]
        assert traits.age_band in (known.age_band, "")
        assert traits.voice in (known.voice, "")
        assert traits.diagnosis in (known.diagnosis, "")
    # Groups of fewer than five are left out; a group of five could be shown without values.
    assert len(people) - len(shown) < LEAST_ALIKE


def test_only_records_that_stand_out_are_generalised():
    people = {n: Traits("18-39", "treble", "tension") for n in range(5)}
    people |= {10 + n: Traits("18-39", "treble", f"rare {n}") for n in range(5)}
    people |= {20: Traits("75+", "bass", "tension")}
    shown = generalise_traits(people)
    assert shown[0] == Traits("18-39", "treble", "tension")
    assert shown[10] == Traits("18-39", "treble", "")
    assert 20 not in shown


def test_four_are_too_few_and_five_enough():
    same = Traits("18-39", "treble", "tension")
    assert generalise_traits(dict.fromkeys(range(4), same)) == {}
    assert generalise_traits(dict.fromkeys(range(5), same)) == dict.fromkeys(range(5), same)
