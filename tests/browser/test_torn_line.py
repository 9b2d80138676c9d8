"""The connection breaks in the middle of a hold: nothing is lost, nothing is stored twice."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import (
    at,
    open_player,
    result,
    the_trial,
    to_first_try,
    until_shown,
)
from web.record.models import Trial


@pytest.fixture
def sounding(page, line, person, task):
    """The practice screen, two seconds into a simulated hold."""
    open_player(page, line.site, person.account)
    to_first_try(page)
    until_shown(page, 2.0)
    return page


def saved_whole():
    trial = the_trial()
    # The simulated voice holds 5 s × 1.08, within 6 %.
    assert 5.0 < trial.total_s < 5.8
    assert trial.breaks == []
    assert abs(trial.error_cents) < 20
    return trial


def wait_until_measured(page):
    """Wait for the result; a slow machine first shows that the sound is saved."""
    expect(page.locator("[data-sentence]").last).to_contain_text("target 5 s.")


def test_cut_once_in_the_middle(sounding, line):
    line.cut()
    wait_until_measured(sounding)
    saved_whole()


def test_away_until_long_after_the_hold(sounding, line):
    line.down()
    # The voice ends by itself; the sound is kept, and the session continues.
    assert "saved here" in result(sounding)
    # Pause here, because on a slow machine the next trial would begin before this one is checked.
    sounding.keyboard.press("p")
    at(sounding, "pause")
    expect(sounding.get_by_text("1 saved here, waiting to be sent")).to_be_visible()
    assert not Trial.objects.exists()
    line.up()
    expect(sounding.get_by_text("all sent")).to_be_visible()
    saved_whole()


def test_cut_again_and_again(sounding, line):
    for second in (2.5, 3.0, 3.5, 4.0):
        line.cut()
        until_shown(sounding, second)
    wait_until_measured(sounding)
    saved_whole()


def test_the_answer_lost_on_its_way_does_not_double_the_trial(sounding, line, monkeypatch):
    from web.intake import consumers

    say = consumers.TakeConsumer._send
    lost = []

    async def lose_the_first_answer(self, **message):
        if message["type"] == "saved" and not lost:
            lost.append(message["key"])
            line.cut()
            return
        await say(self, **message)

    monkeypatch.setattr(consumers.TakeConsumer, "_send", lose_the_first_answer)
    wait_until_measured(sounding)
    expect(sounding.get_by_text("all sent")).to_be_visible()
    assert str(saved_whole().key) == lost[0]


def test_a_time_taken_by_hand_waits_for_the_line(page, line, person, task):
    open_player(page, line.site, person.account, source="stopwatch")
    to_first_try(page)
    page.get_by_role("button", name="Start").wait_for()
    page.locator("body[data-settled]").wait_for()
    page.keyboard.press("Space")
    until_shown(page, 1.0)
    line.down()
    page.keyboard.press("Space")
    assert "timed by hand" in result(page)
    expect(page.get_by_text("saved here, waiting to be sent")).to_be_visible()
    line.up()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert the_trial().source == Trial.Source.STOPWATCH
