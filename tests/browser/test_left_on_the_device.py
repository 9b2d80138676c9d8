"""Entries that wait on an offline device cannot be read there, and arrive later."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import (
    at,
    open_more,
    open_player,
    report_problem,
    result,
    the_trial,
    to_first_try,
    until_shown,
)
from web.record.models import SelfReport, Trial
from web.screening.models import Stop

COMMENT = "my left side aches since Sunday"
#: Everything that the page has stored in the browser, as text.
ALL_OF_IT = """async () => {
    const text = async (value) => {
        if (value instanceof Blob) value = await value.arrayBuffer();
        if (value instanceof ArrayBuffer) return new TextDecoder("latin1").decode(value);
        if (value === null || typeof value !== "object") return JSON.stringify(value) ?? "";
        const parts = [];
        for (const [name, each] of Object.entries(value)) parts.push(name + ":" + (await text(each)));
        return parts.join(", ");
    };
    const opened = indexedDB.open("still-reed-practice");
    const db = await new Promise((resolve) => (opened.onsuccess = () => resolve(opened.result)));
    const asked = db.transaction("entries").objectStore("entries").getAll();
    const rows = await new Promise((resolve) => (asked.onsuccess = () => resolve(asked.result)));
    db.close();
    return { rows: rows.length, text: (await text(rows)) + (await text({ ...localStorage })) };
}"""


def device_storage(page, *, rows):
    """Return the device's storage, once it has this many entries and the stop report is
    encrypted."""
    page.wait_for_function(
        "() => (JSON.parse(localStorage.getItem('still-reed:stops')) ?? []).every((each) => each.sealed)"
    )
    found = page.evaluate(ALL_OF_IT)
    assert found["rows"] >= rows
    return found["text"]


def test_trials_words_and_stops_lie_sealed_and_arrive_from_the_next_page(page, line, person, task):
    context = page.context
    open_player(page, line.site, person.account)
    to_first_try(page)
    until_shown(page, 2.0)
    line.down()
    assert "saved here" in result(page)
    open_more(page)
    page.get_by_label("Comment on this task").fill(COMMENT)
    page.get_by_role("button", name="Save comment").click()
    page.keyboard.press("s")
    at(page, "stop")
    report_problem(page, "new pain when I use my voice")

    left = device_storage(page, rows=2)
    assert not re.search(f"RIFF|WAVE|new_pain|{COMMENT}|comment:|task:|session:", left)
    for kind in (Trial, Stop, SelfReport):
        assert not kind.objects.exists()
    page.close()

    line.up()
    page = open_player(context.new_page(), line.site, person.account)
    expect(page.get_by_text("all sent")).to_be_visible()
    trial = the_trial()
    assert 5.0 < trial.total_s < 5.8
    assert SelfReport.objects.get(kind="comment").value == COMMENT
    assert Stop.objects.get().flags == ["new_pain"]
    assert page.evaluate("localStorage.getItem('still-reed:stops')") == "[]"
