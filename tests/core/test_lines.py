"""Spoken lines: their source, their repetitions, and the marked word."""

import pytest

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.programme.document_values import item_from
from reedcore.programme.lines import lines_of, text_of
from reedcore.programme.plan import count_trials
from reedcore.programme.rungs import current_rung_value, ladder_of, rung_of_item
from tests.documents import new_item

TASKS = shipped_tasks()


def texts_of(code, params=None, **given):
    made = new_item(TASKS[code], id="a", **given)
    item = item_from({**made, "params": made["params"] | (params or {})})
    lines = lines_of(item, TASKS[code])
    assert count_trials(item, TASKS[code]) == len(lines)
    return [text_of(line) for line in lines]


def test_a_count_goes_up_and_back_as_often_as_is_asked():
    up, back = "1, 2, 3, 4, 5.", "5, 4, 3, 2, 1."
    assert texts_of("count_sixteen", {"count_to": 5, "sets": 2}) == [up, back, up, back]
    assert texts_of("count_sixteen", {"count_to": 5, "sets": 1, "counting": "up"}) == [up]


def test_sets_of_lines_are_repeated():
    own = {"lines": ["One.", "Two."], "sets": 2}
    assert texts_of("functional_phrases", {"lines": 2}, **own) == ["One.", "Two.", "One.", "Two."]


@pytest.mark.parametrize(
    ("code", "typed", "more", "times"),
    [
        ("think_answer", 5, {}, 5),
        ("functional_phrases", 7, {}, 7),
        ("functional_phrases", 3, {"said": "twice"}, 6),
        ("functional_phrases", 1, {"lines": 4}, 1),
    ],
)
def test_the_clinicians_own_lines_decide_how_many_there_are(code, typed, more, times):
    own = [f"Line {number}." for number in range(typed)]
    lines = texts_of(code, more, lines=own)
    assert len(lines) == times
    assert list(dict.fromkeys(lines)) == own


@pytest.mark.parametrize(
    ("way", "lines"),
    [
        ("once", ["One.", "Two."]),
        ("twice", ["One.", "One.", "Two.", "Two."]),
        ("twice, then the whole", ["One.", "One.", "Two.", "Two.", "One. Two."]),
    ],
)
def test_the_repeats_of_each_line(way, lines):
    params = {"lines": 2, "said": way}
    assert texts_of("functional_phrases", params, lines=["One.", "Two."]) == lines


@pytest.mark.parametrize("rung", ["held vowel", "conversation", "daily life"])
def test_a_rung_that_needs_no_lines_says_what_to_do(rung):
    (line,) = texts_of("functional_phrases", {"speech": rung, "lines": 5})
    assert "phrase" not in line or "each" in line
    assert "Good morning." not in line


def test_the_material_follows_the_rung_of_speech():
    assert texts_of("hum_phrase", {"speech": "words", "lines": 1}) == ["Morning."]
    assert texts_of("hum_phrase", {"lines": 1}) == ["Good morning."]


def test_a_task_on_phrases_stands_on_phrases_and_goes_on_to_sentences():
    item = item_from(new_item(TASKS["hum_phrase"], id="a"))
    assert (
        current_rung_value(item, TASKS["hum_phrase"], ladder_of(item, TASKS["hum_phrase"]))
        == "phrases"
    )
    assert rung_of_item(item, TASKS["hum_phrase"], by=1).value == "sentences"


def test_stretched_words_are_marked_and_the_two_ways_are_compared():
    lines = ["Come on in. Sit down."]
    item = item_from(new_item(TASKS["stretched_words"], id="a", lines=lines))
    last, first = lines_of(item, TASKS["stretched_words"])
    assert [piece.words.strip() for piece in last if piece.is_strong] == ["in.", "down."]
    assert [piece.words.strip() for piece in first if piece.is_strong] == ["Come", "Sit"]
