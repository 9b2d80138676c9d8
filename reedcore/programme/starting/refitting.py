"""A programme made for one client, put on another: what it asks stays, their figures do not.

Notes, levels and the bore of a straw are those of whom it is for; seconds are at most theirs.
"""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from datetime import date
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.measures import kind_of
from reedcore.programme.sounds import is_glide

from .client import ClientFigures
from .fitting import fitted_item

Values = dict[str, Any]

#: Of an item, what belongs to the client it was made for.
OF_THE_CLIENT = ("notes", "floor", "ceiling", "limits", "rungs", "reason")
#: Of a document, what does.
_NOT_KEPT = ("taper",)
TUBE = ("bore_mm", "length_cm")


def for_anybody(document: Mapping[str, Any]) -> Values:
    """A document without what belongs to one client alone: their own lines and words, the reasons
    written for them and against findings, and the taper that they are in."""
    kept = {name: deepcopy(value) for name, value in document.items() if name not in _NOT_KEPT}
    kept["overrules"] = {}
    for item in kept["items"]:
        item |= {"meant": "", "reason": "", "words": [], "say_before": "", "lines": []}
    return kept


def refitted(
    document: Mapping[str, Any], client: ClientFigures, tasks: Mapping[str, Task], *, today: date
) -> Values:
    """The document with this client's notes, levels, seconds and props, beginning today.

    Tasks that the clinic does not have are left out.
    """
    made = for_anybody(document)
    made["dose"]["start"] = today.isoformat()
    made["wording"] = client.wording
    for strand in made.get("beside", {}).values():
        strand["dose"]["start"] = today.isoformat()
    items = []
    for item in made["items"]:
        if item["task"] in tasks:
            task = tasks[item["task"]]
            fresh = fitted_item(task, client, id=item["id"])
            items.append(_refitted(item, fresh, task))
    made["items"] = items
    return made


def _refitted(item: Values, fresh: Values, task: Task) -> Values:
    own = {name: fresh[name] for name in OF_THE_CLIENT}
    if not (fresh["notes"] or is_glide(item, task)):
        # nothing is known of this voice: as it was, for the check to see
        own["notes"] = item["notes"]
    params = dict(item["params"])
    params |= {name: fresh["params"][name] for name in TUBE if name in fresh["params"]}
    if kind_of(task.measure).steady and "seconds" in params and "seconds" in fresh["params"]:
        params["seconds"] = min(params["seconds"], fresh["params"]["seconds"])
    return {**item, **own, "params": params, "row": []}
