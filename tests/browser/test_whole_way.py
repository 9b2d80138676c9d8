"""From prescription to result: two people, two browsers, one path through the whole product."""

import csv
import re
from urllib.parse import urlparse

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import SOURCE, result, the_trial, to_first_try
from tests.factories import PASSWORD, PIN
from web.record.models import Trial


def press(page, key, *, on):
    """Press a key once the page and its scripts have loaded."""
    page.wait_for_url(f"**{on}", wait_until="load")
    page.keyboard.press(key)


@pytest.fixture
def watched_context(browser):
    """Return a factory of browser contexts that record their requests and errors."""
    noted = {"hosts": set(), "complaints": []}
    contexts = []

    def make():
        context = browser.new_context()
        context.on("request", lambda request: noted["hosts"].add(urlparse(request.url).hostname))
        context.on(
            "console",
            lambda message: (
                message.type in ("error", "warning") and noted["complaints"].append(message.text)
            ),
        )
        contexts.append(context)
        return context.new_page()

    yield make, noted
    for context in contexts:
        context.close()


def test_prescribe_practise_look_back(site, watched_context, clinician, person, tmp_path):
    make_page, noted = watched_context

    page = make_page()
    page.goto(site)
    page.get_by_label("User name or email").fill(clinician.username)
    page.get_by_label("Password", exact=True).fill(PASSWORD)
    page.keyboard.press("Enter")
    page.get_by_role("link", name=person.name).click()
    press(page, "p", on=f"/clients/{person.pk}/")
    page.get_by_role("link", name="one held sound").click()
    page.get_by_label("Note", exact=True).fill("f3")
    page.get_by_label("Target (seconds)").fill("2.5")
    page.get_by_label("Trials per session").fill("2")
    page.get_by_role("button", name="Prescribe").click()
    expect(page.get_by_text("Programme 1 is now in force.")).to_be_visible()

    client = make_page()
    client.add_init_script(SOURCE.format("simulated"))
    client.goto(f"{site}/practice/with/{person.practice_code}/")
    client.get_by_label("Your PIN").fill(PIN)
    client.keyboard.press("Enter")
    to_first_try(client)
    # The reed grows while the voice sounds, drawn from the server's measurement.
    live = client.locator("[data-live]").first
    expect(live).to_have_attribute("d", re.compile(r"^M[\d.]+ [\d.]+(L[\d.]+ [\d.]+){8}"))
    assert "on F3; target 2.5 s." in result(client)
    expect(client.get_by_text("1 try sent · all sent")).to_be_attached()

    trial = the_trial()
    assert trial.source == Trial.Source.SIMULATED
    assert trial.outcome == Trial.Outcome.MET

    page.reload()
    row = page.locator("[data-sessions] tbody tr")
    expect(row).to_have_count(1)
    expect(row).to_contain_text(f"{trial.total_s:.1f}")
    expect(row).to_contain_text("1 of 1")
    expect(page.locator("[data-reed]")).to_have_count(1)
    press(page, "x", on=f"/clients/{person.pk}/")
    # A file that names a client asks for the password again, and then is sent.
    press(page, "1", on=f"/clients/{person.pk}/export/")
    page.locator("input[type=password]").fill(PASSWORD)
    page.keyboard.press("Enter")
    with page.expect_download() as download:
        press(page, "1", on=f"/clients/{person.pk}/export/")
    download.value.save_as(tmp_path / "tries.csv")
    (line,) = csv.DictReader((tmp_path / "tries.csv").open())
    assert line["try_id"] == str(trial.key)
    assert float(line["total_s"]) == trial.total_s

    assert noted["hosts"] == {"127.0.0.1"}
    assert noted["complaints"] == []


def test_the_clinicians_screens_by_keyboard_alone(site, page, clinician, person, task):
    page.goto(site)
    expect(page.get_by_label("User name or email")).to_be_focused()
    page.keyboard.type(clinician.username)
    page.keyboard.press("Tab")
    page.keyboard.type(PASSWORD)
    page.keyboard.press("Enter")
    expect(page.locator("[data-line]")).to_have_count(1)
    press(page, "/", on="/board/")
    expect(page.locator("[data-find]")).to_be_focused()
    page.keyboard.type("Orrell")
    page.keyboard.press("Enter")
    press(page, "?", on=f"/clients/{person.pk}/")
    expect(page.get_by_role("heading", name="Keyboard shortcuts")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("p")
    press(page, "Escape", on=f"/clients/{person.pk}/compose/")
    expect(page.locator("[data-key=p]")).to_be_visible()
