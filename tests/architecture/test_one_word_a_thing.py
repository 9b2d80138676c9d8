"""One word per thing: code and screens use the glossary's names only."""

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
#: The unused word, and the word used instead.
NOT = {
    r"sittings?": "session, session summary",
    r"close-?up": "trial detail",
    r"reed beds?": "history chart",
    r"ponds?": "live trace",
    r"field of the voice": "voice range profile",
    r"longest vowel": "maximum phonation time",
    r"air voiced on": "phonation volume",
    r"clears nobody": "does not exclude a laryngeal cause",
    r"figures out": "export",
}
#: Places where such a word has another meaning.
ALLOWED = {r"sittings?": re.compile(r"merely sitting well")}


def texts():
    for folder in ("web", "reedcore"):
        for path in sorted((ROOT / folder).rglob("*")):
            made = {"migrations", "vendor", "bundled"} & set(path.parts) or path.suffix == ".css"
            if path.suffix in (".py", ".html", ".js") and not made:
                yield path.relative_to(ROOT).as_posix(), path.read_text()


@pytest.mark.parametrize("word", NOT)
def test_no_forbidden_synonym_is_used(word):
    found = [
        f"{path}:{number}: {line.strip()[:80]}"
        for path, text in texts()
        for number, line in enumerate(text.splitlines(), start=1)
        if re.search(rf"\b{word}\b", line, re.I)
        and not (word in ALLOWED and ALLOWED[word].search(line))
    ]
    assert found == [], f"say {NOT[word]}"


def test_every_word_of_the_house_is_in_the_glossary():
    glossary = (ROOT / "docs" / "glossary.md").read_text()
    for word in (
        "trial", "session summary", "self-report", "task hazard", "client status", "trial detail",
        "history chart", "live trace", "voice range profile", "override reason", "session type",
    ):  # fmt: skip
        assert re.search(rf"^\| [^|]*\b{word}\b", glossary, re.M), word


def test_a_screen_says_step_where_the_code_may_say_rung():
    said = [
        f"{path}: {line.strip()[:80]}"
        for path, text in texts()
        if path.endswith("wording.py")
        for line in text.splitlines()
        if re.search(r"[\"“][^\"]*\brungs?\b", line)
    ]
    assert said == []


#: Verbs that say nothing as the name of a value.
NO_NAMES = {"asked", "asking", "heard", "said", "told", "wanted", "went"}
#: Fields that stored data and open formats call so.
STORED = {"Sound.said", "Reed.asked", "PlainTaskForm.told", "Screen.asked"}


def assigned_names(tree):
    """Yield the line and name of each variable and argument, fields with their class."""
    fields = {
        id(target): f"{owner.name}.{target.id}"
        for owner in ast.walk(tree)
        if isinstance(owner, ast.ClassDef)
        for each in owner.body
        for target in (getattr(each, "targets", None) or [getattr(each, "target", None)])
        if isinstance(target, ast.Name)
    }
    for node in ast.walk(tree):
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.lineno, fields.get(id(node), node.id)
        elif isinstance(node, ast.arg):
            yield node.lineno, node.arg


def test_a_value_is_named_by_a_noun():
    found = [
        f"{path}:{line}: {name}"
        for path, text in texts()
        if path.endswith(".py")
        for line, name in assigned_names(ast.parse(text))
        if name.rpartition(".")[2] in NO_NAMES and name not in STORED
    ]
    assert found == []
