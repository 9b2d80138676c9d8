"""A ladder as data: rungs in order that change one thing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from reedcore.errors import ValueOutOfRange


@dataclass(frozen=True, slots=True)
class Ladder:
    """The steps of one setting, from the easiest to the hardest.

    Attributes:
        code, name: stable, and for people.
        changes: the one parameter that its rungs set.
        rungs: values in order, easiest first.
        labels: what each rung is called; as many as there are rungs.
        by_choice: rungs from this one on only by a written choice; None without such.
        client: each rung in the client's words; empty where it goes without saying.
        also_changes: a second parameter that goes with the first.
        goes_on_by: step beyond the last rung; 0 if the ladder ends there.

    Raises:
        ValueOutOfRange: no rungs, or labels for another number of them.
    """

    code: str
    name: str
    changes: str
    rungs: tuple[Any, ...]
    labels: tuple[str, ...]
    by_choice: int | None = None
    client: tuple[str, ...] = ()
    also_changes: str = ""
    goes_on_by: float = 0.0

    def __post_init__(self) -> None:
        if not self.rungs or len(self.labels) != len(self.rungs):
            raise ValueOutOfRange(
                what="number of labels",
                value=len(self.labels),
                lowest=max(1, len(self.rungs)),
                highest=max(1, len(self.rungs)),
            )

    def place_of(self, value: Any) -> int | None:
        """Return the rung of a value: for numbers the highest at or below it, otherwise the same
        one."""
        if isinstance(value, int | float) and not isinstance(value, bool):
            under = [at for at, rung in enumerate(self.rungs) if rung <= value + 1e-9]
            return under[-1] if under else None
        return self.rungs.index(value) if value in self.rungs else None

    def client_words(self, value: Any) -> str:
        """Return a rung in the client's words; empty if it has none."""
        place = self.place_of(value)
        return self.client[place] if place is not None and place < len(self.client) else ""

    def move(self, value: Any, *, by: int) -> Any:
        """Return the value this many rungs up or down; the same at either end."""
        place = self.place_of(value)
        if place is None:
            return self.rungs[0]
        if by < 0 and value != self.rungs[place]:
            place += 1  # Between two rungs, one down is the lower one.
        return self.rungs[max(0, min(len(self.rungs) - 1, place + by))]
