"""A whole session by keyboard only, by touch only, and with a screen reader's information."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import (
    STATE,
    at,
    open_player,
    programme,
    settled,
    through,
    to_first_task,
)
from tests.factories import item
from tests.rehearsing import until
from web.record.models import SelfReport, Session, Trial

FAST = {"breath_in": 1, "breath_out": 1, "tempo": 120, "cycles": 1}


@pytest.fixture
def every_kind(person, clinician):
    """A short session of every kind of measure."""
    return programme(
        person, clinician,
        item("lips_stretch", params={"reps": 2}),
        item("belly_hand", params=FAST),
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 2}, short=True),
        item("steady_hiss", params={"seconds": 10, "reps": 1}, row=[2.0]),
        item("block_stretch", notes=[48, 55], params={"seconds": 2, "reps": 1}),
        item("five_note", notes=[48], params={"tempo": 160, "reps": 1}),
        item("s_to_z", params={"s_s": 1, "z_s": 1, "reps": 1}),
        item("strong_ah", params={"seconds": 2, "reps": 1}, sip=True),
        item("functional_phrases", params={"lines": 3}, sip=True),
        item("balloon"),
        item("quiet_minute"),
        item("habits"),
    )  # fmt: skip


def test_every_kind_of_measure_by_keyboard_alone(page, site, person, every_kind):
    open_player(page, site, person.account)
    to_first_task(page)

    def press(key):
        if page.evaluate("document.activeElement.id") == "count":
            page.keyboard.press("Tab")  # Leave the field for the button next to it.
        page.keyboard.press(key)

    said = through(page, press)
    expect(page.get_by_text("all sent")).to_be_visible()
    session = Session.objects.get()
    assert session.ending == Session.Ending.DONE
    assert session.items_done == session.items_planned == 12
    done = list(Trial.objects.order_by("performed_at").values_list("task__task_code", "source"))
    told, heard = "told", "simulated"
    assert done == [
        ("lips_stretch", told), ("belly_hand", told), ("straw_hold", heard), ("straw_hold", heard),
        ("steady_hiss", heard), ("block_stretch", heard), ("five_note", heard), ("s_to_z", heard),
        ("strong_ah", heard), *[("functional_phrases", heard)] * 3, ("balloon", told),
        ("quiet_minute", told), ("habits", told),
    ]  # fmt: skip
    by_code = {trial.task.task_code: trial for trial in Trial.objects.select_related("task")}
    assert by_code["balloon"].figures == {"count": 4}
    assert by_code["belly_hand"].figures == {"breaths": 1}
    assert by_code["steady_hiss"].total_s > 1.8
    assert by_code["steady_hiss"].outcome == Trial.Outcome.MET
    assert by_code["five_note"].figures["notes_on_pitch"] == 9
    assert f"{by_code['straw_hold'].total_s:.1f} seconds" in " ".join(said)
    reports = dict(SelfReport.objects.values_list("kind", "value"))
    assert reports["effort"] == 4
    assert reports["strain"] == {"said": False, "where": ""}
    assert reports["breath"] == "left"
    assert reports["bother"] == 3


def test_by_touch_alone(browser, site, person, short_one):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    page = open_player(context.new_page(), site, person.account)
    at(page, "today")
    page.get_by_role("button", name="As usual").tap()
    at(page, "safety")
    page.get_by_role("button", name="None of these").tap()
    at(page, "task")

    def tap(key):
        if key == "Space":
            # A press anywhere on the screen is the big key.
            page.locator("[data-title]").tap()
        else:
            page.locator(f"[data-press='{key}']").tap()

    said = through(page, tap)
    assert len(said) == 3
    assert Trial.objects.count() == 3
    context.close()


def test_at_400_percent_zoom(browser, site, person, short_one):
    """1280 × 1024 pixels at 400 %: every button can be scrolled to and clicked."""
    context = browser.new_context(viewport={"width": 320, "height": 256})
    page = open_player(context.new_page(), site, person.account)
    at(page, "today")
    page.get_by_role("button", name="As usual").click()
    at(page, "safety")
    page.get_by_role("button", name="None of these").click()
    at(page, "task")

    def click(key):
        wide = "document.documentElement.scrollWidth > innerWidth"
        assert not page.evaluate(wide), page.evaluate(STATE)
        press = " " if key == "Space" else key
        page.locator(f"[data-press='{press}']").locator("visible=true").first.click()

    assert len(through(page, click)) == 3
    assert until(lambda: Session.objects.filter(ending="done").exists(), 60)
    context.close()


def settled_first(page):
    def press(name, **more):
        settled(page)
        page.get_by_role("button", name=name, **more).click()

    return press


def test_a_screen_reader_announces_every_step(page, site, person, short_one):
    open_player(page, site, person.account)
    # From here on use only names, roles and the live region, at reading pace.
    press = settled_first(page)
    press("As usual")
    expect(
        page.get_by_role("heading", name="Before you start: is any of these new or clearly worse?")
    ).to_be_focused()
    press("None of these")
    expect(page.get_by_role("heading", name="Straw in air, one note")).to_be_focused()
    press("Begin")
    live = page.get_by_role("status").first
    expect(live).to_contain_text("Now. It stops when you stop.")
    expect(live).to_contain_text("seconds, steady, on F3; target 1.5 s.")
    picture = page.get_by_role("img", name="Tries today")
    expect(picture.first).to_be_attached()
    press("Continue")
    expect(page.get_by_role("group", name="Did the lips tickle?")).to_be_visible()
    press("Yes")
    expect(page.get_by_role("group", name="How hard was that for your body?")).to_be_visible()
    press("4", exact=True)
    expect(page.get_by_role("heading", name="Strong “ah”")).to_be_focused()
    page.get_by_role("button", name="Stop, something is wrong").click()
    expect(page.get_by_role("heading", name="You have stopped")).to_be_focused()
    press("new pain when I use my voice")
    expect(page.get_by_role("heading", name="Do not use your voice for practice.")).to_be_focused()
    press("Yes, tell the clinic")
    expect(page.get_by_role("heading", name="Do not use your voice for practice.")).to_be_focused()
    expect(live).to_contain_text("Call your clinician today")
