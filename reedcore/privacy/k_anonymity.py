"""k-anonymity: each person shares age band, voice and diagnosis with at least four others
(k-anonymity, Int J Uncertain Fuzziness Knowl Based Syst 2002;10:557–570)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Mapping
from dataclasses import dataclass, replace
from typing import TypeVar

Key = TypeVar("Key", bound=Hashable)
#: Minimum group size in a de-identified file.
LEAST_ALIKE = 5
_HELD_BACK = ("diagnosis", "voice", "age_band")


@dataclass(frozen=True, slots=True)
class Traits:
    """Traits that could identify a person; empty if not on record or withheld."""

    age_band: str = ""
    voice: str = ""
    diagnosis: str = ""


def generalise_traits(
    people: Mapping[Key, Traits], *, least: int = LEAST_ALIKE
) -> dict[Key, Traits]:
    """Return the traits that can be shown for each person; a person who stays unique is left out.

    The diagnosis is held back first, then the voice, then the age, and only of those who need it.
    A person shown with fewer traits is one of at least ``least`` shown that way.
    """
    shown: dict[Key, Traits] = {}
    left = dict(people)
    for step in range(len(_HELD_BACK) + 1):
        held_back = _HELD_BACK[:step]
        blank = dict.fromkeys(held_back, "")
        generalised = {key: replace(traits, **blank) for key, traits in left.items()}
        many = Counter(generalised.values())
        shown |= {key: traits for key, traits in generalised.items() if many[traits] >= least}
        left = {key: traits for key, traits in left.items() if key not in shown}
    return shown
