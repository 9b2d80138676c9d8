"""Results and decisions by keyboard only, and their accessibility."""

import re
from datetime import timedelta

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from tests.browser.test_screens import violations
from tests.factories import ClientFactory, baseline, trial
from tests.web.test_board import a_stop, straw
from tests.web.test_deciding import practise
from tests.web.test_looking_back import moment_at, traced_trial
from web.notes.models import ClinicalNote
from web.record.models import Decision


@pytest.fixture
def desk(page, site, clinician, clinic):
    """The board with a client with a stop, one to advance and one on course."""
    for name in ("Ada Stopped", "Bo Due", "Cy Steady"):
        programme = straw(ClientFactory(clinic=clinic, name=name), clinician)
        practise(
            programme,
            "yyny" if name == "Cy Steady" else "yyyy",
            effort=3 if name != "Cy Steady" else None,
        )
        if name == "Ada Stopped":
            a_stop(programme.client)
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/board/")
    return page


def in_focus(page):
    return page.locator("[data-line][aria-current=true] a.name")


def test_the_board_is_gone_through_by_keys(desk):
    expect(in_focus(desk)).to_have_text("Ada Stopped")
    desk.keyboard.press("ArrowDown")
    expect(in_focus(desk)).to_have_text("Bo Due")
    desk.keyboard.press("a")
    expect(desk.get_by_text("Bo Due: Advance one step. Programme 2 is in force.")).to_be_visible()
    # The decided client moves down; the client who took that place has the focus.
    expect(in_focus(desk)).to_have_text(re.compile("Bo Due|Cy Steady"))
    desk.keyboard.press("u")
    expect(desk.get_by_text("Bo Due: decision undone.")).to_be_visible()
    # The evidence is used up; go on as if there had been practice since.
    long_ago = timezone.now() - timedelta(days=20)
    Decision.objects.update(decided_at=long_ago, undone_at=long_ago)
    desk.reload()
    line = desk.locator("[data-line]", has_text="Bo Due")
    line.focus()
    expect(line.get_by_text("advance to")).to_be_visible()
    desk.keyboard.press("n")
    desk.keyboard.press("1")
    expect(desk.get_by_text("Bo Due: proposal rejected")).to_be_visible()
    assert [each.refusal_reason for each in Decision.objects.all()] == ["too_soon", ""]
    desk.keyboard.press("Enter")
    expect(desk).to_have_url(re.compile(r"/clients/\d+/$"))


@pytest.fixture
def results(page, site, clinician, person, task):
    """A client's results: three sessions with traces."""
    for day in (3, 4, 5):
        for minute in (0, 1, 2):
            traced_trial(task, moment_at(day, 18, minute), [float(day)] * (100 + 10 * day + minute))
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/clients/{person.pk}/?until=2026-11-20")
    return page


def trial_detail(page):
    return page.locator("section[aria-label='Trial']")


def test_arrows_step_through_sessions_and_trials_without_leaving_the_page(results):
    page = results
    page.evaluate("window.stayed = true")
    expect(trial_detail(page)).to_contain_text("Thursday 5 November")
    page.keyboard.press("ArrowLeft")
    expect(trial_detail(page)).to_contain_text("Wednesday 4 November")
    page.keyboard.press("ArrowLeft")
    expect(trial_detail(page)).to_contain_text("Tuesday 3 November, 18:01, trial 2 of 3")
    page.keyboard.press("ArrowDown")
    expect(trial_detail(page)).to_contain_text("trial 3 of 3")
    expect(page.locator("rect.chosen")).to_have_count(1)
    page.keyboard.press("d")
    expect(page.locator("path.course-line")).to_have_count(1)
    expect(page.locator("svg.history-chart:not(.trial-detail) path.stem")).to_have_count(0)
    page.keyboard.press("d")
    expect(page.locator("svg.history-chart:not(.trial-detail) path.stem")).to_have_count(3)
    page.keyboard.press("w")
    expect(page.locator("svg.history-chart:not(.trial-detail) path.stem")).to_have_count(1)
    assert page.evaluate("window.stayed")
    page.reload()  # The address keeps the position.
    expect(trial_detail(page)).to_contain_text("Tuesday 3 November, 18:02, trial 3 of 3")


def test_a_note_is_drafted_read_and_signed(results, person, clinician):
    page = results
    straw(person, clinician)
    page.keyboard.press("n")
    page.locator("h2", has_text="Notes and reports").wait_for()
    page.wait_for_load_state()
    page.keyboard.press("2")
    page.locator("#part-meaning").fill("It carries better.")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Saved.")).to_be_visible()
    page.get_by_label("I have read this note. A signed note cannot be changed.").check()
    page.get_by_role("button", name="Sign", exact=True).click()
    expect(page.get_by_text("Signed by Odalys Brandt")).to_be_visible()
    expect(page.get_by_text("It carries better.")).to_be_visible()
    assert ClinicalNote.objects.get().signed_by == clinician


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_review_screens_have_no_accessibility_violation(
    page, site, clinician, person, task, scheme
):
    page.emulate_media(color_scheme=scheme)
    traced_trial(task, timezone.now() - timedelta(days=40), [3.0] * 120)
    traced_trial(task, timezone.now(), [3.0] * 120)
    trial(task, capture={"device": "headset"}, level_db=2.0)
    for _ in range(2):
        baseline(person, by=clinician)
    a_stop(person)
    note = ClinicalNote.objects.create(
        client=person, kind="progress", first=timezone.localdate(), last=timezone.localdate(),
        words={"course": "One."}, made_by=clinician,
    )  # fmt: skip
    sign_in(page.context, site, clinician)
    here = f"/clients/{person.pk}"
    for path in (
        "/board/", f"{here}/", f"{here}/?line=1", f"{here}/?by=note", f"{here}/?by=week",
        f"{here}/compare/", f"{here}/compare/?kind=session", f"{here}/compare/?kind=sheet",
        f"{here}/voice-range-profile/", f"{here}/rules/", f"{here}/export/", f"{here}/notes/",
        f"{here}/notes/{note.pk}/", "/practice-without-names/",
    ):  # fmt: skip
        assert page.goto(f"{site}{path}").ok, path
        assert violations(page) == [], path


@pytest.mark.parametrize("path", ["/board/", "/clients/{pk}/", "/clients/{pk}/compare/"])
def test_on_a_narrow_window_nothing_is_cut_off(page, site, clinician, person, task, path):
    trial(task)
    page.set_viewport_size({"width": 640, "height": 900})
    sign_in(page.context, site, clinician)
    page.goto(site + path.format(pk=person.pk))
    wide = page.evaluate(
        "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    )
    assert wide <= 0


def test_the_board_is_printed_on_two_pages(desk, clinic, clinician):
    for number in range(21):
        ClientFactory(clinic=clinic, clinician=clinician, name=f"Client {number:02}")
    desk.reload()
    pages = re.findall(rb"/Type\s*/Page\b", desk.pdf(format="A4"))
    assert 1 <= len(pages) <= 2
