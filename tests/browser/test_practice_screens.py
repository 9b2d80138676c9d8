"""Every practice screen for clients with low vision, a tremor, or a small phone."""

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.conftest import (
    at,
    open_more,
    open_player,
    programme,
    result,
    to_first_task,
)
from tests.factories import item, trial
from web.screening.actions import record_screen

ENHANCED = {"runOnly": {"type": "rule", "values": ["color-contrast-enhanced"]}}


def violations(page, options=None):
    found = Axe().run(page, options=options).response["violations"]
    return [(each["id"], [node["html"][:90] for node in each["nodes"]]) for each in found]


def fits(page):
    """Return elements that are too wide, too small to read, or too small to touch."""
    return page.evaluate(
        """() => {
            const seen = (each) => each.offsetParent && !each.closest(".sr-only");
            const words = [...document.querySelectorAll("p, label, button, h1, select, summary, a, span")];
            const touched = [...document.querySelectorAll("button, select, summary, a, input:not([type=hidden])")];
            const wide = document.documentElement.scrollWidth - document.documentElement.clientWidth;
            return {
                wide,
                small: words.filter((each) => seen(each) && !each.matches(".key, .key *") && parseFloat(getComputedStyle(each).fontSize) < 20).map((each) => each.outerHTML.slice(0, 90)),
                low: touched.filter((each) => seen(each) && (each.closest("label") ?? each).getBoundingClientRect().height < 47.5).map((each) => each.outerHTML.slice(0, 90)),
            };
        }"""
    )


GOOD = {"wide": 0, "small": [], "low": []}


def screens(page):
    """Open one practice screen after another, and yield its name."""
    at(page, "today")
    yield "today"
    page.keyboard.press("1")
    at(page, "safety")
    yield "safety"
    page.keyboard.press("Space")
    at(page, "task")
    page.locator("summary", has_text="If something is off").click()
    yield "task"
    page.locator("[data-go]").click()
    at(page, "try")
    yield "try"
    result(page)
    yield "result"
    page.keyboard.press("Space")
    at(page, "felt")
    page.keyboard.press("n")
    at(page, "try_next")
    yield "try_next"
    page.keyboard.press("Space")
    at(page, "effort")
    yield "effort"
    page.keyboard.press("p")
    at(page, "pause")
    yield "pause"
    page.keyboard.press("s")
    at(page, "stop")
    yield "stop"
    page.get_by_role("button", name="light-headed").click()
    at(page, "confirm")
    yield "confirm"
    page.keyboard.press("y")
    at(page, "advice")
    yield "advice"


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_nobody_is_shut_out_and_contrast_is_seven_to_one(page, site, person, short_one, scheme):
    page.emulate_media(color_scheme=scheme)
    trial(short_one.tasks.first())
    open_player(page, site, person.account)
    for name in screens(page):
        assert violations(page) == [], name
        assert violations(page, ENHANCED) == [], name


#: A phone, the narrowest phone, a tablet, and a desktop at 200 % zoom.
SIZES = {"narrow": (320, 640), "phone": (390, 844), "zoomed": (640, 400), "wide": (1280, 800)}


@pytest.mark.parametrize("size", SIZES.values(), ids=SIZES)
def test_every_screen_fits_reads_and_can_be_touched(page, site, person, short_one, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    open_player(page, site, person.account)
    for name in screens(page):
        assert fits(page) == GOOD, name


def test_larger_type_still_fits_a_telephone(page, site, person, short_one):
    page.set_viewport_size({"width": 390, "height": 844})
    open_player(page, site, person.account)
    open_more(page)
    page.get_by_role("button", name="Larger text").click()
    page.get_by_role("button", name="Back to practice").click()
    to_first_task(page)
    assert fits(page)["wide"] == 0
    size = page.evaluate("parseFloat(getComputedStyle(document.querySelector('.lead')).fontSize)")
    assert size > 25


def test_cautions_on_record_are_shown_before_the_first_question(
    page, site, person, clinician, short_one
):
    record_screen(
        person, by=clinician, flags=[], cautions=["inhaler", "lung_disease", "falls"], note=""
    )
    page.set_viewport_size({"width": 320, "height": 568})
    open_player(page, site, person.account)
    at(page, "today")
    page.keyboard.press("1")
    at(page, "before")
    expect(page.locator("#screen")).to_contain_text("After your inhaler, rinse your mouth")
    assert fits(page) == GOOD
    assert violations(page, ENHANCED) == []
    page.keyboard.press("Space")
    at(page, "safety")


#: Elements that a client watches during a try and that the footer or the header covers.
HIDDEN = """() => {
    const foot = document.querySelector(".reach").getBoundingClientRect().top;
    const looked = ["[data-seconds]", "#stage svg", "[data-result]", "[data-title]", "[data-left]", ".breathing"];
    const seen = [...document.querySelectorAll(looked.join(","))].filter((each) => each.getBoundingClientRect().height);
    return seen
        .filter((each) => each.getBoundingClientRect().bottom > foot + 1 || each.getBoundingClientRect().top < -1)
        .map((each) => each.outerHTML.slice(0, 90));
}"""


@pytest.mark.parametrize("size", [(320, 568), (390, 844)], ids=str)
def test_clock_picture_and_result_stand_above_the_foot(page, site, person, short_one, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    page.wait_for_selector("body[data-state=listening]")
    assert page.locator("svg:visible").count() >= 1
    assert page.evaluate(HIDDEN) == []
    assert page.get_by_role("button", name="Stop").is_visible()
    assert not page.get_by_role("button", name="Skip").is_visible()
    result(page)
    assert page.evaluate(HIDDEN) == []


@pytest.mark.parametrize("size", [(320, 568), (390, 844)], ids=str)
def test_the_clock_of_an_unmeasured_task_stands_above_the_foot(page, site, person, clinician, size):
    stretch = item("thumbs_down_neck", params={"side": "left, then right"})
    programme(person, clinician, stretch, item("slow_counts", params={"cycles": 1}))
    page.set_viewport_size({"width": size[0], "height": size[1]})
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "timed")
    assert page.locator("[data-left]").is_visible()
    assert page.evaluate(HIDDEN) == []
    page.keyboard.press("Space")
    at(page, "felt")
    page.keyboard.press("y")
    at(page, "task")
    page.keyboard.press("Space")
    at(page, "counted")
    assert page.locator(".breathing").is_visible()
    assert page.evaluate(HIDDEN) == []
