"""The shipped catalogue, read once from its data files and checked against the schema."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from pathlib import Path
from typing import Any

import jsonschema
import yaml

from reedcore.safety import Hazard
from reedcore.translation import once_a_language, translate

from .ages import lines_for
from .pairs import Shape, Sound, pair_data, shapes, sounds, substitute_sounds
from .schema import FAMILIES, TASK

DATA = Path(__file__).parent / "data"
#: Measures with voice; other tasks state it themselves.
VOICED = ("hold", "glide", "pattern", "script")
#: Tasks of this family are loud, and so is any task with this effort (of 10).
LOUD_FAMILY, LOUD_EFFORT = "loud", 8


class BadTask(ValueError):
    """A task that does not fit the schema; the message names the field."""


@dataclass(frozen=True)
class Parameter:
    """A numeric parameter of a task, with its unit and limits."""

    unit: str
    default: float
    lowest: float
    highest: float


@dataclass(frozen=True)
class Task:
    """A task of the catalogue; defaults are used for fields missing in the data file."""

    code: str
    family: str
    name: str
    purpose: str
    client: tuple[str, ...]
    measure: str
    parameters: dict[str, Parameter]
    sound: str = ""
    pair: tuple[str, str] | None = None
    like: tuple[str, str] | None = None
    ladder: str = ""
    level: str = "even"
    shape: str = ""
    breath_cue: bool = True
    breath_inside: str = "none"
    props: tuple[str, ...] = ()
    faults: tuple[tuple[str, str], ...] = ()
    felt: tuple[str, str] | None = None
    cautions: str = ""
    hazards: frozenset[Hazard] = frozenset()
    substitutes: tuple[str, ...] = ()
    equals: tuple[str, ...] = ()
    drawing: str = ""
    material: str = ""
    notes: int = 0
    note_set: str = ""
    tone: bool = False
    voiced: bool = False
    effort: int = 0
    cues: tuple[str, ...] = ()
    items: tuple[str, ...] = ()
    degrees: tuple[int, ...] = ()
    growing: bool = False
    last_puff: bool = False
    contrast: bool = False
    lower_is_better: bool = False
    all_the_air: bool = False
    choice: Mapping[str, str] = field(default_factory=dict)
    client_at: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    client_for: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    stay: tuple[str, ...] = ()
    own: bool = field(default=False, compare=False)
    also: str = ""

    @property
    def is_loud(self) -> bool:
        """Return whether the task asks for strong voice."""
        return Hazard.LOUD in self.hazards

    @property
    def drawing_path(self) -> str:
        """Return the drawing as a static file; empty without one."""
        return f"catalogue/drawings/{self.drawing}.svg" if self.drawing else ""


def task_from(data: Mapping[str, Any], *, family: str, own: bool = False) -> Task:
    """Return a task out of plain data.

    Raises:
        BadTask: it does not fit the schema, or a default lies outside its limits.
    """
    problem = jsonschema.exceptions.best_match(
        jsonschema.Draft202012Validator(TASK).iter_errors(data)
    )
    if problem is not None:
        where = ".".join(str(part) for part in problem.absolute_path) or "the task"
        raise BadTask(f"{where}: {problem.message}")
    parameters = {}
    for name, each in data["parameters"].items():
        if not each["from"] <= each["default"] <= each["to"]:
            raise BadTask(f"parameters.{name}: {each['default']} lies outside its limits")
        parameters[name] = Parameter(each["unit"], each["default"], each["from"], each["to"])
    plain: dict[str, Any] = {
        name: tuple(value) if isinstance(value, list) else value for name, value in data.items()
    }
    plain["parameters"] = parameters
    hazards = {Hazard(code) for code in plain.pop("marks", ()) + plain.get("hazards", ())}
    if family == LOUD_FAMILY or data.get("effort", 0) >= LOUD_EFFORT:
        hazards.add(Hazard.LOUD)
    plain["hazards"] = frozenset(hazards)
    plain["faults"] = tuple((each["noticed"], each["try"]) for each in data.get("faults", ()))
    plain["client_for"] = {
        wording: tuple(lines) for wording, lines in data.get("client_for", {}).items()
    }
    if "felt" in data:
        plain["felt"] = (data["felt"]["ask"], data["felt"]["if_not"])
    plain.setdefault("voiced", data["measure"] in VOICED)
    return Task(family=family, own=own, **plain)


@cache
def written_tasks() -> dict[str, Task]:
    """Return the tasks that have words of their own, by code, in the order in which a
    session runs."""
    tasks = {}
    for path, family in zip(sorted((DATA / "tasks").glob("*.yaml")), FAMILIES, strict=True):
        for data in yaml.safe_load(path.read_text()):
            pair = tuple(data["pair"]) if "pair" in data else None
            lines = {"client_for": lines_for(data["code"], pair)}
            tasks[data["code"]] = task_from({**data, **lines}, family=family)
    return tasks


@once_a_language
def shipped_tasks() -> dict[str, Task]:
    """Return every task that ships, by code: those that are written, then every other pair of a
    shape and a sound. Their texts are in the language in force."""
    return {code: _translate(task) for code, task in _tasks().items()}


def _translate(task: Task) -> Task:
    return replace(
        task,
        name=translate(task.name),
        purpose=translate(task.purpose),
        client=_lines(task.client),
        stay=_lines(task.stay),
        faults=tuple((translate(noticed), translate(remedy)) for noticed, remedy in task.faults),
        felt=(translate(task.felt[0]), translate(task.felt[1])) if task.felt else None,
        cautions=translate(task.cautions),
        cues=_lines(task.cues),
        items=_lines(task.items),
        client_at={
            name: {rung: _lines(lines) for rung, lines in by_rung.items()}
            for name, by_rung in task.client_at.items()
        },
        client_for={wording: _lines(lines) for wording, lines in task.client_for.items()},
        also=translate(task.also),
    )


def _lines(lines: Iterable[str]) -> tuple[str, ...]:
    return tuple(map(translate, lines))


@cache
def _tasks() -> dict[str, Task]:
    tasks = dict(written_tasks())
    written = {task.pair: task.code for task in tasks.values() if task.pair}
    for sound in sounds().values():
        for shape in shapes().values():
            code = written.get((shape.code, sound.code))
            made = tasks[code] if code else _pair_task(shape, sound)
            also = f"{sound.name} {sound.also} {shape.name} {shape.also}"
            tasks[made.code] = replace(made, also=also)
    return tasks


def _pair_task(shape: Shape, sound: Sound) -> Task:
    lines = {"client_for": lines_for("", (shape.code, sound.code))}
    return task_from({**pair_data(shape, sound), **lines}, family=sound.family)


@cache
def _codes_of_pairs() -> dict[tuple[str, str], str]:
    return {task.pair: task.code for task in _tasks().values() if task.pair}


def task_of_pair(shape: str, sound: str, catalogue: Mapping[str, Task]) -> Task | None:
    """Return the task that makes this shape on this sound, where the catalogue offers it."""
    return catalogue.get(_codes_of_pairs().get((shape, sound), ""))


def easier_tasks(task: Task, catalogue: Mapping[str, Task]) -> tuple[Task, ...]:
    """Return substitutes for a task that a client cannot do, the best first: those that the
    task names itself, then its shape on other sounds."""
    codes = list(task.substitutes)
    if shape_and_sound := task.pair or task.like:
        shape, sound = shape_and_sound
        codes += [_codes_of_pairs().get((shape, each), "") for each in substitute_sounds(sound)]
    easier = [each for each in dict.fromkeys(codes) if each != task.code]
    return tuple(catalogue[each] for each in easier if each in catalogue)


def equivalent_tasks(task: Task, catalogue: Mapping[str, Task]) -> tuple[Task, ...]:
    """Return equivalent tasks: those that the task names, then its substitutes."""
    codes = [*task.equals, *(each.code for each in easier_tasks(task, catalogue))]
    return tuple(catalogue[each] for each in dict.fromkeys(codes) if each in catalogue)


@once_a_language
def shipped_material() -> dict[str, tuple[str, ...]]:
    """Return lines to say, by the code that tasks name, easiest first."""
    data = yaml.safe_load((DATA / "material.yaml").read_text())
    return {code: _lines(lines) for code, lines in data.items()}


@once_a_language
def shipped_sets() -> dict[str, tuple[str, dict[str, tuple[str, ...]]]]:
    """Return the sample sets of lines by code: title, and lines by length."""
    return {
        each["code"]: (
            translate(each["name"]),
            {length: _lines(each[length]) for length in ("short", "middle", "long")},
        )
        for each in yaml.safe_load((DATA / "sets.yaml").read_text())
    }
