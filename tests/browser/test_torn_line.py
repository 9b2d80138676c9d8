"""The connection breaks in the middle of a hold: nothing is lost, nothing is doubled."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, until_shown
from web.practice.models import Trial


@pytest.fixture
def sounding(page, line, person, task):
    """The practice screen, two seconds into a simulated hold."""
    sign_in(page.context, line.site, person.account)
    page.goto(f"{line.site}/practice/")
    page.get_by_label("Sound from").select_option("simulated")
    page.get_by_role("heading").click()
    page.keyboard.press("Space")
    until_shown(page, 2.0)
    return page


def saved_whole():
    trial = Trial.objects.get()
    # the simulated voice holds 5 s × 1.08, give or take 6 %
    assert 5.0 < trial.total_s < 5.8
    assert trial.breaks == []
    assert abs(trial.error_cents) < 20
    return trial


def test_cut_once_in_the_middle(sounding, line):
    line.cut()
    expect(sounding.locator("[data-sentence]")).to_contain_text("target 5.", timeout=20_000)
    saved_whole()


def test_away_until_long_after_the_hold(sounding, line):
    line.down()
    expect(sounding.get_by_text("Your sound is kept here")).to_be_visible()
    sounding.get_by_role("button", name="Done").wait_for()
    # the voice ends by itself; the page goes on trying, and holds on to the sound
    expect(sounding.locator("[data-main-words]")).to_have_text("One moment", timeout=15_000)
    assert not Trial.objects.exists()
    line.up()
    expect(sounding.locator("[data-sentence]")).to_contain_text("target 5.", timeout=20_000)
    saved_whole()


def test_cut_again_and_again(sounding, line):
    for second in (2.5, 3.0, 3.5, 4.0):
        line.cut()
        until_shown(sounding, second)
    expect(sounding.locator("[data-sentence]")).to_contain_text("target 5.", timeout=20_000)
    saved_whole()


def test_the_answer_lost_on_its_way_does_not_double_the_try(sounding, line, monkeypatch):
    from web.practice import consumers

    say = consumers.TakeConsumer._say
    lost = []

    async def lose_the_first_answer(self, **message):
        if message["type"] == "saved" and not lost:
            lost.append(message["key"])
            line.cut()
            return
        await say(self, **message)

    monkeypatch.setattr(consumers.TakeConsumer, "_say", lose_the_first_answer)
    expect(sounding.locator("[data-sentence]")).to_contain_text("target 5.", timeout=25_000)
    assert str(saved_whole().key) == lost[0]


def test_a_time_taken_by_hand_waits_for_the_line(page, line, person, task):
    sign_in(page.context, line.site, person.account)
    page.goto(f"{line.site}/practice/")
    page.get_by_label("Sound from").select_option("stopwatch")
    page.get_by_role("heading").click()
    page.keyboard.press("Space")
    until_shown(page, 1.0)
    line.down()
    page.keyboard.press("Space")
    expect(page.get_by_text("Your try is kept here")).to_be_visible()
    line.up()
    expect(page.locator("[data-sentence]")).to_contain_text("timed by hand", timeout=15_000)
    assert Trial.objects.count() == 1
