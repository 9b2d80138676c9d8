"""One word per thing: code and screens use the glossary's names only."""

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
def test_no_other_word_is_used_for_it(word):
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
