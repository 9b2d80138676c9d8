"""Edits of the composer that need more than the document: fixes of the check, a starting programme,
and the version in force."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from django.utils import timezone
from django.utils.translation import gettext

from reedcore.catalogue.tasks import task_of_pair
from reedcore.errors import NoSuchTask
from reedcore.ladders import personal_rungs_s
from reedcore.pitch.patterns import HIGHEST, LOWEST, BreathRule
from reedcore.programme.document_values import (
    beside_document,
    item_document,
    programme_document,
    programme_from,
)
from reedcore.programme.edits import (
    AddStrand,
    BringBack,
    Edit,
    RemoveStrand,
    Replace,
    SetField,
    SetParameter,
    SetPattern,
    Swap,
)
from reedcore.programme.fixing import fix_edits
from reedcore.programme.programme import MAIN, Programme
from reedcore.programme.sounds import CATCH
from reedcore.programme.starting import (
    beside_programmes,
    fitted_beside,
    fitted_item,
    refit_programme,
    starting_programme,
    starting_programmes,
)
from web.catalogue.models import LibraryEntry
from web.catalogue.queries import library_entry, tasks_for
from web.record.client_context import own_reach
from web.record.figures import client_figures
from web.record.programmes import document_in_force

from .composer_view import second_look
from .field_parsing import FieldNotParsed

if TYPE_CHECKING:
    from web.programmes.drafting import OpenDraft


def _fix(draft: Any, raw: Any) -> Any:
    """Return the fix of a finding; the check runs again, because the finding may be resolved
    already."""
    look = second_look(draft.client, draft.programme, draft.tasks)
    for finding, key in zip(look.findings, look.keys, strict=True):
        if key == raw.get("key"):
            return fix_edits(finding, draft.programme, draft.tasks, id=str(raw.get("id", ""))[:40])
    return ()


def _add(draft: OpenDraft, raw: Any) -> tuple[BringBack]:
    """Return a task, with this client's notes, seconds, levels and props."""
    client, code = draft.client, str(raw.get("task", ""))
    task = draft.tasks.get(code)
    if task is None:
        raise NoSuchTask(task=code[:40])
    id = str(raw.get("id", ""))[:40]
    programme = draft.programme
    if programme.item(id):
        raise FieldNotParsed(gettext("This task is already in the session."))
    item = fitted_item(task, client_figures(client), id=id)
    after = raw.get("after")
    behind = _last(programme) if after is None else str(after)[:40]
    # A new item joins the programme of the task before it.
    before = programme.item(behind)
    item = replace(item, strand=before.strand if before else MAIN)
    return (BringBack(item_document(item), behind),)


def _last(programme: Programme) -> str:
    return programme.items[-1].id if programme.items else ""


def _pair(draft: OpenDraft, raw: dict[str, str]) -> Any:
    """Return the same shape on another sound, or another shape on the same sound."""
    item = draft.item(str(raw.get("item", ""))[:40])
    task = draft.tasks[item.task]
    if task.pair is None:
        raise FieldNotParsed(gettext("This task has no shape and sound to change."))
    shape, sound = task.pair
    other = task_of_pair(
        str(raw.get("shape") or shape), str(raw.get("sound") or sound), draft.tasks
    )
    if other is None:
        raise FieldNotParsed(gettext("This task does not exist."))
    same_notes = other.measure == task.measure and other.notes == task.notes
    if same_notes:
        return (Swap(item.id, other.code),)
    fresh = fitted_item(other, client_figures(draft.client), id="x")
    return (
        Swap(item.id, other.code),
        SetField(item.id, "notes", list(fresh.notes)),
    )


def _beside_programme(draft: OpenDraft, raw: Any) -> Any:
    """Return another programme beside the main one, with this client's figures."""
    client, code = draft.client, str(raw.get("code", ""))
    if code not in beside_programmes():
        raise FieldNotParsed(gettext("This programme does not exist."))
    programme = draft.programme
    if code in programme.beside:
        raise FieldNotParsed(gettext("This programme is already added."))
    tasks, today = tasks_for(client.clinic), timezone.localdate()
    beside, items = fitted_beside(code, client_figures(client), tasks, today=today)
    last = _last(programme)
    edits: list[Edit] = [AddStrand(code, beside_document(beside))]
    for item in items:
        edits.append(BringBack(item_document(item), last))
        last = item.id
    return tuple(edits)


def _drop_strand(draft: Any, raw: Any) -> Any:
    return (RemoveStrand(str(raw.get("id", ""))[:20]),)


def _use(draft: OpenDraft, raw: dict[str, str]) -> tuple[Replace] | None:
    """Return a programme from the library, or of another client, with this client's figures."""
    client = draft.client
    where, _, number = str(raw.get("code", "")).partition(":")
    document = _document_in_force(draft, where, int(number)) if number.isdecimal() else None
    if not document:
        raise FieldNotParsed(gettext("This programme no longer exists."))
    figures, today = client_figures(client), timezone.localdate()
    programme = refit_programme(programme_from(document), figures, draft.tasks, today=today)
    return (Replace(programme_document(programme)),)


def _document_in_force(draft: OpenDraft, where: str, pk: int) -> dict[str, Any] | None:
    if where == "library":
        entry = library_entry(draft.by, LibraryEntry.Kind.PROGRAMME, pk)
        return entry.data if entry else None
    other = draft.by.visible_clients().filter(pk=pk).first() if where == "client" else None
    return document_in_force(other) if other else None


def _own_lines(draft: OpenDraft, raw: dict[str, str]) -> tuple[SetField] | None:
    """Return lines of the clinic's library, into an item."""
    item = draft.item(str(raw.get("item", ""))[:40])
    pk = str(raw.get("pk", ""))
    found = library_entry(draft.by, LibraryEntry.Kind.LINES, int(pk)) if pk.isdecimal() else None
    if found is None:
        raise FieldNotParsed(gettext("This set of lines no longer exists."))
    return (SetField(item.id, "lines", list(found.data)),)


def _start(draft: OpenDraft, raw: Any) -> tuple[Replace] | None:
    """Return one of the starting programmes, filled in for this client."""
    client, code = draft.client, raw.get("code")
    if code not in starting_programmes():
        raise FieldNotParsed(gettext("This starting programme does not exist."))
    tasks, today = tasks_for(client.clinic), timezone.localdate()
    programme = starting_programme(code, client_figures(client), tasks, today=today)
    return (Replace(programme_document(programme)),)


def _forget(draft: OpenDraft, raw: dict[str, str]) -> tuple[Replace]:
    """Return the version in force, in place of the draft."""
    return (Replace(document_in_force(draft.client)),)


def _own_rungs(draft: OpenDraft, raw: dict[str, str]) -> tuple[SetField] | None:
    """Return the client's own rungs from their best to the goal, or the usual ones again."""
    item = draft.item(str(raw.get("item", ""))[:40])
    if item.rungs:
        return (SetField(item.id, "rungs", []),)
    best, goal = own_reach(draft.client, item, draft.tasks)
    if best is None or goal is None:
        raise FieldNotParsed(
            gettext("Individual steps need a best result from the last 14 days and a goal.")
        )
    return (SetField(item.id, "rungs", list(personal_rungs_s(best_s=best, goal_s=goal))),)


SPECIAL = {
    "beside": _beside_programme,
    "drop_strand": _drop_strand,
    "own_lines": _own_lines,
    "use": _use,
    "add_item": _add,
    "pair": _pair,
    "own_rungs": _own_rungs,
    "fix": _fix,
    "start": _start,
    "forget": _forget,
}


#: The task that a calculated pattern becomes; its sound can be changed.
PATTERN_ON = "growing_on_ah"


def put_pattern(drill: Any, *, id: str) -> Any:
    """Return the edit that puts a calculated pattern into a draft."""
    numbers = {
        "step_st": drill.step_st,
        "rounds_down": drill.rounds_down,
        "rounds_up": drill.rounds_up,
        "tempo": round(60 / drill.beat_s, 1),
    }
    if drill.breath is BreathRule.CATCH:
        numbers["between_groups"] = CATCH
    ends = {"floor": drill.floor, "ceiling": drill.ceiling, "bridge": drill.bridge}
    given = {name: note.midi for name, note in ends.items() if note not in (None, LOWEST, HIGHEST)}

    def edits(draft: Any, raw: Any) -> Any:
        (added,) = _add(draft, {"id": id, "task": PATTERN_ON})
        return (
            added,
            SetField(id, "notes", [drill.start.midi]),
            *(SetParameter(id, name, value) for name, value in numbers.items()),
            *(SetPattern(id, name, midi) for name, midi in given.items()),
        )

    return edits
