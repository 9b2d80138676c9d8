"""``texts``: every text of the core that passes through a translation, as a module that the usual
tools collect from."""

from __future__ import annotations

import argparse
import re
import sys
from collections.abc import Iterator
from contextvars import copy_context
from functools import cache
from pathlib import Path

import reedcore
from reedcore.baseline.steps import STEPS
from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.schema import FAMILIES
from reedcore.catalogue.settings import choices_of, ladders_of
from reedcore.catalogue.tasks import shipped_material, shipped_sets, shipped_tasks
from reedcore.measures import KINDS
from reedcore.programme.starting import beside_programmes, starting_programmes
from reedcore.translation import TRANSLATIONS

from .commands import DONE

#: Texts in the code itself.
_IN_CODE = re.compile(r"\btranslated\(\s*\"((?:[^\"\\]|\\.)*)\"", re.S)


class _Collector:
    """Translations that record the requested texts."""

    language = "collected"

    def __init__(self) -> None:
        self.found: dict[str, None] = {}

    def gettext(self, message: str) -> str:
        """Record a text."""
        self.found[message] = None
        return message


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add no arguments: the command has none."""
    parser.set_defaults(run=_texts)


@cache
def core_texts() -> tuple[str, ...]:
    """Return every text of the core that is translated, in the order in which it is read."""
    collector = _Collector()
    copy_context().run(_ask_for_all, collector)
    return tuple(dict.fromkeys(text for text in (*collector.found, *_inline_texts()) if text))


def _ask_for_all(collector: _Collector) -> None:
    TRANSLATIONS.set(collector)
    for task in shipped_tasks().values():
        ladders_of(task)
        choices_of(task)
    shipped_material()
    shipped_sets()
    starting_programmes()
    beside_programmes()


def _inline_texts() -> Iterator[str]:
    """Return texts that are translated where they are used."""
    yield from FAMILIES.values()
    for step in STEPS:
        yield from (step.title, step.say)
    for kind in KINDS.values():
        yield kind.unheard
        if kind.figure:
            yield from (kind.figure.name, kind.figure.unit)
    for shape in shapes().values():
        yield from (shape.name, shape.purpose)
    for sound in sounds().values():
        yield from (sound.code, sound.name, sound.how)
    yield from (task.sound for task in shipped_tasks().values())
    for path in sorted(Path(reedcore.__file__).parent.rglob("*.py")):
        yield from _IN_CODE.findall(path.read_text())


def _texts(options: argparse.Namespace) -> int:
    lines = [f"gettext({text!r})\n" for text in core_texts()]
    sys.stdout.write("from gettext import gettext\n\n" + "".join(lines))
    return DONE
