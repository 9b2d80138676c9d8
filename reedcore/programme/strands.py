"""Several programmes in force together: one main, and others beside it, each of its own type and
dose (a daily block, resets after long calls, a set before an event).

They stand in one document, so that one version says all that is in force and one check looks at
all of it. Each can be had as a document of its own: whatever is asked of a programme is asked of
that.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from reedcore.dose import DoseKind

Document = Mapping[str, Any]
#: The one that all others stand beside.
MAIN = ""
#: Beside it at most so many.
MOST_BESIDE = 5


@dataclass(frozen=True, slots=True)
class Strand:
    """One of the programmes: ``id`` is empty for the main one; the document is its own alone."""

    id: str
    document: dict[str, Any]

    @property
    def sort(self) -> str:
        """What type of session it is."""
        return str(self.document.get("sort", "full"))

    @property
    def is_dated(self) -> bool:
        """Its sessions are due on days; what is done on a trigger is never missed."""
        return bool(self.document["dose"]["kind"] != DoseKind.ON_DEMAND)


def strand_of_item(item: Mapping[str, Any]) -> str:
    """Which one it belongs to."""
    return str(item.get("strand", MAIN))


def strands_of(document: Document) -> tuple[Strand, ...]:
    """All of them, the main one first."""
    return tuple(strand_of(document, id) for id in (MAIN, *document.get("beside", {})))


def strand_of(document: Document, id: str) -> Strand:
    """One of them.

    Raises:
        KeyError: there is none of that name.
    """
    if id == MAIN:
        return Strand(MAIN, _own(document, MAIN, {}))
    return Strand(id, _own(document, id, document["beside"][id]))


def _own(document: Document, id: str, own: Mapping[str, Any]) -> dict[str, Any]:
    rest = {name: value for name, value in document.items() if name not in ("beside", "items")}
    items = [item for item in document["items"] if strand_of_item(item) == id]
    return {**rest, **own, "items": items}


def doses_of(document: Document) -> tuple[Mapping[str, Any], ...]:
    """The doses of all of them, the main one's first; none where nothing has one."""
    if "dose" not in document:
        return ()
    return (document["dose"], *(each["dose"] for each in document.get("beside", {}).values()))
