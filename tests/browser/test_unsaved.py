"""No input is lost: leaving a page, Escape, a lost connection, an error."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from web.accounts.models import UnsavedForm


@pytest.fixture
def record(page, site, clinician, person):
    """The record of a client, open for editing."""
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/clients/{person.pk}/record/change/")
    return page


def goals(page):
    return page.locator("[name=goals]")


def test_escape_leaves_the_form_and_keeps_its_text_with_a_notice(record, person):
    goals(record).fill("To read aloud again")
    record.locator("[name=reminders]").uncheck()
    record.keyboard.press("Escape")  # Leave the field,
    record.keyboard.press("Escape")  # and then the page.
    expect(
        record.get_by_text("What you typed is saved as a draft. It reappears when you return.")
    ).to_be_visible()
    person.refresh_from_db()
    assert person.goals == ""
    record.go_back()
    record.reload()
    expect(goals(record)).to_have_value("To read aloud again")
    expect(record.locator("[name=reminders]")).not_to_be_checked()
    expect(record.get_by_text("Your unsaved draft from")).to_be_visible()
    record.get_by_role("button", name="Save", exact=True).click()
    expect(record.get_by_text("The record is saved.")).to_be_visible()
    person.refresh_from_db()
    assert (person.goals, person.reminders) == ("To read aloud again", False)
    assert not UnsavedForm.objects.exists()


def test_a_draft_is_dropped_for_what_is_saved(record):
    goals(record).fill("No")
    record.keyboard.press("Tab")
    expect_kept(record)
    record.reload()
    record.get_by_role("button", name="Use the saved version").click()
    expect(goals(record)).to_have_value("")
    expect_kept(record, False)


def expect_kept(page, kept=True):
    """Check on the page, not in the database, so that requests being sent have arrived."""
    page.wait_for_function(
        """async (kept) => {
            const text = await (await fetch(location.href)).text();
            return text.includes("data-kept hidden") === kept;
        }""",
        arg=kept,
    )


def test_a_colleagues_newer_version_is_shown_beside_the_own_one(record, person):
    goals(record).fill("Mine")
    record.keyboard.press("Tab")
    expect_kept(record)
    person.goals = "Theirs"
    person.save()
    record.reload()
    expect(goals(record)).to_have_value("Mine")
    expect(record.get_by_text("Saved by someone else: Theirs")).to_be_visible()


def test_leaving_offline_with_unsaved_text_asks_first(record):
    record.context.set_offline(True)
    goals(record).fill("Not yet anywhere")
    record.get_by_role("link", name="Cancel").click()
    expect(record.locator("[data-not-kept]")).to_contain_text(
        "No connection, so your draft is not saved. Stay on this page, or leave again to discard it."
    )
    expect(goals(record)).to_have_value("Not yet anywhere")
    record.context.set_offline(False)


def test_after_an_error_the_text_stays_and_the_field_has_the_focus(record):
    goals(record).fill("To read aloud again")
    record.locator("[name=examined_on]").fill("2199-01-01")
    record.get_by_role("button", name="Save", exact=True).click()
    expect(record.get_by_text("The examination date is in the future.")).to_be_visible()
    expect(record.locator("[name=examined_on]")).to_be_focused()
    expect(goals(record)).to_have_value("To read aloud again")
