"""Texts in scripts are marked for translation: a literal that reads like a sentence is inside a
call of `gettext` or `ngettext`."""

import re
from pathlib import Path

LITERAL = re.compile(r"//[^\n]*|/\*.*?\*/|(?P<text>\"(?:[^\"\\\n]|\\.)*\"|`(?:[^`\\]|\\.)*`)", re.S)
SENTENCE = re.compile(r"[A-Za-z]{2,}[,.:;]? [a-z“]{2,}[^<>\[\]{}=|]*$")
#: CSS classes, selectors and the like.
CODE = re.compile(r"^[a-z0-9:\-\[\]./ #>,\"'=_()*]+$")
MARKS = re.compile(r"(?:gettext|ngettext)\(\s*(?:\"(?:[^\"\\\n]|\\.)*\",\s*)*$")
#: Names in files and keys that nobody reads on a screen.
NAMES = {
    "still-reed: waits on a device", "as it stands", "no simulated voice", "simulated voice",
    "signed out", "label, fieldset",
}  # fmt: skip


def test_every_sentence_of_a_script_is_marked():
    left = []
    for path in sorted(Path("web").glob("*/static/*/js/**/*.js")):
        text = path.read_text()
        for found in LITERAL.finditer(text):
            said = (found["text"] or "")[1:-1]
            plain = re.sub(r"\$\{[^}]*\}", "", said)
            if not SENTENCE.search(plain) or plain in NAMES or MARKS.search(text[: found.start()]):
                continue
            if CODE.match(plain) and re.search(
                r"[-:\[#>]|\b(?:sr-only|field|button|input)\b", plain
            ):
                continue
            left.append(f"{path}: {said[:90]}")
    assert not left


#: Answers and headings too short to look like a sentence.
SHORT = re.compile(r"words: \"[^\"]*[A-Za-z]|(?<!gettext\()\n\s*\"[A-Z][^\"\n]*[?.]\",")
#: Texts joined to another, and selectors that translators should not see.
JOINED = re.compile(r"gettext\((?:[^()]|\([^()]*\))*\)[\s}),]*\+")
SELECTOR = re.compile(r"gettext\(\s*\"[^\"]*\[[a-z]")


def test_answers_are_marked_and_texts_are_whole():
    left = []
    for path in sorted(Path("web").glob("*/static/*/js/**/*.js")):
        text = path.read_text()
        for wrong in (SHORT, JOINED, SELECTOR):
            left += [f"{path}: {found[0][:90]}" for found in wrong.finditer(text)]
    assert not left
