"""Settings of a task besides its own numbers: its ladders, its choices, and numbers of its kind
that default to zero."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, NamedTuple

import yaml

from reedcore.ladders import Ladder
from reedcore.translation import language, once_a_language, translate

from .tasks import DATA, Parameter, Task

#: Parameters that default to zero, by measure.
_BREATHED = ("hold", "hiss", "glide", "pattern", "compound")
EXTRAS: dict[str, tuple[tuple[str, ...], Parameter]] = {
    "pause_s": (_BREATHED, Parameter("s", 0, 0, 10)),
    "held": (("counted",), Parameter("counts", 0, 0, 20)),
}
#: Duration of a stretch, for tasks with sides.
A_SIDE = Parameter("s a side", 0, 0, 60)


class TaskTraits(NamedTuple):
    """The traits of a task that decide on its ladders and choices.

    A programme asks for them dozens of times an item, so they are worked out once for each traits
    and language.
    """

    code: str
    measure: str
    pair: tuple[str, str] | None
    ladder: str
    choices: tuple[str, ...]


def _traits(task: Task) -> TaskTraits:
    return TaskTraits(task.code, task.measure, task.pair, task.ladder, tuple(task.choice))


@dataclass(frozen=True)
class Offer:
    """The tasks that a ladder or a choice applies to, besides those that name it."""

    measures: frozenset[str] = frozenset()
    codes: frozenset[str] = frozenset()
    pairs: frozenset[str] = frozenset()
    sounds: frozenset[str] = frozenset()

    def applies_to(self, task: TaskTraits) -> bool:
        """Return whether it is offered for a task with these traits."""
        shape, sound = task.pair or ("", "")
        return (
            task.measure in self.measures
            or task.code in self.codes
            or shape in self.pairs
            or sound in self.sounds
        )


@dataclass(frozen=True)
class Setting:
    """A ladder or a choice, and the tasks that have it."""

    ladder: Ladder
    offer: Offer = field(default_factory=Offer)


def _load_settings(name: str) -> dict[str, Setting]:
    found = {}
    for data in yaml.safe_load((DATA / name).read_text()):
        unit = data.get("unit", "")
        ladder = Ladder(
            code=data["code"],
            name=translate(data["name"]),
            changes=data["changes"],
            rungs=tuple(data["rungs"]),
            labels=tuple(
                f"{rung:g} {translate(unit)}" if unit else translate(str(rung))
                for rung in data["rungs"]
            ),
            by_choice=data.get("by_choice"),
            client=tuple(map(translate, data.get("client", ()))),
            also_changes=data.get("also_changes", ""),
            goes_on_by=data.get("goes_on_by", 0.0),
        )
        offer = {key: frozenset(value) for key, value in data.get("for", {}).items()}
        found[data["code"]] = Setting(ladder, Offer(**offer))
    return found


@once_a_language
def _ladders() -> dict[str, Setting]:
    return _load_settings("ladders.yaml")


@once_a_language
def _choices() -> dict[str, Setting]:
    return _load_settings("choices.yaml")


@once_a_language
def shipped_ladders() -> dict[str, Ladder]:
    """Return every ladder that ships, by code."""
    return {code: each.ladder for code, each in _ladders().items()}


def ladders_of(task: Task) -> dict[str, Ladder]:
    """Return those that a task may climb, its own first."""
    return dict(_ladders_of(_traits(task), language()))


@lru_cache(maxsize=4096)
def _ladders_of(task: TaskTraits, code_of_language: str) -> dict[str, Ladder]:
    own = shipped_ladders().get(task.ladder)
    found = {own.code: own} if own else {}
    for code, each in _ladders().items():
        if each.offer.applies_to(task):
            found.setdefault(code, each.ladder)
    return found


def choices_of(task: Task) -> dict[str, Ladder]:
    """Return the ways to do the task, by code."""
    return dict(_choices_of(_traits(task), language()))


@lru_cache(maxsize=4096)
def _choices_of(task: TaskTraits, code_of_language: str) -> dict[str, Ladder]:
    return {
        code: each.ladder
        for code, each in _choices().items()
        if each.offer.applies_to(task) or code in task.choices
    }


def extras_of(task: Task) -> dict[str, Parameter]:
    """Return the numbers of a task's kind that default to zero."""
    found = {
        name: each
        for name, (measures, each) in EXTRAS.items()
        if task.measure in measures and task.breath_cue
    }
    if "side" in allowed_codes(task):
        found["stretch_s"] = A_SIDE
    return found


def numbers_of(task: Task) -> dict[str, Parameter]:
    """Return all its numbers."""
    return {**task.parameters, **extras_of(task)}


def allowed_codes(task: Task) -> dict[str, tuple[Any, ...]]:
    """Return by name the values that a setting of a task may have: rungs of ladders and choices."""
    return dict(_allowed_codes(_traits(task)))


@lru_cache(maxsize=4096)
def _allowed_codes(task: TaskTraits) -> dict[str, tuple[Any, ...]]:
    # The values are codes, the same in every language.
    ladders, choices = _ladders_of(task, language()), _choices_of(task, language())
    found: dict[str, tuple[Any, ...]] = {}
    for each in (*ladders.values(), *choices.values()):
        found[each.changes] = (*found.get(each.changes, ()), *each.rungs)
    return found


def chosen_way(task: Task, params: Mapping[str, Any], name: str) -> str:
    """Return the choice made, or the task's default."""
    return str(params.get(name) or task.choice.get(name, ""))
