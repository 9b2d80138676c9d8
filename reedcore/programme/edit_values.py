"""What edits there are: one value for each thing that is asked for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from reedcore.errors import NotAnEdit


@dataclass(frozen=True, slots=True)
class AddItem:
    """A task at its own defaults, behind another item; the last where ``after`` is None."""

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
    """The same once more, behind it, under an id of its own."""

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
    """So many places down, or up where negative; not past either end."""

    item: str
    by: int
    do: Literal["move_item"] = "move_item"


@dataclass(frozen=True, slots=True)
class PlaceItem:
    """Where another one stands, which makes room; to the end without another."""

    item: str
    at: str = ""
    do: Literal["place_item"] = "place_item"


@dataclass(frozen=True, slots=True)
class SetField:
    """One thing an item says of itself: its sets, notes, sound, floor, lines …"""

    item: str
    name: str
    value: Any
    do: Literal["set_field"] = "set_field"


@dataclass(frozen=True, slots=True)
class SetParameter:
    """One number of the task, or one of its ways; an empty text for the way it has by itself."""

    item: str
    name: str
    value: Any
    do: Literal["set_parameter"] = "set_parameter"


@dataclass(frozen=True, slots=True)
class SetLimit:
    """One steadiness limit; None for none."""

    item: str
    name: str
    value: float | None
    do: Literal["set_limit"] = "set_limit"


@dataclass(frozen=True, slots=True)
class SetPattern:
    """One thing of a pattern: its groups of degrees, its floor, ceiling, bridge, or its cue."""

    item: str
    name: str
    value: Any
    do: Literal["set_pattern"] = "set_pattern"


@dataclass(frozen=True, slots=True)
class SetSeconds:
    """The one number of seconds that a task has, whatever it is called; a row gives way."""

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
    """So many rungs up the task's ladder, or down where negative; nothing at its end."""

    item: str
    by: int
    do: Literal["climb_rung"] = "climb_rung"


@dataclass(frozen=True, slots=True)
class ChooseRung:
    """That rung of the task's ladder, counted from 0."""

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
    """Another task in its place, which keeps what the item asks beside the task."""

    item: str
    task: str
    do: Literal["swap"] = "swap"


@dataclass(frozen=True, slots=True)
class SetFrame:
    """One thing of the session, of its dose ("dose") or of the answers ("practice")."""

    part: Literal["", "dose", "practice"]
    name: str
    value: Any
    do: Literal["set_frame"] = "set_frame"


@dataclass(frozen=True, slots=True)
class AddStrand:
    """Another programme beside the main one; nothing where it is there already."""

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
    """One thing of a programme beside the main one, or of its dose."""

    id: str
    part: Literal["", "dose"]
    name: str
    value: Any
    do: Literal["set_strand"] = "set_strand"


@dataclass(frozen=True, slots=True)
class Overrule:
    """Why a finding is to be so all the same; its reason taken back where empty."""

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
