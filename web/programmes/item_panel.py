"""The composer's panel of one item: its settings and their choices."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.settings import choices_of, chosen_way, ladders_of, numbers_of
from reedcore.catalogue.tasks import easier_tasks, equivalent_tasks, shipped_material, shipped_sets
from reedcore.measures import kind_of
from reedcore.pitch import Note, Spelling
from reedcore.programme.led import is_equal_breath
from reedcore.programme.rungs import current_rung_value, ladder_of
from reedcore.programme.sounds import groups_of, rounds_of
from reedcore.programme.swap import has_props
from reedcore.translation import translate
from web.catalogue.models import LibraryEntry
from web.catalogue.queries import library_of
from web.catalogue.wording import number_name
from web.programmes.wording import FEEDBACK

from .version_diff import LIMIT_NAMES

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from reedcore.programme.programme import Item
    from web.accounts.models import User
    from web.clients.models import Client


def item_panel(
    item: Item, client: Client, tasks: dict[str, Task], account: User, wording: str
) -> dict[str, Any]:
    """Return the settings of one item."""
    task = tasks[item.task]
    spelling = Spelling(client.spelling)
    kind = kind_of(task.measure)
    ladder = ladder_of(item, task)
    place = ladder.place_of(current_rung_value(item, task, ladder)) if ladder else None
    props = client.props or None
    return {
        "item": item,
        "task": task,
        "notes": " ".join(Note(midi).name(spelling) for midi in item.notes),
        "params": [
            (name, number_name(name), parameter, item.params.get(name, parameter.default))
            for name, parameter in numbers_of(task).items()
            if name != "lines" or not item.lines
        ],
        "ladders": [(each.code, each.name) for each in ladders_of(task).values()],
        "choices": [
            (each.changes, each.name, each.rungs, chosen_way(task, item.params, each.changes))
            for each in choices_of(task).values()
        ],
        "pair": _pair(task),
        "pattern": _pattern(item, task, spelling),
        "words": "\n".join(item.words),
        "told": task.client_for.get(wording) or task.client,
        "sets": _sets(account),
        "pictures": list(client.clinic.pictures.values_list("pk", "name"))
        if kind.is_by_line or task.material
        else [],
        "ladder": ladder,
        "unplaced": ladder is not None and place is None,
        "rungs": [(label, at == place) for at, label in enumerate(ladder.labels)] if ladder else [],
        # Settings that can be marked as intended despite the check: rungs by choice, and counted
        # breaths.
        "by_choice": (ladder is not None and ladder.by_choice is not None)
        or "breath_in" in item.params,
        "rungs_s": " ".join(f"{seconds:g}" for seconds in item.rungs),
        "row": " ".join(f"{seconds:g}" for seconds in item.row),
        "row_label": _row_label(item, task),
        "lines": "\n".join(item.lines),
        "material": shipped_material().get(task.material, ()),
        "equals": _available_tasks(equivalent_tasks(task, tasks), props),
        "substitutes": _available_tasks(easier_tasks(task, tasks), props),
        "feedback": FEEDBACK.items(),
        "limits": [(name, words, item.limits.get(name)) for name, words in LIMIT_NAMES.items()]
        if kind.can_be_steady
        else [],
        "kind": kind,
    }


def _row_label(item: Item, task: Task) -> str:
    if "breath_in" not in item.params:
        return gettext("rising targets, s")
    if is_equal_breath(item.params, task):
        return gettext("rising counts, in and out")
    return gettext("rising counts, out")


#: Maximum number of alternatives offered.
MOST_OFFERED = 14


def _available_tasks(tasks: tuple[Any, ...], props: list[str] | None) -> list[Any]:
    """Return those that the client has the props for; by code and name."""
    fitting = [each for each in tasks if has_props(each, props)]
    return [(each.code, each.name) for each in fitting[:MOST_OFFERED]]


def _sets(account: User) -> list[tuple[str, str]]:
    """Set of lines to begin from: the clinic's own, then the sample sets."""
    own = [(f"own:{each.pk}", each.name) for each in library_of(account, LibraryEntry.Kind.LINES)]
    return own + [
        (f"{code}:{length}", f"{name}, {length}")
        for code, (name, by_length) in shipped_sets().items()
        for length in by_length
    ]


def _pair(task: Task) -> dict[str, Any] | None:
    """Return the shapes and sounds that there are, for a task that is one on the other."""
    if task.pair is None:
        return None
    shape, sound = task.pair
    return {
        "shape": shape,
        "sound": sound,
        "shapes": [(code, translate(each.name)) for code, each in shapes().items()],
        "sounds": [(code, translate(each.name)) for code, each in sounds().items()],
    }


def _pattern(item: Item, task: Task, spelling: Spelling) -> Any:
    """Return a pattern in its fields; None if it is not a pattern."""
    groups = groups_of(item, task)
    if not groups:
        return None
    own = item.pattern
    noted = {
        name: "" if midi is None else Note(midi).name(spelling)
        for name, midi in (("floor", own.floor), ("ceiling", own.ceiling), ("bridge", own.bridge))
    }
    written = " / ".join(" ".join(map(str, group)) for group in groups)
    rounds = [
        (each.groups[0][0].name(spelling), each.crosses_bridge) for each in rounds_of(item, task)
    ]
    return {"groups": written, "cue": own.cue, "rounds": rounds, **noted}
