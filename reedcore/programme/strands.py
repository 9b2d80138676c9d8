"""Several programmes in force together: a main one and others beside it, each with its own type and
dose (a daily block, resets after long calls, a set before an event).

They stand in one document, so that one version says all that is in force and one check looks at
all of it. Each can be had as a document of its own: whatever is asked of a programme is asked of
that.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from reedcore.dose import DoseKind

from .programme import MAIN, NOTHING, Programme

#: Maximum number beside the main one.
MOST_BESIDE = 5


@dataclass(frozen=True, slots=True)
class Strand:
    """One of a client's programmes.

    Attributes:
        id: empty for the main one.
        programme: it alone, with its own items and dose.
        name: its own name; empty where it is called by its type.
    """

    id: str
    programme: Programme
    name: str = ""

    @property
    def sort(self) -> str:
        """Return its type of session."""
        return self.programme.sort

    @property
    def is_dated(self) -> bool:
        """Return whether its sessions are due on days; a session on a trigger is never missed."""
        return self.programme.dose.kind is not DoseKind.ON_DEMAND


def strands_of(programme: Programme) -> tuple[Strand, ...]:
    """Return all of them, the main one first."""
    return tuple(strand_of(programme, id) for id in (MAIN, *programme.beside))


def strand_of(programme: Programme, id: str) -> Strand:
    """Return one of them.

    Raises:
        KeyError: there is none of that name.
    """
    items = tuple(item for item in programme.items if item.strand == id)
    alone = replace(programme, items=items, beside=NOTHING)
    if id == MAIN:
        return Strand(MAIN, alone)
    own = programme.beside[id]
    return Strand(
        id,
        replace(
            alone,
            sort=own.sort,
            dose=own.dose,
            school=alone.school if own.school is None else own.school,
            daily_for_life=(
                alone.daily_for_life if own.daily_for_life is None else own.daily_for_life
            ),
        ),
        own.name,
    )
