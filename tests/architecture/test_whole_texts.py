"""Translators get whole sentences: no marked text is joined to another."""

import ast
import re
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
MARKS = {"gettext", "gettext_noop", "gettext_lazy", "ngettext", "_"}
BLOCK = re.compile(r"{% blocktrans(?:late)?[^%]*%}(.*?){% endblocktrans(?:late)? %}", re.S)
INLINE = re.compile(r"{% translate [\"']([^\"']*)[\"']")
SCRIPT = re.compile(r"\bn?gettext\(\s*\"([^\"]*)\"(?:,\s*\"([^\"]*)\")?")
GLUED = re.compile(r"^[\s,;:.)·]|[ \t]$")


def python_texts(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") in MARKS:
            for each in node.args:
                if isinstance(each, ast.Constant) and isinstance(each.value, str):
                    yield each.value


def english_words_in_formats(path):
    """Yield words that a condition inserts into a formatted text, because no catalogue contains
    them."""
    for node in ast.walk(ast.parse(path.read_text())):
        is_format = isinstance(node, ast.Call) and getattr(node.func, "attr", "") == "format"
        for value in (each.value for each in node.keywords) if is_format else ():
            for choice in (each for each in ast.walk(value) if isinstance(each, ast.IfExp)):
                for words in (choice.body, choice.orelse):
                    if isinstance(getattr(words, "value", None), str) and re.search(
                        "[a-z]", words.value
                    ):
                        yield node.lineno, words.value


def test_no_condition_puts_english_words_into_a_text():
    found = [
        (str(path.relative_to(ROOT)), *each)
        for path in ROOT.glob("web/**/*.py")
        for each in english_words_in_formats(path)
    ]
    assert found == []


def template_texts(path):
    text = path.read_text()
    for found in BLOCK.findall(text):
        yield from (each.strip() for each in found.split("{% plural %}"))
    yield from INLINE.findall(text)


def script_texts(path):
    for found in SCRIPT.findall(path.read_text()):
        yield from filter(None, found)


READERS = {
    "reedcore/**/*.py": python_texts,
    "web/**/*.py": python_texts,
    "web/**/*.html": template_texts,
    "web/*/static/*/js/**/*.js": script_texts,
}


def test_no_marked_text_is_a_piece_that_is_glued_to_another():
    texts = [
        (str(path.relative_to(ROOT)), text)
        for pattern, read in READERS.items()
        for path in ROOT.glob(pattern)
        for text in read(path)
    ]
    assert len(texts) > 3000
    assert [each for each in texts if GLUED.search(each[1])] == []
