"""Other names of a task among practitioners, for search."""

from __future__ import annotations

from collections.abc import Mapping

import yaml

from reedcore.translation import language, once_a_language

from .tasks import DATA


@once_a_language
def synonyms() -> Mapping[str, tuple[str, ...]]:
    """Return by task code the phrases that find the task, lower case, in the language in force.

    Words that people type have no translation, so each language has a file of its own; English
    stands in where a language has none.
    """
    path = DATA / f"synonyms.{language()}.yaml"
    if not path.exists():
        path = DATA / "synonyms.en.yaml"
    found: dict[str, list[str]] = yaml.safe_load(path.read_text())
    return {code: tuple(phrases) for code, phrases in found.items()}
