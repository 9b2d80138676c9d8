"""Failures between a device and the clinic: nothing is lost and nothing is stored twice."""

from datetime import timedelta

import pytest
from django.contrib.sessions.models import Session as DjangoSession
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import (
    FETCH_VOICES,
    at,
    open_more,
    open_player,
    programme,
    result,
    settled,
    the_trial,
    through,
    to_first_task,
    to_first_try,
    until_shown,
)
from tests.factories import PIN, item
from web.practice.simulated import simulated_clip
from web.record.models import SelfReport, Session, Trial
from web.record.prescribed_item import PrescribedRow
from web.sound.engine import ENGINE
from web.sound.takes import Take


@pytest.fixture
def two_holds(person, clinician):
    return programme(
        person, clinician,
        item("hum_hold", params={"seconds": 2, "reps": 2}),
        item("lips_stretch", params={"reps": 3}),
    )  # fmt: skip


def seconds_said(sentence):
    return float(sentence.split(" seconds")[0].split()[-1])


def test_the_network_away_for_the_whole_session(page, line, person, two_holds):
    open_player(page, line.site, person.account)
    page.evaluate(FETCH_VOICES, [[task.pk for task in two_holds.tasks.filter(measure="hold")]])
    line.down()
    to_first_task(page)
    said = []
    page.keyboard.press("Space")
    for _ in range(2):
        expect(page.get_by_role("status")).to_contain_text("The clinic’s server does not answer.")
        expect(page.locator("[data-meter]")).to_contain_text("Input level (not a result):")
        said.append(result(page))  # The device hears the end of the hold.
        page.keyboard.press("Space")
        page.locator("[data-result]").wait_for(state="detached")
    assert all("saved here" in words for words in said)
    through(page, page.keyboard.press)
    assert not Trial.objects.exists()
    expect(page.get_by_text("saved here, waiting to be sent")).to_be_visible()
    line.up()
    expect(page.get_by_text("3 tries sent · all sent")).to_be_visible()
    held = Trial.objects.filter(task__measure="hold")
    # All recordings were measured in full, and keep their place and order.
    truth = simulated_clip(PrescribedRow(held[0].task), manner="even", seed=1).truth.duration_s
    assert [trial.total_s for trial in held] == pytest.approx([truth, truth], abs=0.1)
    assert [trial.source for trial in held] == ["simulated", "simulated"]
    assert Trial.objects.get(source="told").figures == {"reps": 3}
    assert Session.objects.get().ending == Session.Ending.DONE
    moments = list(Trial.objects.order_by("performed_at").values_list("performed_at", flat=True))
    assert moments[-1] - moments[0] > timedelta(seconds=2)


def test_the_server_killed_and_started_again_in_the_middle_of_a_hold(page, server, person, task):
    open_player(page, server.line.site, person.account)
    to_first_try(page)
    until_shown(page, 2.0)
    server.kill()
    server.restart()
    # At once, or when it arrives: the device kept it because the server was away at its end.
    expect(page.locator("[data-sentence]").last).to_contain_text("target 5 s.")
    sentence = result(page)
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    trial = the_trial()
    assert 5.0 < trial.total_s < 5.8
    assert trial.breaks == []
    if "stopwatch" not in sentence:
        assert seconds_said(sentence) == pytest.approx(trial.total_s, abs=0.06)


def test_the_tab_closed_in_the_middle(page, site, person, two_holds):
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    first = seconds_said(result(page))
    page.keyboard.press("Space")
    page.locator("[data-result]").wait_for(state="detached")
    until_shown(page, 0.6)  # In the middle of the second hold.
    context = page.context
    page.close()
    again = open_player(context.new_page(), site, person.account)
    at(again, "resume")
    again.keyboard.press("1")
    at(again, "task")
    again.keyboard.press("Space")
    expect(again.locator("[data-progress]")).to_contain_text("try 2 of 2")
    second = seconds_said(result(again))
    through(again, again.keyboard.press)
    expect(again.get_by_text("all sent")).to_be_visible()
    held = Trial.objects.filter(task__measure="hold").order_by("performed_at")
    assert [round(trial.total_s, 1) for trial in held] == [first, second]
    session = Session.objects.get()
    assert session.ending == Session.Ending.DONE
    assert Trial.objects.count() == 3


def test_an_answer_that_never_comes_sends_the_same_thing_three_times(page, site, person, task):
    open_player(page, site, person.account, source="stopwatch")
    to_first_try(page)
    arrived = []

    def lose_two(route):
        answer = route.fetch()  # It reaches the clinic.
        arrived.append(answer.status)
        if len(arrived) < 3:
            route.abort()
        else:
            route.fulfill(response=answer)

    page.get_by_role("button", name="Start").wait_for()
    settled(page)
    expect(page.get_by_text("all sent")).to_be_visible()
    page.route("**/practice/entries/", lose_two)
    page.keyboard.press("Space")
    until_shown(page, 1.0)
    page.keyboard.press("Space")
    said = seconds_said(result(page))
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    assert arrived == [200, 200, 200]
    assert the_trial().total_s == pytest.approx(said, abs=0.06)


A_DAY_BEHIND = """
    const Real = Date, off = -86_400_000;
    window.Date = class extends Real {
        constructor(...given) { given.length ? super(...given) : super(Real.now() + off); }
        static now() { return Real.now() + off; }
    };
"""


def test_a_device_whose_clock_is_a_day_behind(page, site, person, task):
    page.add_init_script(A_DAY_BEHIND)
    open_player(page, site, person.account, source="stopwatch")
    to_first_try(page)
    page.get_by_role("button", name="Start").wait_for()
    settled(page)
    page.keyboard.press("Space")
    until_shown(page, 1.0)
    page.keyboard.press("Space")
    result(page)
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    trial = the_trial()
    assert abs((timezone.now() - trial.performed_at).total_seconds()) < 60
    assert trial.session.clock_off_s == pytest.approx(86_400, abs=60)


def test_two_devices_at_once(browser, site, person, two_holds):
    pages = [browser.new_context().new_page() for _ in range(2)]
    for page in pages:
        open_player(page, site, person.account)
        at(page, "today")
    first, second = pages
    said = []
    for page in pages:
        to_first_task(page)
        page.keyboard.press("Space")
        if page is second:
            # The first page learns of it with the answer to its try, and stops.
            at(first, "elsewhere")
        said.append(seconds_said(result(page)))
        # The clock and the sentence show the same seconds.
        assert page.locator("[data-seconds]").inner_text() == f"{said[-1]:.1f}"
        page.keyboard.press("Space")
        page.locator("[data-result]").wait_for(state="detached")
    said.append(seconds_said(result(second)))
    through(second, second.keyboard.press)
    expect(second.get_by_text("3 tries sent · all sent")).to_be_visible()
    expect(first.get_by_text("all sent")).to_be_visible()
    assert Session.objects.filter(ending=Session.Ending.DONE).count() == 1
    # The first page's tries stay, and no sound is stored twice.
    held = Trial.objects.filter(task__measure="hold", session__ending="done")
    assert sorted(round(trial.total_s, 1) for trial in held) == sorted(said[1:])
    assert SelfReport.objects.filter(kind="effort").count() == 1


def test_a_remembered_device_opens_its_session_without_a_network(page, line, person, task):
    page.goto(f"{line.site}/practice/with/{person.practice_code}/")
    page.get_by_label("Your PIN").fill(PIN)
    page.get_by_label("Remember me on this device").check()
    page.keyboard.press("Enter")
    page.locator("[data-ready]").wait_for(state="attached")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.reload()  # Now through the worker, which caches what it fetches.
    page.locator("[data-ready]").wait_for(state="attached")
    line.down()
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    at(page, "today")
    line.up()
    # Signing out removes the person's data from the device.
    open_more(page)
    page.get_by_role("button", name="Sign out").click()
    page.wait_for_url("**/practice/code/")
    assert page.evaluate("caches.keys()") == []


def test_an_older_versions_cache_is_deleted_after_this_versions_page_is_cached(
    page, line, person, task
):
    page.goto(f"{line.site}/practice/with/{person.practice_code}/")
    page.evaluate(
        """async () => {
            const old = await caches.open("still-reed-practice 0123");
            await old.put("/static/practice/js/old.js", new Response("old"));
            await (await caches.open("another page's")).put("/x", new Response("x"));
        }"""
    )
    page.get_by_label("Your PIN").fill(PIN)
    page.get_by_label("Remember me on this device").check()
    page.keyboard.press("Enter")
    page.locator("[data-ready]").wait_for(state="attached")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    # It has no page of its own yet.
    assert "still-reed-practice 0123" in page.evaluate("caches.keys()")
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    page.wait_for_function("async () => !(await caches.has('still-reed-practice 0123'))")
    assert page.evaluate('caches.has("another page\'s")')
    line.down()
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")


def test_a_remembered_device_that_is_signed_out_shows_nothing_without_a_network(
    page, line, person, task
):
    page.goto(f"{line.site}/practice/with/{person.practice_code}/")
    page.get_by_label("Your PIN").fill(PIN)
    page.get_by_label("Remember me on this device").check()
    page.keyboard.press("Enter")
    page.locator("[data-ready]").wait_for(state="attached")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    DjangoSession.objects.all().delete()
    page.reload()
    page.wait_for_url("**/practice/code/")
    line.down()
    page.goto(f"{line.site}/practice/")
    expect(page.get_by_role("heading", name="Enter your PIN")).to_be_visible()


def test_beyond_its_capacity_the_server_measures_after_the_hold(page, site, person, task, settings):
    settings.LIVE_TAKES = 1
    busy_with = ENGINE.admit(Take(16_000), lambda added: None)
    try:
        open_player(page, site, person.account)
        to_first_try(page)
        expect(
            page.get_by_text(
                "The server is busy. The stopwatch runs, and your sound is measured later."
            )
        ).to_be_visible()
        result(page)  # The device hears the end of the hold.
        # Measured after the hold, and shown when the answer arrives.
        expect(page.locator("[data-sentence]").last).to_contain_text("target")
        expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    finally:
        ENGINE.leave(busy_with)
    assert the_trial().total_s > 4
