"""Hands-free sessions: automatic start and end, one switch, and the device's own measurement."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import PATIENCE, at, open_player, programme, settled
from tests.factories import item
from tests.rehearsing import until
from web.record.conversation import write_message
from web.record.models import SelfReport, Session, Trial

ON = "localStorage.setItem('still-reed:{}', '1')"
#: Screens that need an answer even hands free, with the key for it.
ASKED = {
    "today": "1", "safety": "Space", "effort": "4", "strain": "n", "after": "Space", "bother": "3",
}  # fmt: skip


@pytest.fixture
def three(person, clinician):
    return programme(
        person, clinician,
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}),
        item("hum_hold", notes=[53], params={"seconds": 1.5, "reps": 1}),
        item("straw_hold", notes=[55], params={"seconds": 1.5, "reps": 1}, id="again"),
    )  # fmt: skip


def with_settings(page, site, person, *names, **more):
    for name in names:
        page.add_init_script(ON.format(name))
    return open_player(page, site, person.account, **more)


def answer_screens(page, screens, *, press=None):
    """Answer the screens that ask until the end; return their names."""
    asked = []
    press = press or (lambda screen: page.keyboard.press(screens[screen]))
    while True:
        anything = ", ".join(f"[data-screen={each}]" for each in [*screens, "done", "fault"])
        page.locator(anything).wait_for(timeout=4 * PATIENCE)
        screen = page.locator("[data-screen]").get_attribute("data-screen")
        if screen in ("done", "fault"):
            assert screen == "done"
            return asked
        if screen not in screens:
            continue
        asked.append(screen)
        settled(page)
        shown = page.locator("[data-screen]").element_handle()
        press(screen)
        page.wait_for_function("shown => !shown.isConnected", arg=shown, timeout=PATIENCE)


@pytest.mark.long
def test_three_tasks_take_four_presses_and_once_a_week_a_fifth(page, site, person, three):
    with_settings(page, site, person, "hands-free")
    assert answer_screens(page, ASKED) == ["today", "safety", "effort", "after", "bother"]
    assert until(lambda: Trial.objects.count() == 3, 60)
    assert until(lambda: Session.objects.filter(ending="done").exists(), 60)
    # One answer, stored with each of its tasks.
    efforts = SelfReport.objects.filter(kind="effort").values_list("task__item_id", "value")
    assert len(efforts) == len(dict(efforts)) == 3
    assert {value for _, value in efforts} == {4}


def test_loud_and_soft_tasks_are_rated_apart(page, site, person, clinician):
    programme(
        person, clinician,
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}),
        item("strong_ah", params={"seconds": 2, "reps": 1}),
    )  # fmt: skip
    with_settings(page, site, person, "hands-free")
    assert answer_screens(page, {**ASKED, "reference": "Space"}).count("effort") == 2
    assert until(lambda: SelfReport.objects.filter(kind="effort").count() == 2, 60)


def test_one_switch_goes_through_a_whole_session(page, site, person, clinician):
    programme(person, clinician, item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}))
    with_settings(page, site, person, "one-switch", "hands-free")
    wanted = {
        "today": "[data-value=clear]", "safety": "[data-value='']", "effort": "[data-value='4']",
        "after": "[data-go]", "bother": "[data-value='3']",
    }  # fmt: skip

    def press(screen):
        # Press the switch when the wanted answer is highlighted.
        page.locator(f"{wanted[screen]}.marked").wait_for(timeout=PATIENCE)
        page.keyboard.press("Space")

    voices = page.evaluate(
        "Object.keys(JSON.parse(document.getElementById('plan').textContent).voices)"
    )
    wanted["today"] = f"[data-value={voices[0]}]"
    answer_screens(page, wanted, press=press)
    assert until(lambda: SelfReport.objects.filter(kind="effort", value=4).exists(), 60)


def test_while_it_listens_only_done_and_stop_take_keys(page, site, person, clinician):
    programme(person, clinician, item("straw_hold", notes=[53], params={"seconds": 4, "reps": 1}))
    open_player(page, site, person.account)
    for screen, key in (("today", "1"), ("safety", "Space"), ("task", "Space")):
        at(page, screen)
        page.keyboard.press(key)
    page.locator("body[data-state=listening]").wait_for(timeout=PATIENCE)
    for key in ("k", "p", "r", "o"):
        page.keyboard.press(key)
    page.locator("#stage").click()
    expect(page.locator("[data-status]")).to_be_attached()
    # Nothing is spoken into the take.
    assert page.locator("[data-says]").get_attribute("aria-live") == "off"
    expect(page.locator("[data-sentence]").last).to_contain_text("s, ", timeout=PATIENCE)
    assert until(lambda: Trial.objects.count() == 1, 60)
    assert Trial.objects.get().total_s > 2


def test_the_device_ends_a_hold_where_the_clinic_is_away(page, line, person, clinician):
    programme(person, clinician, item("straw_hold", notes=[53], params={"seconds": 2, "reps": 1}))
    open_player(page, line.site, person.account)
    for screen, key in (("today", "1"), ("safety", "Space"), ("task", "Space")):
        at(page, screen)
        page.keyboard.press(key)
    page.locator("body[data-state=listening]").wait_for(timeout=PATIENCE)
    line.down()
    # The sound ended it, not a press.
    expect(page.locator("[data-sentence]").last).to_contain_text("seconds of sound, saved here")
    line.up()
    assert until(lambda: Trial.objects.count() == 1, 60)
    assert Trial.objects.get().total_s > 1


def test_the_end_shows_today_beside_before_and_takes_an_answer(page, site, person, clinician):
    programme(person, clinician, item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}))
    write_message(person, "Softer starts this week.", by=clinician)
    with_settings(page, site, person, "hands-free")
    answer_screens(page, ASKED)
    expect(page.locator("[data-so-far]")).to_contain_text("Your usual hold today: ")
    expect(page.locator("[data-message]")).to_contain_text("Softer starts this week.")
    settled(page)
    page.get_by_label("Your answer").fill("It goes well.")
    page.get_by_role("button", name="Send answer").click()
    expect(page.get_by_text("Your answer is saved.")).to_be_visible()
    assert until(lambda: SelfReport.objects.filter(kind="answer").exists(), 60)
    page.get_by_role("link", name="My practice over the weeks").click()
    expect(page.get_by_text("You practised on 1 of 14 days.")).to_be_visible()


def test_settings_of_the_device_stay(page, site, person, task):
    open_player(page, site, person.account)
    at(page, "today")
    page.get_by_role("button", name="More").click()
    for name in ("Hands free", "Left hand", "Larger text"):
        page.get_by_role("button", name=name).click()
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    assert page.locator("[data-player][data-left]").count() == 1
    assert page.locator("html.large").count() == 1
    assert page.locator("[data-hands-free]").get_attribute("aria-pressed") == "true"


def test_a_trial_that_does_not_count_is_not_in_the_figure_of_today(page, site, person, clinician):
    programme(person, clinician, item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}))
    open_player(page, site, person.account)
    for screen, key in (("today", "1"), ("safety", "Space"), ("task", "Space")):
        at(page, screen)
        page.keyboard.press(key)
    page.locator("[data-sentence]").wait_for(timeout=PATIENCE)
    settled(page)
    page.keyboard.press("v")
    at(page, "set_aside")
    page.keyboard.press("2")  # Continue without it.
    answer_screens(page, {**ASKED, "felt": "y"})
    expect(page.get_by_text("You practised on 1 of 14 days.")).to_be_visible()
    assert page.locator("[data-so-far]").count() == 0
