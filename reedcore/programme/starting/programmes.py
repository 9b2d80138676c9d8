"""The starting programmes of the data file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from functools import cache
from typing import Any

import yaml

from reedcore.catalogue.tasks import DATA, Task
from reedcore.dose import Dose
from reedcore.programme.document import empty_programme
from reedcore.programme.document_values import dose_document, dose_from
from reedcore.programme.programme import BesideProgramme, Item, Programme
from reedcore.translation import once_a_language, translate

from .child import fit_for_child
from .client import ClientFigures
from .fitting import fitted_item


@dataclass(frozen=True, slots=True)
class StartingProgramme:
    """A starting programme.

    Attributes:
        sort, school: of the document; a programme beside another has none of its own.
        dose: what is changed of the usual dose.
        items: a task each, and what is changed of it.
    """

    code: str
    name: str
    dose: Mapping[str, Any]
    items: tuple[Mapping[str, Any], ...]
    sort: str = "full"
    school: str = "soft"


@cache
def _load_data() -> Mapping[str, Any]:
    return dict(yaml.safe_load((DATA / "starting.yaml").read_text()))


def _programmes(section: str) -> dict[str, StartingProgramme]:
    return {
        each["code"]: StartingProgramme(
            **{**each, "name": translate(each["name"]), "items": tuple(each["items"])}
        )
        for each in _load_data()[section]
    }


@once_a_language
def starting_programmes() -> Mapping[str, StartingProgramme]:
    """Return the programmes to start from, by code."""
    return _programmes("starting")


@once_a_language
def beside_programmes() -> Mapping[str, StartingProgramme]:
    """Return the programmes that can stand beside another, by code."""
    return _programmes("beside")


def starting_programme(
    code: str, client: ClientFigures, tasks: Mapping[str, Task], *, today: date
) -> Programme:
    """Return a starting programme with this client's notes, seconds and levels.

    Args:
        tasks: those that the clinic offers; a task that is not among them is left out.

    Raises:
        KeyError: there is no such programme.
    """
    programme = starting_programmes()[code]
    items = _items(programme, client, tasks)
    return replace(
        empty_programme(today, client.wording),
        school=programme.school,
        sort=programme.sort,
        dose=_dose(programme, today),
        items=fit_for_child(items, tasks) if client.is_child else items,
    )


def fitted_beside(
    code: str, client: ClientFigures, tasks: Mapping[str, Task], *, today: date
) -> tuple[BesideProgramme, tuple[Item, ...]]:
    """Return a programme to put beside the main one, with its items.

    Raises:
        KeyError: there is no such programme.
    """
    programme = beside_programmes()[code]
    items = tuple(replace(item, strand=code) for item in _items(programme, client, tasks))
    return BesideProgramme(sort=code, dose=_dose(programme, today)), items


def _dose(programme: StartingProgramme, today: date) -> Dose:
    return dose_from({**dose_document(empty_programme(today).dose), **programme.dose})


def _items(
    programme: StartingProgramme, client: ClientFigures, tasks: Mapping[str, Task]
) -> tuple[Item, ...]:
    items = []
    for number, each in enumerate(programme.items, start=1):
        changes = dict(each)
        task, short = changes.pop("task"), changes.pop("short", False)
        if task in tasks:
            id = f"{programme.code}-{number}".replace("_", "-")
            item = fitted_item(tasks[task], client, id=id, changes=changes)
            items.append(replace(item, short=short))
    return tuple(items)
