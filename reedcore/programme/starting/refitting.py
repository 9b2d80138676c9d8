"""A programme of one client adapted to another: the tasks stay, the figures do not.

Notes, levels and straw bore come from the new client; seconds are at most that client's own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from reedcore.catalogue.tasks import Task
from reedcore.measures import kind_of
from reedcore.programme.programme import NOTHING, Item, Programme
from reedcore.programme.sounds import is_glide

from .client import ClientFigures
from .fitting import fitted_item

#: Item fields that belong to the client it was made for.
OF_THE_CLIENT = ("notes", "floor", "ceiling", "limits", "rungs", "reason")
TUBE = ("bore_mm", "length_cm")


def without_client_details(programme: Programme) -> Programme:
    """Return a programme without one client's data: own lines and words, reasons for items and
    findings, and the current taper."""
    items = tuple(
        replace(item, meant="", reason="", words=(), say_before="", lines=())
        for item in programme.items
    )
    return replace(programme, overrules=NOTHING, items=items, taper=None)


def refit_programme(
    programme: Programme, client: ClientFigures, tasks: Mapping[str, Task], *, today: date
) -> Programme:
    """Return the programme with this client's notes, levels, seconds and props, beginning today.

    Tasks that the clinic does not have are left out.
    """
    made = without_client_details(programme)
    items = [
        _refit_item(item, fitted_item(tasks[item.task], client, id=item.id), tasks[item.task])
        for item in made.items
        if item.task in tasks
    ]
    beside = {
        id: replace(own, dose=replace(own.dose, start=today)) for id, own in made.beside.items()
    }
    dose = replace(made.dose, start=today)
    return replace(made, dose=dose, wording=client.wording, beside=beside, items=tuple(items))


def _refit_item(item: Item, fresh: Item, task: Task) -> Item:
    own = {name: getattr(fresh, name) for name in OF_THE_CLIENT}
    if not (fresh.notes or is_glide(item, task)):
        # Nothing is known of this voice: keep the notes for the check to report.
        own["notes"] = item.notes
    params = dict(item.params)
    params |= {name: fresh.params[name] for name in TUBE if name in fresh.params}
    if kind_of(task.measure).can_be_steady and "seconds" in params and "seconds" in fresh.params:
        params["seconds"] = min(params["seconds"], fresh.params["seconds"])
    return replace(item, **own, params=params, row=())
