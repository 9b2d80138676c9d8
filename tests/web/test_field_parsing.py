"""Fields sent by the composer: valid ones become edits, invalid ones an error, others stay
unchanged."""

import json
from datetime import date, timedelta

import pytest
from django.utils import timezone

from tests.factories import simple_document
from tests.web.test_composer import PAGE, edit, send, type_edit, url_of
from web.programmes.queries import draft_document

BAD = {
    "400 seconds": (type_edit("straw-hold", "param:seconds", "400"), "outside 1 to 45 s"),
    "words for a number": (type_edit("straw-hold", "param:seconds", "long"), "“long” is not a number"),
    "no number": (type_edit("straw-hold", "param:seconds", " "), "Enter a number"),
    "a setting it has not": (type_edit("straw-hold", "param:volume", "3"), "has no such setting"),
    "a note off the keyboard": (type_edit("straw-hold", "notes", "F3 C9"), "This note is outside the range C1 to C7."),
    "no note": (type_edit("straw-hold", "notes", "H9"), "“H9” is not a note"),
    "a level nobody has": (type_edit("straw-hold", "ceiling", "500"), "Ceiling: the number is over the maximum of 40."),
    "too many lines": (type_edit("straw-hold", "lines", "One.\n" * 41), "Own lines: at most 40 are allowed."),
    "a long line": (type_edit("straw-hold", "lines", "One.\n" + "x" * 301), "Own lines 2: at most 300 characters are allowed."),
    "many sets": (type_edit("straw-hold", "sets", "11"), "Sets: the number is over the maximum of 10."),
    "no set": (type_edit("straw-hold", "sets", "0"), "Sets: the number is below the minimum of 1."),
    "half a set": (type_edit("straw-hold", "sets", "1.5"), "not a whole number"),
    "no such field": (type_edit("straw-hold", "id", "other"), "Unknown field “"),
    "seven a day": (type_edit("", "a_day", "7"), "at most 5 a day; for resets choose “on a trigger”"),
    "no day": (type_edit("", "weekdays", []), "Choose at least one day of the week."),
    "no date": (type_edit("", "off", "Christmas"), "“Christmas” is not a date"),
    "a year alone": (type_edit("", "off", "2026"), "is not a date"),
    "no such day": (type_edit("", "off", "31 February"), "is not a date"),
    "numbers that are none": (type_edit("", "off", "1:2:nan 9e999 1"), "is not a date"),
    "an unknown task": ({"do": "add_item", "id": "x", "task": "horoscope"}, "Task “horoscope” is not in"),
    "markup in an id": ({"do": "add_item", "id": "<b>", "task": "scalp"}, "id: "),
    "an item nobody put in": ({"do": "toggle", "item": "ghost", "name": "sip"}, "This task is no longer in the session."),
    "what is no yes or no": ({"do": "toggle", "item": "straw-hold", "name": "notes"}, "not valid"),
    "another document whole": ({"do": "replace", "document": {}}, "not valid"),
    "nothing known": ({"do": "dance"}, "not valid"),
    "another programme": ({"do": "start", "code": "miracle"}, "This starting programme does not exist."),
    "half a name": (type_edit("", "beside:", "x"), "Unknown field “"),
    "a programme that is not there": (type_edit("", "beside:ghost:name", "x"), "not valid"),
    "” is not a time. Examples: 8.30, 18:00.": (type_edit("", "times", "25:80"), "” is not a time. Examples: 8.30, 18:00."),
    "” is not a list of degrees. Example: 1 2 3 2 1 / 1 3 5 3 1.": (type_edit("straw-hold", "pattern:groups", "1 x"), "” is not a list of degrees. Example: 1 2 3 2 1 / 1 3 5 3 1."),
    "two floors": (type_edit("straw-hold", "pattern:floor", "C3 D3"), "Enter one note."),
    "no such sound": (type_edit("straw-hold", "sound_of", "trombone"), "This task does not exist."),
    "no such way": (type_edit("straw-hold", "choice:breath_inside", "twice"), "has no such setting"),
    "no such ladder": (type_edit("straw-hold", "ladder", "rope"), "has no such setting"),
    "no such lines": (type_edit("straw-hold", "fill", "moon:long"), "This set of lines does not exist."),
    "lines of another clinic": (type_edit("straw-hold", "fill", "own:999"), "This set of lines no longer exists."),
    "lines by a number that is none": (type_edit("straw-hold", "fill", "own:²"), "This set of lines no longer exists."),
    "by a number that is none": ({"do": "use", "code": "library:²"}, "This programme no longer exists."),
    "from nowhere": ({"do": "use", "code": "library:999"}, "This programme no longer exists."),
    "of a stranger": ({"do": "use", "code": "client:99999"}, "This programme no longer exists."),
    "beside by no name": ({"do": "beside", "code": "miracle"}, "This programme does not exist."),
    "nothing to take back": ({"do": "undo"}, "nothing on this page to undo"),
}  # fmt: skip


@pytest.mark.parametrize(("sent", "says"), BAD.values(), ids=BAD.keys())
def test_an_invalid_edit_is_reported_and_the_draft_and_later_edits_stay(
    as_clinician, measured, sent, says
):
    edit(as_clinician, measured, simple_document())
    answer = send(
        as_clinician, measured, sent, type_edit("straw-hold", "reason", "after it")
    ).json()
    (why,) = answer["not_made"]
    assert (why["number"], why["clash"]) == (1, False)
    assert says in why["sentence"]
    (only,) = measured.draft.document["items"]
    assert (only["id"], only["notes"], only["reason"]) == ("straw-hold", [53], "after it")


@pytest.mark.parametrize(
    ("said", "times"),
    [
        ("8", ["08:00"]),
        ("8.30 18:00", ["08:30", "18:00"]),
        ("7 am, 6 pm", ["07:00", "18:00"]),
        ("", []),
    ],
)
def test_times_of_day_are_typed_as_people_type_them(as_clinician, measured, said, times):
    edit(as_clinician, measured, simple_document())
    assert send(as_clinician, measured, type_edit("", "times", said)).json()["not_made"] == []
    assert measured.draft.document["dose"].get("times", []) == times


@pytest.mark.parametrize("word", ["NaN", "-Infinity", '"a\\u0000b"'])
def test_values_that_the_database_cannot_store_are_refused(as_clinician, measured, word):
    edit(as_clinician, measured, simple_document())
    sent = [{"number": 1, "seen": 1, "edit": type_edit("straw-hold", "reason", "REASON")}]
    body = json.dumps({"page": PAGE, "edits": sent}).replace('"REASON"', word)
    response = as_clinician.post(url_of(measured), body, content_type="application/json")
    assert response.status_code == 422


TORN = (
    "", "[", "null", '{"edits": 3}', '{"page": "a-page-of-the-desk", "edits": [3]}',
    '{"page": "<script>", "edits": []}',
    '{"page": "a-page-of-the-desk", "edits": [{"number": -1, "seen": 0, "edit": {}}]}',
    '{"page": "a-page-of-the-desk", "edits": [{"number": 1, "seen": 0, "edit": []}]}',
)  # fmt: skip


@pytest.mark.parametrize("body", TORN)
def test_a_damaged_edit_is_reported(as_clinician, measured, body):
    response = as_clinician.post(url_of(measured), body, content_type="application/json")
    if body.endswith("[]}]}"):  # An edit without content.
        assert response.json()["not_made"]
    else:
        assert response.status_code == 422


@pytest.mark.parametrize(
    ("said", "dates"),
    [
        ("2026-12-25 2026-12-24", ["2026-12-24", "2026-12-25"]),
        ("24 December 2030, 25.12.2030; Dec 26 2030", ["2030-12-24", "2030-12-25", "2030-12-26"]),
        ("3/4/2031", ["2031-04-03"]),
        ("", []),
    ],
)  # fmt: skip
def test_days_are_left_out_as_people_type_them(as_clinician, measured, said, dates):
    edit(as_clinician, measured, simple_document())
    assert send(as_clinician, measured, type_edit("", "off", said)).json()["not_made"] == []
    measured.draft.refresh_from_db()
    assert measured.draft.document["dose"]["off"] == dates


def test_a_day_without_its_year_is_the_next_that_comes(as_clinician, measured):
    edit(as_clinician, measured, simple_document())
    today = timezone.localdate()
    for day in (today + timedelta(days=20), today - timedelta(days=20)):
        send(as_clinician, measured, type_edit("", "off", f"{day:%-d %B}"), first=day.day + 1)
        (found,) = draft_document(measured)["dose"]["off"]
        assert today <= date.fromisoformat(found) <= today + timedelta(days=366)
        assert found[5:] == f"{day:%m-%d}"
