"""Edits that resolve a finding of the check, the same as a clinician would make."""

from collections.abc import Mapping

from reedcore.catalogue.tasks import Task
from reedcore.checks import Finding, FixKind

from .edits import AddItem, Edit, PlaceItem, RemoveItem, SetField, SetFrame, SetSeconds
from .programme import Programme

COOLDOWN_FAMILY = "cooldown"


def fix_edits(
    finding: Finding, programme: Programme, catalogue: Mapping[str, Task], *, id: str
) -> tuple[Edit, ...]:
    """Return the edits of a fix; empty if there is none.

    Args:
        id: of the item that it adds, where it adds one.
    """
    if finding.fix is None:
        return ()
    item, value = finding.item or "", finding.fix.value
    match finding.fix.kind:
        case FixKind.REMOVE:
            return (RemoveItem(item),)
        case FixKind.SET_SECONDS:
            return (SetSeconds(item, value),)
        case FixKind.SET_NOTES:
            return (SetField(item, "notes", [note.midi for note in value]),)
        case FixKind.SET_CEILING:
            return (SetField(item, "ceiling", value),)
        case FixKind.DROP_FLOOR:
            return (SetField(item, "floor", None),)
        case FixKind.SIP_AFTER:
            return (SetField(item, "sip", True),)
        case FixKind.MOVE_LAST:
            return (PlaceItem(item),)
        case FixKind.MOVE_FIRST:
            return (PlaceItem(item, _first_loud(programme, catalogue)),)
        case FixKind.ADD_TASK:
            return _adding_edits(item, value, catalogue, id)
        case FixKind.MARK_SHORT:
            return (SetField(value, "short", True),)
        case FixKind.DROP_DAY:
            kept = [day for day in programme.dose.weekdays if day != value]
            return (SetFrame("dose", "weekdays", kept),)


def _first_loud(programme: Programme, catalogue: Mapping[str, Task]) -> str:
    ids = [each.id for each in programme.items if catalogue[each.task].is_loud]
    return (ids or [programme.items[0].id])[0]


def _adding_edits(item: str, code: str, catalogue: Mapping[str, Task], id: str) -> tuple[Edit, ...]:
    """Return edits that add a cool-down at the end, or a warm-up before the task that needs it."""
    add = AddItem(id, code)
    task = catalogue.get(code)
    cools = task is not None and task.family == COOLDOWN_FAMILY
    return (add,) if cools or not item else (add, PlaceItem(id, item))
