"""Texts that people read: in templates, Python and scripts, with their places.

A value that is put in is shown as ``8``, so that it counts as one word.
"""

import ast
import functools
import re
from pathlib import Path

import yaml

ROOT = Path(__file__).resolve().parents[1]


def _read_once(texts):
    """Cache the files, so that each is read and parsed once."""
    return functools.cache(functools.wraps(texts)(lambda: tuple(texts())))


#: Apps whose screens clients read.
FOR_CLIENTS = ("practice",)
_TAGS = re.compile(r"<(script|style)\b.*?</\1>|\{#.*?#\}", re.DOTALL)
_READ_ALOUD = re.compile(r'\b(?:aria-label|title|placeholder|alt)="([^"]*)"')
_ELEMENT = re.compile(r"<[^<>]*>")
_INLINE = re.compile(r"</?(?:strong|em|a|span|b|i|abbr)\b[^<>]*>")
_TEMPLATE = re.compile(r"\{%.*?%\}", re.DOTALL)
_VALUE = re.compile(r"\{\{.*?\}\}|\$?\{[^{}]*\}")
_CODE = re.compile(
    r"\|---\||CREATE |SELECT |INSERT |UPDATE |DELETE |DROP |__|::|\bpx\b|=>|\[data|querySelector|text-|flex|grid |sr-only"
)


@_read_once
def templates():
    """Yield (file, text) of every text of the pages."""
    for path in sorted((ROOT / "web").glob("*/templates/**/*.html")):
        source = _TAGS.sub(" ", path.read_text())
        name = str(path.relative_to(ROOT))
        for said in _READ_ALOUD.findall(source):
            yield from _one(name, said)
        # A comparison inside a template tag is not an element.
        plain = _TEMPLATE.sub(lambda tag: "¦" if "block" in tag[0] else " ", source)
        for said in re.split(r"¦", _ELEMENT.sub("¦", _INLINE.sub(" ", plain))):
            yield from _one(name, said)


@_read_once
def python():
    """Yield (file, text) of every string of the web that reads as a sentence or a label."""
    for path in sorted((ROOT / "web").rglob("*.py")):
        name = str(path.relative_to(ROOT))
        if re.search(r"/(migrations|collected|settings|demo)/", name):
            continue
        tree = ast.parse(path.read_text())
        docs = {
            id(node.body[0].value)
            for node in ast.walk(tree)
            if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef))
            and node.body
            and isinstance(node.body[0], ast.Expr)
        }
        inside = {
            id(part)
            for node in ast.walk(tree)
            if isinstance(node, ast.JoinedStr)
            for part in node.values
        }
        for node in ast.walk(tree):
            if isinstance(node, ast.JoinedStr):
                said = "".join(
                    part.value if isinstance(part, ast.Constant) else "8" for part in node.values
                )
                yield from _one(name, said, wants_space=True)
            elif (
                isinstance(node, ast.Constant)
                and isinstance(node.value, str)
                and id(node) not in docs
                and id(node) not in inside
            ):
                yield from _one(name, node.value, wants_space=True)


@_read_once
def scripts():
    """Yield (file, text) of every string of the scripts that reads as a sentence or a label."""
    for path in sorted((ROOT / "web").glob("*/static/**/*.js")):
        if {"vendor", "bundled"} & set(path.parts):
            continue
        source = re.sub(r"^\s*//.*$", "", path.read_text(), flags=re.MULTILINE)
        source = re.sub(r"/\*.*?\*/", "", source, flags=re.DOTALL)
        for quoted, marked in re.findall(r'"((?:[^"\\\n])*)"|`([^`]*)`', source):
            yield from _one(str(path.relative_to(ROOT)), quoted or marked, wants_space=True)


@_read_once
def catalogue():
    """Yield (task, text) of the catalogue's texts for adults."""
    for path in sorted((ROOT / "reedcore/catalogue/data/tasks").glob("*.yaml")):
        for task in yaml.safe_load(path.read_text()):
            yield task["code"], " ".join(task["client"])
            for said in (task.get("felt") or {}).values():
                yield task["code"], said


@_read_once
def for_children():
    """Yield (task or sound, text) of the texts for children."""
    parts = yaml.safe_load((ROOT / "reedcore/catalogue/data/ages.yaml").read_text())["child"]
    for part in parts.values():
        for code, said in part.items():
            yield code, " ".join(said) if isinstance(said, list) else str(said)


def _one(name, said, *, wants_space=False):
    text = " ".join(_VALUE.sub("8", said).split())
    is_text = re.search(r"[A-Za-z]{2}", text) and not _CODE.search(text)
    if is_text and (not wants_space or re.search(r"[A-Za-z’]{2,} [A-Za-z“8]", text)):
        yield name, text
