"""The kinds of edit, one class for each."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from reedcore.errors import NotAnEdit


@dataclass(frozen=True, slots=True)
class AddItem:
    """Add a task with its defaults after another item; at the end if ``after`` is None."""

    id: str
    task: str
    after: str | None = None
    do: Literal["add_item"] = "add_item"


@dataclass(frozen=True, slots=True)
class BringBack:
    """An item as it once was."""

    item: dict[str, Any]
    after: str = ""
    do: Literal["bring_back"] = "bring_back"


@dataclass(frozen=True, slots=True)
class RepeatItem:
    """Repeat an item after itself, with its own id."""

    item: str
    id: str
    do: Literal["repeat_item"] = "repeat_item"


@dataclass(frozen=True, slots=True)
class RemoveItem:
    """Out of the session."""

    item: str
    do: Literal["remove_item"] = "remove_item"


@dataclass(frozen=True, slots=True)
class MoveItem:
    """Move an item down by this many places, or up if negative, no further than either end."""

    item: str
    by: int
    do: Literal["move_item"] = "move_item"


@dataclass(frozen=True, slots=True)
class PlaceItem:
    """Move an item before another one; to the end if none is named."""

    item: str
    at: str = ""
    do: Literal["place_item"] = "place_item"


@dataclass(frozen=True, slots=True)
class SetField:
    """Set a field of an item: its sets, notes, sound, floor, lines …"""

    item: str
    name: str
    value: Any
    do: Literal["set_field"] = "set_field"


@dataclass(frozen=True, slots=True)
class SetParameter:
    """Set a parameter or choice of the task; an empty text restores the default."""

    item: str
    name: str
    value: Any
    do: Literal["set_parameter"] = "set_parameter"


@dataclass(frozen=True, slots=True)
class SetLimit:
    """Set a steadiness limit; None removes it."""

    item: str
    name: str
    value: float | None
    do: Literal["set_limit"] = "set_limit"


@dataclass(frozen=True, slots=True)
class SetPattern:
    """Set a field of a pattern: its groups of degrees, floor, ceiling, bridge or cue."""

    item: str
    name: str
    value: Any
    do: Literal["set_pattern"] = "set_pattern"


@dataclass(frozen=True, slots=True)
class SetSeconds:
    """Set the task's target in seconds under the name that its measure uses; this removes a row."""

    item: str
    value: float
    do: Literal["set_seconds"] = "set_seconds"


@dataclass(frozen=True, slots=True)
class Toggle:
    """Yes to no, and no to yes."""

    item: str
    name: str
    do: Literal["toggle"] = "toggle"


@dataclass(frozen=True, slots=True)
class ClimbRung:
    """Move the task up its ladder by this many rungs, or down if negative."""

    item: str
    by: int
    do: Literal["climb_rung"] = "climb_rung"


@dataclass(frozen=True, slots=True)
class ChooseRung:
    """Choose a rung of the task's ladder, counted from 0."""

    item: str
    place: int
    do: Literal["choose_rung"] = "choose_rung"


@dataclass(frozen=True, slots=True)
class SetRung:
    """The rung that a decision moved to; a row of rising targets gives way to seconds."""

    item: str
    changes: str
    value: Any
    do: Literal["set_rung"] = "set_rung"


@dataclass(frozen=True, slots=True)
class Swap:
    """Replace an item's task; settings that do not depend on the task stay."""

    item: str
    task: str
    do: Literal["swap"] = "swap"


@dataclass(frozen=True, slots=True)
class SetFrame:
    """Set a field of the session, of its dose ("dose") or of its answers ("practice")."""

    part: Literal["", "dose", "practice"]
    name: str
    value: Any
    do: Literal["set_frame"] = "set_frame"


@dataclass(frozen=True, slots=True)
class AddStrand:
    """Add a programme beside the main one; no change if it exists."""

    id: str
    strand: dict[str, Any]
    do: Literal["add_strand"] = "add_strand"


@dataclass(frozen=True, slots=True)
class RemoveStrand:
    """It and its items out; the main one stays."""

    id: str
    do: Literal["remove_strand"] = "remove_strand"


@dataclass(frozen=True, slots=True)
class SetStrand:
    """Set a field of a programme beside the main one, or of its dose."""

    id: str
    part: Literal["", "dose"]
    name: str
    value: Any
    do: Literal["set_strand"] = "set_strand"


@dataclass(frozen=True, slots=True)
class Overrule:
    """Set the reason for overruling a finding; remove the reason if empty."""

    key: str
    reason: str
    do: Literal["overrule"] = "overrule"


@dataclass(frozen=True, slots=True)
class Replace:
    """Another document in place of the whole."""

    document: dict[str, Any]
    do: Literal["replace"] = "replace"


@dataclass(frozen=True, slots=True)
class BeginTaper:
    """The taper's first week."""

    peak_s: float
    today: date
    do: Literal["begin_taper"] = "begin_taper"


@dataclass(frozen=True, slots=True)
class StepTaper:
    """A week of the taper on, or back where negative."""

    by: int
    today: date
    do: Literal["step_taper"] = "step_taper"


@dataclass(frozen=True, slots=True)
class Maintain:
    """Maintenance without an end."""

    today: date
    do: Literal["maintain"] = "maintain"


Edit = (
    AddItem | BringBack | RepeatItem | RemoveItem | MoveItem | PlaceItem | SetField | SetParameter
    | SetLimit | SetPattern | SetSeconds | SetRung | Toggle | ClimbRung | ChooseRung | Swap
    | SetFrame | AddStrand | RemoveStrand | SetStrand | Overrule | Replace
    | BeginTaper | StepTaper | Maintain
)  # fmt: skip
EDITS: TypeAdapter[Edit] = TypeAdapter(Annotated[Edit, Field(discriminator="do")])


def edit_of(raw: Any) -> Edit:
    """Return an edit as it was sent.

    Raises:
        reedcore.errors.NotAnEdit: it is none.
    """
    try:
        return EDITS.validate_python(raw)
    except ValidationError as error:
        first = error.errors()[0]
        raise NotAnEdit(detail=" ".join(map(str, (*first["loc"], first["type"])))) from error
