"""Texts are short and plain: reading grades, sentence lengths, and unused words."""

import re
import statistics

import pytest

from tests import visible_text
from tests.reading import grade, sentences
from tests.visible_text import FOR_CLIENTS

#: Minimum number of words in a text for a reading grade.
FEWEST_WORDS = 5
LONGEST_SENTENCE = 25
#: Words from the left column of the glossary, and sentence beginnings without an actor.
NOT_USED = {
    "the way in": "practice link",
    "spare code": "recovery code",
    "second step": "two-step verification",
    "telephone": "phone",
    "e-mail": "email",
    "Who opened what": "access log",
    "stands in for": "covers for",
    "hand over": "prescribe",
    "handed over": "prescribed",
    "taken back": "withdrawn, undone",
    "second look": "programme check",
    "dealt with": "resolved",
    "good for nothing": "no longer works",
    "may bid": "may require",
    "is to be": "will be, must be",
    "for want of": "because … was not",
    "whoever": "the person who",
    "meanwhile": "while you were editing",
    "made-up voice": "simulated voice",
}
#: Beginnings that only a question or an option of a list may have.
NOT_FIRST = re.compile(r"(?:^|[.!?] )(?:Who|Whoever|Nobody|None|Of) ")
ALLOWED = {"Who is practising?", "None of these"}


def is_for_clients(name):
    return name.split("/")[1] in FOR_CLIENTS


def read_by_clients():
    for part in (visible_text.templates(), visible_text.scripts(), visible_text.python()):
        yield from (each for each in part if is_for_clients(each[0]))
    yield from visible_text.catalogue()


def read_by_clinicians():
    for part in (visible_text.templates(), visible_text.scripts(), visible_text.python()):
        yield from (each for each in part if not is_for_clients(each[0]))


def grades(texts):
    found = [
        (grade(text), where, text)
        for where, text in texts
        if sum(map(len, sentences(text))) >= FEWEST_WORDS
    ]
    return sorted(found, reverse=True)


@pytest.mark.parametrize(
    ("texts", "median", "worst", "at_least"),
    [(read_by_clients, 5.0, 8.0, 300), (visible_text.for_children, 3.0, 3.0, 60)],
    ids=["clients", "children"],
)
def test_client_texts_are_easy_to_read(texts, median, worst, at_least):
    found = grades(texts())
    assert len(found) >= at_least
    assert statistics.median(each for each, _, _ in found) <= median
    assert [each for each in found if each[0] > worst] == []


def test_no_sentence_that_clinicians_read_is_long():
    found = [
        (len(words), where, text)
        for where, text in read_by_clinicians()
        for words in sentences(text)
        if len(words) > LONGEST_SENTENCE
    ]
    assert found == []


@pytest.mark.parametrize("word", NOT_USED)
def test_a_word_of_before_is_not_used(word):
    found = [
        (where, text, f"write: {NOT_USED[word]}")
        for texts in (read_by_clients(), read_by_clinicians())
        for where, text in texts
        if re.search(rf"\b{re.escape(word)}\b", text)
    ]
    assert found == []


def test_no_sentence_begins_with_an_unnamed_person():
    found = [
        (where, text)
        for texts in (read_by_clients(), read_by_clinicians())
        for where, text in texts
        if NOT_FIRST.search(text) and text not in ALLOWED
    ]
    assert found == []


def test_a_grade_rises_with_longer_words_and_sentences():
    easy, hard = "The cat sat. It was fat.", "Laryngological examinations necessitate specialists."
    assert grade(easy) < 2 < 12 < grade(hard)
    assert grade("…") is None
