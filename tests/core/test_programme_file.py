"""A programme file: version 2 of its format, and version 1."""

from datetime import date

import jsonschema
import pytest

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import programme_document, programme_from
from reedcore.programme.file_format import (
    document_from_file,
    file_schema,
    item_from_file,
    programme_file,
)
from reedcore.programme.taper import begin
from tests.documents import empty_document, new_item

TASKS = shipped_tasks()
MONDAY = date(2026, 11, 2)
DOSE = {
    "kind": "on_demand", "start": "2026-11-02", "a_day": 12, "weekdays": [0, 1], "weeks": 6,
    "off": ["2026-11-03"],
}  # fmt: skip


def whole_document():
    """Return a document with every kind of object: a taper, another programme, settings of an
    item."""
    made = empty_document(MONDAY)
    made["dose"] |= {"off": ["2026-11-08"]}
    item = new_item(
        TASKS["straw_hold"], id="straw", words=["Lips soft."], words_replace=True,
        meant="asked for by the ward", say_before="Ready", sip=True, short=True,
    )  # fmt: skip
    item["or"] = "hum_hold"
    made["items"] = [item, new_item(TASKS["reset"], id="own", strand="reset")]
    made["beside"] = {"reset": {"sort": "reset", "dose": DOSE}}
    made["overrules"] = {"no_rest_day": "she asked for it"}
    return programme_document(begin(programme_from(made), peak_s=20, today=MONDAY, catalogue=TASKS))


def names(value):
    """Yield every key of every object."""
    if isinstance(value, dict):
        return set(value) | {name for each in value.values() for name in names(each)}
    return {name for each in value for name in names(each)} if isinstance(value, list) else set()


def test_a_file_is_read_back_as_the_document_it_was_made_of():
    document = whole_document()
    sent = programme_file(document)
    assert document_from_file(sent) == document
    assert clean_document(document_from_file(sent), tasks=TASKS)[1] == []


def test_a_file_has_the_names_of_version_2_everywhere_and_fits_its_schema():
    sent = programme_file(whole_document())
    assert sent["version"] == 2
    old = {"or", "meant", "strand", "sip", "off", "sort", "beside", "overrules", "a_day", "words"}
    assert names(sent) & old == set()
    schema = file_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.Draft202012Validator(schema).validate(sent)
    assert sent["taper"]["before"]["items"][0]["alternative"] == "hum_hold"
    assert sent["concurrent"]["reset"]["dose"]["days_off"] == ["2026-11-03"]


def test_a_file_of_version_1_is_read_as_it_is():
    document = whole_document()
    assert document_from_file(document) is document


def test_an_item_of_either_version_is_read():
    stored = whole_document()["items"][0]
    assert item_from_file(programme_file(whole_document())["items"][0]) == stored
    assert item_from_file(stored) == stored


@pytest.mark.parametrize(
    "raw",
    [
        None,
        [],
        {"version": 2, "items": 3, "dose": [], "concurrent": [], "taper": 1},
        {"version": 2, "items": [1, {"or": 1}], "taper": {"before": {"items": "x"}}},
        {"version": 2, "concurrent": {"a": 1, "b": {"dose": 2}}},
    ],
)
def test_a_file_of_another_shape_is_a_problem_and_no_fault(raw):
    assert clean_document(document_from_file(raw), tasks=TASKS)[1]
